import type { Stretch } from './availability';
import { formatDuration } from './duration';
import { intersectSpans, totalOf } from './spans';
import type { State } from './state';

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
): { words: string; hasLength: boolean } {
  // Up, but over a limit of its own: slow would be the wrong word for a certificate or a room.
  if (state === 'slow' && warned) return { words: `${name} asks for a hand, and has for `, hasLength: true };
  const words = `${name} ${STATE_WORDS[state]}`;
  return state === 'waiting'
    ? { words: `${words}.`, hasLength: false }
    : { words: `${words}, and has been for `, hasLength: true };
}

const SMALL_NUMBERS = [
  'no',
  'one',
  'two',
  'three',
  'four',
  'five',
  'six',
  'seven',
  'eight',
  'nine',
  'ten',
  'eleven',
  'twelve',
];

/** Numbers up to twelve in words, the rest in figures. */
export function numberWord(n: number): string {
  return SMALL_NUMBERS[n] ?? String(n);
}

export function capitalise(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

/** The overview's leading sentence. */
export function overviewSentence(total: number, needing: number): string {
  if (total === 0) return 'Nothing is being watched yet.';
  if (needing === 0)
    return total === 1 ? 'Your one watch is calm.' : `All ${numberWord(total)} watches are calm.`;
  if (total === 1) return 'Your one watch needs you.';
  return `${capitalise(numberWord(needing))} of ${numberWord(total)} watches ${needing === 1 ? 'needs' : 'need'} you.`;
}

/** The public page's leading sentence, from the names of what is down and what is slow. */
export function publicSentence(down: readonly string[], slow: readonly string[], total: number): string {
  if (total === 0) return 'Nothing is shown here yet.';
  const rest = total > down.length ? ' Everything else is running.' : '';
  if (down.length === 1) return `${down[0]} is out.${slow.length === 0 ? rest : ''}`;
  if (down.length === 2) return `${down[0]} and ${down[1]} are out.${slow.length === 0 ? rest : ''}`;
  if (down.length > 2) return `${capitalise(numberWord(down.length))} services are out.`;
  if (slow.length === 1) return `${slow[0]} is slow. Everything else is running.`;
  if (slow.length > 1) return `${capitalise(numberWord(slow.length))} services are slow.`;
  return 'Everything is running.';
}

/** "one watch", "14 watches". */
export function countWatches(count: number): string {
  return count === 1 ? 'one watch' : `${count} watches`;
}
