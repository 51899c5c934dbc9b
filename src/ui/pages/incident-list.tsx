'use client';

import { STAGE_TITLES, type Stage } from '@/core/pages/incident';
import { formatDuration } from '@/core/time/duration';
import { Link } from '@/ui/basic/link';
import { EndlessItems } from '@/ui/lists/endless-body';
import { useGathered } from '@/ui/lists/use-endless';
import { Time } from '@/ui/form/zone';
import { incidentRow, isStanding, type IncidentRow } from './incident-row';

type WireIncident = Pick<IncidentRow, 'id' | 'kind' | 'title'> & {
  beganAt: string;
  endedAt: string | null;
  updates: { stage: Stage; body: string }[];
};

const rowOf = ({ beganAt, endedAt, ...rest }: WireIncident): IncidentRow =>
  incidentRow({
    ...rest,
    began: Date.parse(beganAt),
    ended: endedAt === null ? null : Date.parse(endedAt),
  });
const placeOf = ({ began, id }: IncidentRow) => [began, id] as const;

function Item({ row, now }: { row: IncidentRow; now: number }) {
  const { id, kind, title, began, ended, stage, said } = row;
  const edge = kind === 'notice' ? 'border-l-button' : 'border-l-down';
  return (
    <li className={`sheet border-l-4 px-5 py-4 ${isStanding(row, now) ? edge : ''}`}>
      <h2>
        <Link href={`/incidents/${id}`}>{title}</Link>
      </h2>
      <p className="text-muted text-[0.875rem]">
        {kind === 'notice' ? 'Notice' : stage ? STAGE_TITLES[stage] : ''} · <Time at={began} />
        {ended !== null && kind === 'incident' && ` · ${formatDuration(ended - began)}`}
      </p>
      {said && <p className="mt-1 line-clamp-2">{said}</p>}
    </li>
  );
}

interface IncidentListProps {
  /** The first of them. */
  incidents: readonly IncidentRow[];
  /** Where those behind the first begin; null where there are none. */
  from: string | null;
  now: number;
}

/** What a page told, the newest first; older ones come as one scrolls. */
export function IncidentList({ incidents, from, now }: IncidentListProps) {
  const rows = useGathered(incidents, placeOf);
  return (
    <ol className="flex max-w-3xl flex-col gap-4">
      {rows.map((row) => (
        <Item key={row.id} row={row} now={now} />
      ))}
      <EndlessItems<WireIncident, IncidentRow>
        from={from}
        rowOf={rowOf}
        draw={(row) => <Item key={row.id} row={row} now={now} />}
      />
    </ol>
  );
}
