import { describe, expect, it } from 'vitest';
import { namesText, OWN_TROUBLES, ownTroubleText, type OwnTroubleCode } from '@/core/causes/own-trouble';

describe('troubles of our own', () => {
  it('are filled in, and show what is missing as such', () => {
    expect(ownTroubleText('channel.stuck', { name: 'Crew room', said: '503 busy' })).toEqual({
      sentence: 'The channel Crew room takes no messages: 503 busy',
      advice: OWN_TROUBLES['channel.stuck'].advice,
      over: 'The channel Crew room takes messages again.',
    });
    expect(ownTroubleText('disk.low', { left: '90 MB' })).toMatchObject({
      sentence: 'The disk of the data folder is nearly full: 90 MB left.',
      advice: 'Make room on … before nothing can be kept any more.',
    });
    expect(ownTroubleText('look.missing', { names: 0 }).sentence).toContain('No look at 0 has');
  });

  it.each(Object.keys(OWN_TROUBLES) as OwnTroubleCode[])(
    '%s says what is wrong, what to do, and that it is over',
    (code) => {
      const { sentence, advice, over } = OWN_TROUBLES[code];
      expect(sentence).toMatch(/^[A-Z].{15,}/);
      for (const text of [advice, over]) expect(text).toMatch(/^[A-Z].{10,}\.$/);
      const all = Object.values(OWN_TROUBLES).map((one) => one.sentence);
      expect(all.filter((one) => one === sentence)).toHaveLength(1);
    },
  );

  it.each([
    [[], ''],
    [['A'], 'A'],
    [['A', 'B'], 'A and B'],
    [['A', 'B', 'C'], 'A, B and C'],
    [['A', 'B', 'C', 'D'], 'A, B, C and 1 more'],
    [['A', 'B', 'C', 'D', 'E'], 'A, B, C and 2 more'],
  ])('%j are named as %j', (names, text) => expect(namesText(names)).toBe(text));

  it('are named as far as there is room', () => expect(namesText(['A', 'B', 'C'], 1)).toBe('A and 2 more'));
});
