'use client';

import type { State } from '@/core/lifecycle/state';
import { Link } from '@/ui/basic/link';
import { MoreIsRead } from '@/ui/lists/endless-body';
import { Lantern } from '@/ui/basic/lantern';
import { Sortable } from '@/ui/basic/sortable';
import { useEndless } from '@/ui/lists/use-endless';

interface Named {
  id: number;
  name: string;
  state: State;
}

const asIs = (watch: Named) => watch;

interface SectionWatchesProps {
  section: { id: number; name: string; watches: number };
  onOrder: (ids: number[]) => Promise<boolean>;
}

/** What is in a section, put into order here; read once it is opened. */
export function SectionWatches({ section, onOrder }: SectionWatchesProps) {
  const path = `/sections/${section.id}/watches?limit=100`;
  const { rows, goesOn, end, problem, tryAgain } = useEndless<Named, Named>(path, asIs);
  if (section.watches === 0) {
    return <p className="text-muted py-1">Nothing in it yet. Watches are moved here from their own form.</p>;
  }
  return (
    <Sortable
      label={`Watches of ${section.name}`}
      items={rows}
      onOrder={onOrder}
      render={(watch, grip) => (
        <div className="flex items-center gap-2 py-0.5">
          {grip}
          <Lantern state={watch.state} />
          <Link href={`/watches/${watch.id}`} className="truncate hover:underline">
            {watch.name}
          </Link>
        </div>
      )}
    >
      {goesOn && (
        <li ref={end} aria-busy={problem === null} className="text-muted py-1">
          <MoreIsRead problem={problem} tryAgain={tryAgain} />
        </li>
      )}
    </Sortable>
  );
}
