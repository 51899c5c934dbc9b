import type { SharedPlace } from '@/core/settings/cascade';
import { Link } from '@/ui/basic/link';

interface PlaceListProps {
  place: SharedPlace;
  kinds: readonly { id: string; title: string }[];
  sections: readonly string[];
}

function isHere(place: SharedPlace, other: SharedPlace): boolean {
  return JSON.stringify(place) === JSON.stringify(other);
}

function Place({ here, href, text }: { here: boolean; href: string; text: string }) {
  return (
    <li>
      <Link
        href={href}
        aria-current={here ? 'page' : undefined}
        className="text-muted hover:text-ink aria-[current]:border-lamp aria-[current]:text-ink block border-l-2 border-transparent px-3 py-1 aria-[current]:font-semibold"
      >
        {text}
      </Link>
    </li>
  );
}

/** Where settings can be shared: everything, sections, kinds. */
export function PlaceList({ place, kinds, sections }: PlaceListProps) {
  return (
    <nav aria-label="Where it holds" className="flex flex-col gap-4 max-lg:max-h-56 max-lg:overflow-y-auto">
      <ul>
        <Place here={place.level === 'instance'} href="/shared" text="Everything" />
      </ul>
      <div>
        <h2 className="text-muted mb-1 px-3 font-sans text-[0.8125rem]">sections</h2>
        {sections.length === 0 && <p className="text-muted px-3 text-[0.875rem]">none yet</p>}
        <ul>
          {sections.map((section) => (
            <Place
              key={section}
              here={isHere(place, { level: 'section', section })}
              href={`/shared?section=${encodeURIComponent(section)}`}
              text={section}
            />
          ))}
        </ul>
      </div>
      <div>
        <h2 className="text-muted mb-1 px-3 font-sans text-[0.8125rem]">kinds</h2>
        <ul>
          {kinds.map((kind) => (
            <Place
              key={kind.id}
              here={isHere(place, { level: 'kind', kind: kind.id })}
              href={`/shared?kind=${kind.id}`}
              text={kind.title}
            />
          ))}
        </ul>
      </div>
    </nav>
  );
}
