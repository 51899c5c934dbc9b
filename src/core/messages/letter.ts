import type { CauseCode, CauseDetail } from '@/core/causes/causes';
import type { Slower } from '@/core/reports/slower';
import type { Speech } from '@/core/languages/speech';
import { formatDuration, formatExactDuration } from '@/core/time/duration';

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
  /** What wants a hand, with why: as a cause, or as the sentence that was kept of it. */
  hands: readonly ({ name: string } & ({ sentence: string } | { cause: CauseCode; detail: CauseDetail }))[];
  /** Jobs that take longer than before; left out of letters from before that was told. */
  slower?: readonly ({ name: string } & Slower)[];
  /** Maintenance that is ahead. */
  windows: readonly { title: string; from: number }[];
  /** Watches that would tell nobody. */
  unheard: number;
}

/** The sentence that stands above a letter. */
export function letterTitle({ watches, open, hands }: LetterFacts, { say, counted }: Speech): string {
  if (open.length > 0) {
    const all = say('letter.count', { n: watches, number: String(watches) });
    return say('letter.down', { n: open.length, count: counted(open.length), watches: all });
  }
  if (hands.length === 0) return say('letter.well');
  return say('letter.hands', { n: hands.length, number: String(hands.length) });
}

/** What a letter says, line by line. */
export function letterLines(facts: LetterFacts, zone: string, speech: Speech): string[] {
  const { say, clock, count, trouble } = speech;
  const { slower = [], from, until, watches, outages, outageCount, open, hands, windows, unheard } = facts;
  const at = (moment: number) => clock(moment, zone);
  const numbered = (n: number) => ({ n, number: String(n) });
  const left = outageCount - outages.length;
  const length = formatDuration(until - from);
  return [
    say('letter.watches', numbered(watches)),
    ...open.map(({ name, began }) => say('letter.open', { name, at: at(began) })),
    outageCount === 0
      ? say('letter.none', { length })
      : say('letter.happened', { ...numbered(outageCount), length }),
    ...outages.map(({ name, began, ended }) =>
      ended === null
        ? say('letter.lasting', { name, at: at(began) })
        : say('letter.outage', { name, at: at(began), length: formatExactDuration(ended - began) }),
    ),
    ...(left > 0 ? [say('letter.left', { count: count(left) })] : []),
    ...hands.map(({ name, ...hand }) => {
      const why = 'sentence' in hand ? hand.sentence : trouble(hand.cause, hand.detail);
      return say('letter.hand', { name, why });
    }),
    ...slower.map(({ name, ms, beforeMs }) =>
      say('letter.slower', { name, length: formatDuration(ms), before: formatDuration(beforeMs) }),
    ),
    ...windows.map(({ title, from: begins }) => say('letter.window', { title, at: at(begins) })),
    ...(unheard > 0 ? [say('letter.unheard', numbered(unheard))] : []),
    say('letter.foot', { zone }),
  ];
}
