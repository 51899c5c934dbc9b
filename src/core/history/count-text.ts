import type { State } from '@/core/lifecycle/state';
import { capitalise, listed, numberWord } from '@/core/text/words';

/** How watches stand, for sentences that count them: each is in one of these, and in one only. */
export type Counts = Partial<Record<State, number>>;

const total = (counts: Counts): number => Object.values(counts).reduce((sum, n) => sum + n, 0);

/** What stands behind a number of watches in a state, in the order they are told. */
const TOLD: readonly [State, string][] = [
  ['up', 'up'],
  ['slow', 'slow'],
  ['overdue', 'a little late'],
  ['doubtful', 'in doubt'],
  ['waiting', 'waiting for news'],
  ['maintenance', 'in maintenance'],
  ['paused', 'paused'],
  ['down', 'down'],
];

/** "twelve are up, one is paused"; every watch that is counted is in it. */
function tell(counts: Counts): string {
  const parts = TOLD.flatMap(([state, words]) => {
    const n = counts[state] ?? 0;
    return n === 0 ? [] : [`${numberWord(n)} ${n === 1 ? 'is' : 'are'} ${words}`];
  });
  return listed(parts);
}

function allOf(n: number): string {
  return n === 2 ? 'Both watches' : `All ${numberWord(n)} watches`;
}

/**
 * The desk's two sentences: how many watches want a hand (`needing`, whatever state each is in), and how all others
 * stand (`others`). Their numbers add up to all watches there are.
 */
export function deskSentences(needing: number, others: Counts): { lead: string; below: string } {
  const rest = total(others);
  const all = needing + rest;
  if (all === 0) return { lead: 'Nothing is being watched yet.', below: '' };
  const alike = Object.values(others).filter((n) => n > 0).length === 1;
  if (needing === 0) {
    const lead = all === 1 ? 'Your one watch is calm.' : `${allOf(all)} are calm.`;
    return { lead, below: alike && others.up ? '' : `${capitalise(tell(others))}.` };
  }
  const lead =
    all === 1
      ? 'Your one watch needs you.'
      : needing === all
        ? `${allOf(all)} need you.`
        : `${capitalise(numberWord(needing))} of ${numberWord(all)} watches ${needing === 1 ? 'needs' : 'need'} you.`;
  if (rest === 0) return { lead, below: '' };
  if (!alike) return { lead, below: `Of the others, ${tell(others)}.` };
  const [, words] = TOLD.find(([state]) => (others[state] ?? 0) > 0)!;
  return {
    lead,
    below: rest === 1 ? `The other one is ${words}.` : `The other ${numberWord(rest)} are ${words}.`,
  };
}
