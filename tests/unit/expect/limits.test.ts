import { describe, expect, it } from 'vitest';
import { judgeReading, limitsProblem, readingText, type Limits } from '@/core/expect/limits';

describe('a reading in words', () => {
  it.each([
    [21, '°C', '21 °C'],
    [21.46, '°C', '21.5 °C'],
    [21.04, '°C', '21 °C'],
    [99.96, '', '100'],
    [100.4, 'MB', '100 MB'],
    [-100.6, 'MB', '-101 MB'],
    [1, '', '1'],
    [1.25, '', '1.3'],
    [0.12345, 'V', '0.123 V'],
    [0.5, 'V', '0.5 V'],
    [0.1004, 'V', '0.1 V'],
    [-0.25, 'V', '-0.25 V'],
    [120, '%', '120 %'],
    [0.0001, '', '0'],
  ])('%d %s is %s', (value, unit, text) => expect(readingText(value, unit)).toBe(text));
});

describe('a reading against its limits', () => {
  const limits: Limits = { failLow: 0, warnLow: 5, warnHigh: 30, failHigh: 40 };
  it.each([
    [-0.5, 'failed', 'value.low', '0 °C'],
    [0, 'slow', 'value.low-soon', '5 °C'],
    [4.9, 'slow', 'value.low-soon', '5 °C'],
    [5, null, '', ''],
    [30, null, '', ''],
    [30.1, 'slow', 'value.high-soon', '30 °C'],
    [40, 'slow', 'value.high-soon', '30 °C'],
    [41, 'failed', 'value.high', '40 °C'],
  ])('%d is %s', (value, verdict, cause, limit) => {
    const judged = judgeReading('The room', value, '°C', limits);
    if (verdict === null) expect(judged).toBeNull();
    else {
      expect(judged).toEqual({
        verdict,
        cause,
        detail: { what: 'The room', value: readingText(value, '°C'), limit },
      });
    }
  });

  it('is fine without any', () => {
    const none: Limits = { failLow: null, warnLow: null, warnHigh: null, failHigh: null };
    for (const value of [-1e9, 0, 1e9]) expect(judgeReading('It', value, '', none)).toBeNull();
  });

  it.each([
    [[0, 5, 30, 40], true],
    [[5, 5, 5, 5], true],
    [[null, null, null, null], true],
    [[null, 5, null, 4], false],
    [[6, 5, 30, 40], false],
    [[0, 31, 30, 40], false],
    [[0, 5, 41, 40], false],
    [[10, null, 9, null], false],
  ] as const)('%j rise: %s', ([failLow, warnLow, warnHigh, failHigh], rise) => {
    const problem = limitsProblem({ failLow, warnLow, warnHigh, failHigh });
    if (rise) expect(problem).toBeNull();
    else expect(problem).toMatch(/^Expected limits that rise: .*; got [\d, ]+\.$/);
  });

  it('names those that were given', () =>
    expect(limitsProblem({ failLow: null, warnLow: 5, warnHigh: null, failHigh: 4 })).toContain('got 5, 4.'));
});
