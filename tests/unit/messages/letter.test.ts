import { describe, expect, it } from 'vitest';
import { letterLines, letterTitle, type LetterFacts } from '@/core/messages/letter';
import { speechOf } from '@/core/languages/speech';

const ENGLISH = speechOf('en');

const NOW = Date.parse('2026-11-26T07:00:00Z');
const HOUR = 3_600_000;
const WELL: LetterFacts = {
  from: NOW - 24 * HOUR,
  until: NOW,
  watches: 18,
  outages: [],
  outageCount: 0,
  open: [],
  hands: [],
  windows: [],
  unheard: 0,
};

describe('a letter on how things are', () => {
  it('says that all is well, and that it is alive', () => {
    expect(letterTitle(WELL, ENGLISH)).toBe('All is well');
    expect(letterLines(WELL, 'UTC', ENGLISH)).toEqual([
      '18 watches are looked after.',
      'Nothing went down in the last 1 d.',
      'Times are those of UTC. That this letter comes says that Calm Lantern is alive.',
    ]);
  });

  it('says which jobs take longer, and why something wants a hand in the language of the letter', () => {
    const facts: LetterFacts = {
      ...WELL,
      hands: [{ name: 'Office mail', cause: 'tls.expires-soon', detail: { when: '9 d' } }],
      slower: [{ name: 'Manifest backup', ms: 150_000, beforeMs: 60_000 }],
    };
    const english = letterLines(facts, 'UTC', ENGLISH);
    expect(english[2]).toBe(
      `Office mail wants a hand: ${ENGLISH.trouble('tls.expires-soon', { when: '9 d' })}`,
    );
    expect(english[3]).toBe('Manifest backup takes 2 min 30 s now; it took 1 min before.');
    const german = letterLines(facts, 'UTC', speechOf('de'));
    expect(german[2]).toBe(
      `Office mail braucht Zuwendung: ${speechOf('de').trouble('tls.expires-soon', { when: '9 d' })}`,
    );
    expect(german[3]).toBe('Manifest backup braucht jetzt 2 min 30 s; vorher 1 min.');
  });

  it('says what went down, what is down, what wants a hand, and what is ahead', () => {
    const facts: LetterFacts = {
      ...WELL,
      outages: [
        { name: 'Kiosk', began: NOW - HOUR, ended: null },
        { name: 'Tide table', began: NOW - 3 * HOUR, ended: NOW - 2 * HOUR },
      ],
      outageCount: 5,
      open: [{ name: 'Kiosk', began: NOW - HOUR }],
      hands: [{ name: 'Office mail', sentence: 'The certificate expires in 9 d.' }],
      windows: [{ title: 'New card readers', from: NOW + 24 * HOUR }],
      unheard: 2,
    };
    expect(letterTitle(facts, ENGLISH)).toBe('One of 18 watches is down');
    const lines = letterLines(facts, 'UTC', ENGLISH);
    expect(lines[1]).toMatch(/^Kiosk is down since .*06:00/);
    expect(lines[2]).toBe('5 outages in the last 1 d:');
    expect(lines[3]).toMatch(/^Kiosk, since .*, not over$/);
    expect(lines[4]).toMatch(/^Tide table, .*04:00, for 1 h$/);
    expect(lines.slice(5, 9)).toEqual([
      'and three before those.',
      'Office mail wants a hand: The certificate expires in 9 d.',
      expect.stringMatching(/^Maintenance is ahead: New card readers, .*07:00\.$/) as string,
      '2 watches would tell nobody.',
    ]);
  });

  it('puts what wants a hand above where nothing is down', () => {
    const hand = { name: 'Office mail', sentence: '' };
    expect(letterTitle({ ...WELL, hands: [hand] }, ENGLISH)).toBe('Nothing is down; one thing wants a hand');
    expect(letterTitle({ ...WELL, hands: [hand, hand] }, ENGLISH)).toBe(
      'Nothing is down; 2 things want a hand',
    );
    const open = [1, 2].map((n) => ({ name: `Kiosk ${n}`, began: NOW }));
    expect(letterTitle({ ...WELL, open }, ENGLISH)).toBe('Two of 18 watches are down');
  });
});
