import type { Stretch } from './availability';
import { formatDuration } from '@/core/time/duration';
import { intersectSpans, totalOf } from './spans';
import { STRETCH_WORDS } from './line-text';
import type { State, StretchKind } from '@/core/lifecycle/state';

const STATE_WORDS: Record<State, string> = {
  waiting: 'is waiting for its first news',
  up: 'is up',
  slow: 'is slow',
  doubtful: 'is doubtful',
  overdue: 'is overdue',
  down: 'is down',
  paused: 'is paused',
  maintenance: 'is in maintenance',
};

const WORTH_SAYING_MS = 60_000;

/** How much of the time since a state began nobody saw, in words; empty where it is next to nothing. */
export function unseenText(stretches: readonly Stretch[], since: number, now: number): string {
  const unseen = stretches.filter((stretch) => stretch.kind === 'unobserved');
  const ms = totalOf(intersectSpans(unseen, [{ from: since, to: now }]));
  return ms < WORTH_SAYING_MS ? '' : `Not observed for ${formatDuration(ms)} of that time.`;
}

/** "Booking site is up, and has been for " goes before a length of time; a waiting watch has none. */
export function watchSentence(
  name: string,
  state: State,
  warned = false,
  heardOf = false,
): { words: string; hasLength: boolean } {
  // Up, but over a limit of its own: slow would be the wrong word for a certificate or a room.
  if (state === 'slow' && warned) return { words: `${name} wants a hand, and has for `, hasLength: true };
  if (state === 'waiting' && heardOf) {
    return { words: `Nothing is known of ${name}, and has not been for `, hasLength: true };
  }
  const words = `${name} ${STATE_WORDS[state]}`;
  return state === 'waiting'
    ? { words: `${words}.`, hasLength: false }
    : { words: `${words}, and has been for `, hasLength: true };
}

/** A state in a word or two. "Slow" is for time alone: whatever else is over a limit of its own wants a hand. */
export function stateWords(state: StretchKind, warned = false): string {
  return state === 'slow' && warned ? 'wants a hand' : STRETCH_WORDS[state];
}
