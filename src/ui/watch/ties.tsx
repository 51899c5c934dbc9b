import { Link } from '@/ui/basic/link';
import type { NamedState, WatchTies } from '@/views/watch/ties';
import { Lantern } from '@/ui/basic/lantern';

function Tied({ title, watches }: { title: string; watches: readonly NamedState[] }) {
  if (watches.length === 0) return null;
  return (
    <div>
      <h3 className="text-muted font-sans text-[0.8438rem]">{title}</h3>
      <ul>
        {watches.map((watch) => (
          <li key={watch.id} className="flex items-center gap-2 py-0.5">
            <Lantern state={watch.state} size={16} />
            <Link href={`/watches/${watch.id}`}>{watch.name}</Link>
          </li>
        ))}
      </ul>
    </div>
  );
}

/** What a watch rests on, and what rests on it. */
export function TiesCard({ ties }: { ties: WatchTies }) {
  if (ties.restsOn.length === 0 && ties.carries.length === 0) return null;
  return (
    <section className="sheet flex flex-col gap-2 p-4">
      <h2>How it hangs together</h2>
      <Tied title="rests on" watches={ties.restsOn} />
      <Tied title="carries" watches={ties.carries} />
    </section>
  );
}
