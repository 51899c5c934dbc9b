import { formatClock } from '@/core/time/clock-text';
import { formatDuration, formatExactDuration } from '@/core/time/duration';
import { capitalise, countOf, countWatches, numberWord } from '@/core/text/words';

/** What a letter about how things are is written from. Times in ms since 1970. */
export interface LetterFacts {
  from: number;
  until: number;
  watches: number;
  /** Outages of the time, the latest first, as many as are named; and how many there were. */
  outages: readonly { name: string; began: number; ended: number | null }[];
  outageCount: number;
  /** What is down as it is written. */
  open: readonly { name: string; began: number }[];
  /** What wants a hand, with why. */
  hands: readonly { name: string; sentence: string }[];
  /** Maintenance that is ahead. */
  windows: readonly { title: string; from: number }[];
  /** Watches that would tell nobody. */
  unheard: number;
}

/** The sentence that stands above a letter. */
export function letterTitle({ watches, open, hands }: LetterFacts): string {
  if (open.length > 0) {
    return `${capitalise(numberWord(open.length))} of ${countWatches(watches)} ${open.length === 1 ? 'is' : 'are'} down`;
  }
  if (hands.length > 0)
    return `Nothing is down; ${countOf(hands.length, 'thing')} ${hands.length === 1 ? 'wants' : 'want'} a hand`;
  return 'All is well';
}

/** What a letter says, line by line. */
export function letterLines(facts: LetterFacts, zone: string): string[] {
  const { from, until, watches, outages, outageCount, open, hands, windows, unheard } = facts;
  const clock = (at: number) => formatClock(at, zone);
  const left = outageCount - outages.length;
  const happened =
    outageCount === 0
      ? `Nothing went down in the last ${formatDuration(until - from)}.`
      : `${capitalise(countOf(outageCount, 'outage'))} in the last ${formatDuration(until - from)}:`;
  return [
    `${capitalise(countWatches(watches))} ${watches === 1 ? 'is' : 'are'} looked after.`,
    ...open.map(({ name, began }) => `${name} is down since ${clock(began)}.`),
    happened,
    ...outages.map(({ name, began, ended }) =>
      ended === null
        ? `${name}, since ${clock(began)}, not over`
        : `${name}, ${clock(began)}, for ${formatExactDuration(ended - began)}`,
    ),
    ...(left > 0 ? [`and ${numberWord(left)} before those.`] : []),
    ...hands.map(({ name, sentence }) => `${name} wants a hand: ${sentence}`),
    ...windows.map(({ title, from: begins }) => `Maintenance is ahead: ${title}, ${clock(begins)}.`),
    ...(unheard > 0 ? [`${capitalise(countWatches(unheard))} would tell nobody.`] : []),
    `Times are those of ${zone}. That this letter comes says that Calm Lantern is alive.`,
  ];
}
