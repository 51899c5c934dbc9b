import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { LANGUAGE_CODES } from '@/core/languages/language';
import { pageSpeechOf } from '@/core/languages/page-speech';
import { leadSentence } from '@/core/pages/lead';
import { publicWords } from '@/core/pages/line-words';
import { PUBLIC_KINDS, type PublicKind } from '@/core/pages/public-line';

const rows = (states: Partial<Record<PublicKind, string>>) =>
  Object.entries(states).flatMap(([state, labels]) =>
    labels.split(' ').map((label) => ({ label, state: state as PublicKind })),
  );
const lead = (states: Partial<Record<PublicKind, string>>, openIncidents = 0) =>
  leadSentence({ rows: rows(states), openIncidents }, pageSpeechOf('en'));

describe('the sentence that leads a public page', () => {
  it.each<[Partial<Record<PublicKind, string>>, number, string]>([
    [{}, 1, 'Nothing is shown here yet.'],
    [{ unknown: 'A' }, 0, 'Nothing is known yet.'],
    [{ running: 'A B' }, 0, 'Everything is running.'],
    [{ running: 'A B', unknown: 'C' }, 0, 'All that we know of is running.'],
    [{ running: 'A' }, 1, 'One incident is open.'],
    [{ running: 'A' }, 2, 'Two incidents are open.'],
    [{ unknown: 'A' }, 1, 'One incident is open.'],
    [{ out: 'Booking' }, 0, 'Booking is out.'],
    [{ out: 'Booking', running: 'A' }, 0, 'Booking is out. Everything else is running.'],
    [{ out: 'Booking', running: 'A', unknown: 'B' }, 0, 'Booking is out.'],
    [{ out: 'Booking', running: 'A' }, 1, 'Booking is out.'],
    [{ out: 'A B', running: 'C' }, 0, 'A and B are out. Everything else is running.'],
    [{ out: 'A B C' }, 0, 'Three services are out.'],
    [{ partly: 'A', running: 'B' }, 0, 'A is partly out. Everything else is running.'],
    [{ slow: 'A B' }, 0, 'A and B are slow.'],
    [{ maintenance: 'A B C D' }, 0, 'Four services are in maintenance.'],
    [{ out: 'A', slow: 'B', maintenance: 'C', running: 'D' }, 0, 'A is out. B is slow.'],
  ])('%j with %i open: %s', (states, open, sentence) => expect(lead(states, open)).toBe(sentence));

  it('says that everything runs only where it does', () => {
    const row = fc.record({ label: fc.constant('X'), state: fc.constantFrom(...PUBLIC_KINDS) });
    fc.assert(
      fc.property(fc.array(row, { maxLength: 6 }), fc.nat({ max: 2 }), (all, openIncidents) => {
        const sentence = leadSentence({ rows: all, openIncidents }, pageSpeechOf('en'));
        const others = all.filter(({ state }) => state !== 'running');
        if (sentence.includes('Everything is running')) expect([others, openIncidents]).toEqual([[], 0]);
        if (sentence.includes('Everything else')) {
          expect(others.some(({ state }) => state === 'unknown')).toBe(false);
          expect(openIncidents).toBe(0);
        }
      }),
    );
  });

  it.each(LANGUAGE_CODES)('names what is out in %s', (language) => {
    const said = leadSentence(
      { rows: rows({ out: 'Buchung Fähre', running: 'A' }), openIncidents: 0 },
      pageSpeechOf(language),
    );
    expect(said).toMatch(/Buchung.*Fähre.*\. .*\.$/);
    expect(said).not.toMatch(/[{}]/);
  });
});

describe('a line in words', () => {
  const at = (from: number, to: number, kind: PublicKind) => ({ from: from * 60_000, to: to * 60_000, kind });
  it.each([
    [[], 'no history yet'],
    [[at(0, 9, 'running')], 'running all the time'],
    [[at(0, 9, 'unknown')], 'not looked at for 9 min'],
    [
      [at(0, 1, 'running'), at(1, 3, 'out'), at(3, 4, 'slow'), at(4, 9, 'out')],
      'out for 7 min, slow for 1 min; running otherwise',
    ],
  ])('%j', (line, words) => expect(publicWords(line, pageSpeechOf('en'))).toBe(words));
});
