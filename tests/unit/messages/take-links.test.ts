import { randomBytes } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import { allLines } from '@/channels/frame/all-lines';
import { readTakeLink, signTakeLink } from '@/store/messages/take-links';
import { outgoing } from '../channels/outgoing';

const NOW = Date.parse('2026-11-26T08:00:00Z');
const LINK = { watchId: 7, openedAt: NOW - 60_000, until: NOW + 1, drill: null };

describe('a link to take a trouble', () => {
  const key = randomBytes(32);
  const token = signTakeLink(LINK, key);

  it('says what it is about, to whoever has the key', () => {
    expect(readTakeLink(token, key, NOW)).toEqual(LINK);
    expect(token.length).toBeLessThan(60);
    expect(token).toMatch(/^[\w.-]+$/);
  });

  it('names the rehearsal it belongs to', () => {
    const rehearsed = { ...LINK, drill: 4 };
    expect(readTakeLink(signTakeLink(rehearsed, key), key, NOW)).toEqual(rehearsed);
  });

  it('is good for so long, and not a moment more', () => {
    expect(readTakeLink(token, key, NOW + 1)).toBeNull();
  });

  it('is nothing where a single character is another, or another key signed it', () => {
    for (let at = 0; at < token.length; at += 1) {
      const other = token[at] === 'a' ? 'b' : 'a';
      const changed = token.slice(0, at) + other + token.slice(at + 1);
      if (changed === token) continue;
      expect(readTakeLink(changed, key, NOW), changed).toBeNull();
    }
    expect(readTakeLink(token, randomBytes(32), NOW)).toBeNull();
  });

  it.each([
    '',
    '.',
    'a.b.c',
    `${'z'.repeat(40)}.1.1.${'a'.repeat(22)}`,
    `7.1.2.${'a'.repeat(22)}`,
    `${'x'.repeat(5000)}`,
  ])('is not %j', (strange) => {
    expect(readTakeLink(strange, key, NOW)).toBeNull();
  });

  it('stands in the last line where a room knows no buttons', () => {
    expect(allLines(outgoing({ lines: ['a'], take: 'https://watch.ternferry.test/take/x' }))).toEqual([
      'a',
      'I have it: https://watch.ternferry.test/take/x',
    ]);
    expect(allLines(outgoing({ lines: ['a'] }))).toEqual(['a']);
  });
});
