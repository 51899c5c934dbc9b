import { capitalise, countWatches } from '@/core/text/words';
import { Link } from '@/ui/basic/link';
import { Table } from '@/ui/basic/table';

/** What a change would do to one watch, as the API tells it. */
export interface Effect {
  id: number;
  name: string;
  changes: { label: string; before: string; after: string }[];
}

interface Alike {
  label: string;
  before: string;
  after: string;
  watches: { id: number; name: string }[];
}

/** Changes that are the same on several watches, told once. */
function alike(effects: readonly Effect[]): Alike[] {
  const groups = new Map<string, Alike>();
  for (const { id, name, changes } of effects) {
    for (const change of changes) {
      const key = JSON.stringify([change.label, change.before, change.after]);
      const group = groups.get(key) ?? { ...change, watches: [] };
      group.watches.push({ id, name });
      groups.set(key, group);
    }
  }
  return [...groups.values()];
}

/** What a change to many would do, before it is done. */
export function Effects({ effects }: { effects: readonly Effect[] }) {
  if (effects.length === 0) return <p className="text-muted">Nothing changes on any watch.</p>;
  return (
    <Table
      className="text-[0.9062rem]"
      caption={`${capitalise(countWatches(effects.length))} would change`}
      heads={[['what'], ['now'], ['then'], ['on']]}
    >
      {alike(effects).map(({ label, before, after, watches }) => (
        <tr key={`${label}-${before}-${after}`} className="border-rule border-t align-top">
          <td className="py-1.5 pr-3">{label}</td>
          <td className="text-muted py-1.5 pr-3">{before}</td>
          <td className="py-1.5 pr-3 font-semibold">{after}</td>
          <td className="py-1.5">
            {watches.length === 1 ? (
              <Link href={`/watches/${watches[0]!.id}`} className="underline">
                {watches[0]!.name}
              </Link>
            ) : (
              <details>
                <summary className="cursor-pointer">{countWatches(watches.length)}</summary>
                <ul>
                  {watches.map((watch) => (
                    <li key={watch.id}>{watch.name}</li>
                  ))}
                </ul>
              </details>
            )}
          </td>
        </tr>
      ))}
    </Table>
  );
}
