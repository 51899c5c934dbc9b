import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { deskSentences } from '@/core/history/count-text';
import { figureSpans, observedText, sinceText } from '@/core/history/since-text';
import { STATES } from '@/core/lifecycle/state';
import { stateWords } from '@/core/history/state-text';
import { tries } from '../tries';

const WORDS = 'no one two three four five six seven eight nine ten eleven twelve'.split(' ');

/** Every number a text names, in words or figures, in order. */
function numbersIn(text: string): number[] {
  return [...text.toLowerCase().matchAll(/\b(?:(\d+)|([a-z]+))\b/g)].flatMap(([, digits, word]) => {
    if (digits !== undefined) return [Number(digits)];
    const at = WORDS.indexOf(word!);
    return at < 1 ? [] : [at];
  });
}

describe('sentences that count', () => {
  it('add up to all watches there are, whatever mix of states they are in', () => {
    const counts = fc.record(Object.fromEntries(STATES.map((state) => [state, fc.nat({ max: 15 })])));
    fc.assert(
      fc.property(fc.nat({ max: 15 }), counts, (needing, others) => {
        const rest = Object.values(others).reduce((a, b) => a + b, 0);
        const { lead, below } = deskSentences(needing, others);
        if (needing + rest === 0) return expect(lead).toBe('Nothing is being watched yet.');
        const told = lead.startsWith('Your one') ? [1] : lead.startsWith('Both') ? [2] : numbersIn(lead);
        expect(told.at(-1)).toBe(needing + rest);
        if (needing > 0 && needing < needing + rest) expect(told[0]).toBe(needing);
        if (below === '') {
          // Nothing more is to be said: nobody else is there, or everybody is up.
          return expect(rest === 0 || (needing === 0 && others.up === rest)).toBe(true);
        }
        const sum = /^The other one is/.test(below) ? 1 : numbersIn(below).reduce((a, b) => a + b, 0);
        expect(sum).toBe(rest);
        // Nobody is called up who is not.
        const alone = /^The other (?:one is|\S+ are) up\.$/.test(below);
        if (alone) expect(others.up).toBe(rest);
      }),
      { numRuns: tries(500) },
    );
  });

  it.each([
    [0, {}, 'Nothing is being watched yet.', ''],
    [2, { up: 16 }, 'Two of 18 watches need you.', 'The other 16 are up.'],
    [1, { up: 1 }, 'One of two watches needs you.', 'The other one is up.'],
    [
      2,
      { up: 14, waiting: 1, paused: 1 },
      'Two of 18 watches need you.',
      'Of the others, 14 are up, one is waiting for news and one is paused.',
    ],
    [0, { up: 12 }, 'All twelve watches are calm.', ''],
    [
      0,
      { up: 11, maintenance: 1 },
      'All twelve watches are calm.',
      'Eleven are up and one is in maintenance.',
    ],
    [3, {}, 'All three watches need you.', ''],
    [1, {}, 'Your one watch needs you.', ''],
    [0, { waiting: 1 }, 'Your one watch is calm.', 'One is waiting for news.'],
  ])('%d and %j: %s %s', (needing, others, lead, below) => {
    expect(deskSentences(needing, others)).toEqual({ lead, below });
  });
});

describe('figures name the time they stand on', () => {
  const now = Date.parse('2026-11-25T18:43:00Z');
  const labels = (begun: string) =>
    figureSpans(Date.parse(begun), now, 'UTC', [1, 7, 30, 90]).map(({ label }) => label);

  it('and are not given for longer than there is a history', () => {
    expect(labels('2026-11-25T18:31:00Z')).toEqual(['since 18:31 today, 12 min']);
    expect(labels('2026-11-24T18:31:00Z')).toEqual(['24 hours', 'since 18:31 yesterday, 1 d']);
    expect(labels('2026-11-10T08:00:00Z')).toEqual(['24 hours', '7 days', 'since 10 Nov, 15 d 10 h']);
    expect(labels('2025-11-10T08:00:00Z')).toEqual(['24 hours', '7 days', '30 days', '90 days']);
    expect(sinceText(Date.parse('2025-11-10T08:00:00Z'), now, 'UTC')).toBe('10 Nov 2025');
    expect(sinceText(Date.parse('2026-11-25T00:30:00Z'), now, 'Pacific/Auckland')).toBe('13:30 yesterday');
  });

  it('nor for time nobody looked, without saying so', () => {
    expect(observedText(12 * 60_000, 86_400_000)).toBe('12 min observed');
    expect(observedText(86_000_000, 86_400_000)).toBe('');
    expect(observedText(0, 86_400_000)).toBe('');
  });
});

describe('slow', () => {
  it('is a word for time alone', () => {
    expect([stateWords('slow'), stateWords('slow', true), stateWords('up', true)]).toEqual([
      'slow',
      'wants a hand',
      'up',
    ]);
  });
});
