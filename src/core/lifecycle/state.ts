/** What a watch is in. See `decide` for how it gets there. */
export const STATES = [
  'waiting',
  'up',
  'slow',
  'doubtful',
  'overdue',
  'down',
  'paused',
  'maintenance',
] as const;

export type State = (typeof STATES)[number];

/** A stretch of a watch's history: a state, or time nobody looked. */
export type StretchKind = State | 'unobserved';

export const STRETCH_KINDS: readonly StretchKind[] = [...STATES, 'unobserved'];

/** How much a state wants a hand, the worst last. */
export const SEVERITY: Record<StretchKind, number> = {
  up: 0,
  maintenance: 1,
  paused: 1,
  waiting: 2,
  unobserved: 2,
  slow: 3,
  doubtful: 4,
  overdue: 5,
  down: 6,
};

/** States that count as observed time (DESIGN: observed = span − waiting − paused − maintenance − unobserved). */
export function isObserved(kind: StretchKind): boolean {
  return kind === 'up' || kind === 'slow' || kind === 'doubtful' || kind === 'overdue' || kind === 'down';
}
