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

/** What of a public page there is to say. */
export interface PublicFacts {
  down: readonly string[];
  slow: readonly string[];
  maintenance: readonly string[];
  /** Names of what nothing is known of: paused, or not looked at yet. */
  unknown: readonly string[];
  running: number;
  openIncidents: number;
}

const MOST_NAMED = 2;

function named(names: readonly string[], is: string, are: string): string {
  if (names.length === 1) return `${names[0]} ${is}.`;
  if (names.length <= MOST_NAMED) return `${listed(names)} ${are}.`;
  return `${capitalise(numberWord(names.length))} services ${are}.`;
}

/** The public page's leading sentence. It never says that everything runs where something is known not to. */
export function publicSentence(facts: PublicFacts): string {
  const { down, slow, maintenance, unknown, running, openIncidents } = facts;
  if (down.length + slow.length + maintenance.length + unknown.length + running === 0) {
    return 'Nothing is shown here yet.';
  }
  const said: string[] = [];
  if (down.length > 0) said.push(named(down, 'is out', 'are out'));
  if (slow.length > 0) said.push(named(slow, 'is slow', 'are slow'));
  if (maintenance.length > 0) said.push(named(maintenance, 'is in maintenance', 'are in maintenance'));
  // In a bad moment one sentence is enough; the rest stands below it.
  if (said.length > 1) return said.slice(0, 2).join(' ');
  if (said.length === 1) {
    return running > 0 && unknown.length === 0 && openIncidents === 0
      ? `${said[0]} Everything else is running.`
      : said[0]!;
  }
  if (openIncidents > 0) {
    return openIncidents === 1
      ? 'One incident is open.'
      : `${capitalise(numberWord(openIncidents))} incidents are open.`;
  }
  if (running === 0) return 'Nothing is known yet.';
  return unknown.length > 0 ? 'All that we know of is running.' : 'Everything is running.';
}
