/** The stages of an incident as the public reads them. */
export const STAGES = ['looking', 'found', 'watching', 'over'] as const;
export type Stage = (typeof STAGES)[number];

export const STAGE_TITLES: Record<Stage, string> = {
  looking: 'Looking into it',
  found: 'Cause found',
  watching: 'Fix in and watching',
  over: 'Over',
};
