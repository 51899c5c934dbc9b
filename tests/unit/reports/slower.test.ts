import { describe, expect, it } from 'vitest';
import { slowerOf } from '@/core/reports/slower';

const S = 1000;
const times = (n: number, ms: number) => Array.from({ length: n }, () => ms);

describe('a job that takes longer than before', () => {
  it('is told by its middle run, whatever one alone did', () => {
    const before = [...times(5, 60 * S), 900 * S, 1 * S];
    expect(slowerOf([90 * S, 95 * S, 5 * S, 900 * S], before)).toEqual({ ms: 90 * S, beforeMs: 60 * S });
    expect(slowerOf([60 * S, 60 * S, 900 * S], before)).toBeNull();
  });

  it.each([
    ['half as long again', times(3, 90 * S), times(5, 60 * S), true],
    ['not quite', times(3, 89 * S), times(5, 60 * S), false],
    ['ten seconds more', times(3, 20 * S), times(5, 10 * S), true],
    ['hardly more', times(3, 20 * S - 1), times(5, 10 * S), false],
    ['too few runs now', times(2, 900 * S), times(5, 60 * S), false],
    ['too few runs before', times(3, 900 * S), times(4, 60 * S), false],
    ['faster', times(3, 10 * S), times(5, 60 * S), false],
  ])('%s', (_, now, before, said) => {
    expect(slowerOf(now, before) !== null).toBe(said);
  });
});
