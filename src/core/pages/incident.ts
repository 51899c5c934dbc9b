/** The stages of an incident as the public reads them. */
export const STAGES = ['looking', 'found', 'watching', 'over'] as const;
export type Stage = (typeof STAGES)[number];

export const STAGE_TITLES: Record<Stage, string> = {
  looking: 'Looking into it',
  found: 'Cause found',
  watching: 'Fix in and watching',
  over: 'Over',
};

/** An incident has trouble behind it; a notice is something else that visitors should know, with dates. */
export const INCIDENT_KINDS = ['incident', 'notice'] as const;
export type IncidentKind = (typeof INCIDENT_KINDS)[number];

/** What an incident does to a watch, the worst first. */
export const AFFECTED = ['out', 'partly', 'slow', 'none'] as const;
export type Affected = (typeof AFFECTED)[number];

export const AFFECTED_TITLES: Record<Affected, string> = {
  out: 'out',
  partly: 'partly',
  slow: 'slow',
  none: 'not',
};

/** When it ends, or ended, as far as that is known. */
interface Dated {
  began: number;
  ended: number | null;
}

/** Whether it stands at a moment: a notice may be written ahead, and end by itself. */
export function standsAt({ began, ended }: Dated, at: number): boolean {
  return began <= at && (ended === null || ended > at);
}

/** What an incident does to a watch. */
export interface AffectedDraft {
  watchId: number;
  how: Affected;
}

/** An incident that nobody has published. */
export interface IncidentDraft {
  outageId: number | null;
  title: string;
  body: string;
  stage: Stage;
  beganAt: number;
  endedAt: number | null;
  affected: AffectedDraft[];
  pageIds: number[];
}
