import { standsAt, type Stage } from '@/core/pages/incident';
import { plainMarkdown } from '@/core/text/markdown';
import type { Incident } from '@/store/pages/incidents';

type Dated = Pick<Incident, 'id' | 'kind' | 'title' | 'began' | 'ended'>;

/** What a list of incidents shows of one. */
export interface IncidentRow extends Dated {
  /** The stage of its last update; null where it has none. */
  stage: Stage | null;
  /** The beginning of what was said last, without its form. */
  said: string;
}

/** More than two lines of it are never seen. */
const MOST_SAID = 400;

interface Told extends Dated {
  updates: readonly { stage: Stage; body: string }[];
}

/** The newest update leads. */
export function incidentRow({ id, kind, title, began, ended, updates: [last] }: Told): IncidentRow {
  const said = plainMarkdown(last?.body ?? '').slice(0, MOST_SAID);
  return { id, kind, title, began, ended, stage: last?.stage ?? null, said };
}

/** Whether the public is told of it at a time. */
export function isStanding(row: IncidentRow, now: number): boolean {
  return row.kind === 'incident' ? row.ended === null : standsAt(row, now);
}
