import { describe, expect, it } from 'vitest';
import {
  COMPARISONS,
  compare,
  compareMany,
  comparisonProblem,
  expectedText,
  failingText,
  valueText,
  WITHOUT_VALUE,
  type Comparison,
} from '@/core/expect/compare';

describe('numbers and dates', () => {
  it.each<[unknown, Comparison, string, boolean]>([
    ['1.0', 'is', '1', true],
    [' 1 ', 'is', '1', true],
    ['1e3', 'is', '1000', true],
    ['1E+3', 'is', '1000', true],
    ['1e-2', 'is', '0.01', true],
    ['12e-1', 'is', '1.2', true],
    ['1e12', 'is', '1000000000000', true],
    ['1e12345', 'is', '1', false],
    ['+5', 'is', '5', true],
    ['-5', 'at most', '-4.999', true],
    ['-5', 'at least', '-4.999', false],
    ['9007199254740993', 'is', '9007199254740992', false],
    ['0.1', 'at least', '0.10', true],
    ['0.1', 'at most', '0.10', true],
    ['5 boats', 'is', '5', false],
    ['x5', 'is', '5', false],
    ['five', 'at least', '1', false],
    ['five', 'at most', '9', false],
    ['2026-11-26', 'at least', '2026-11-26', true],
    [' 2026-11-26 ', 'is', '2026-11-26', true],
    ['2026-11-26 06:30', 'at most', '2026-11-26T06:31', true],
    ['2026-11-26T06:30:00Z', 'is', '2026-11-26T07:30:00+01:00', true],
    ['2026-11-26T06:30:00.5Z', 'at least', '2026-11-26T06:30:00Z', true],
    ['2026-11-26T06:30:00Z', 'at least', '2026-11-26T06:30:00.5Z', false],
    ['2026-13-26', 'at least', '2026-01-01', false],
    ['2026-11-26', 'at least', '1', false],
    ['1', 'at least', '2026-11-26', false],
    ['x2026-11-26', 'at least', '2026-11-26', false],
    ['2026-11-26x', 'at least', '2026-11-26', false],
    [3, 'is', '3.0', true],
    [{ a: 1 }, 'is', '{"a":1}', true],
    [{ a: 1 }, 'contains', '"a"', true],
    [null, 'is', 'null', true],
    ['Tern', 'is', 'tern', false],
    ['Tern', 'is not', 'tern', true],
    ['1', 'is not', '1.0', false],
    ['tide 4 m', 'matches', '\\d m', true],
    ['tide', 'matches', '\\d', false],
    ['a', 'does not contain', 'b', true],
    ['ab', 'does not contain', 'b', false],
    ['a', 'is there', '', true],
    ['a', 'is not there', '', false],
    [undefined, 'is there', '', false],
    [undefined, 'is not there', '', true],
    [undefined, 'is', '', false],
    [undefined, 'is not', 'x', true],
    [undefined, 'contains', '', false],
    [undefined, 'does not contain', 'x', true],
    [undefined, 'at least', '0', false],
    [undefined, 'matches', '.*', false],
  ])('%j %s %j: %s', (got, comparison, expected, holds) => {
    expect(compare(got, comparison, expected)).toBe(holds);
  });

  it('text stands for what has none', () => {
    expect(valueText(undefined)).toBe('');
    expect(valueText(['a'])).toBe('["a"]');
  });
});

describe('several values', () => {
  it.each([
    [[1, 2, 3], 'all', false],
    [[2, 3], 'all', true],
    [[1, 2], 'any', true],
    [[0, 1], 'any', false],
    [[1, 2], 'exactly one', true],
    [[2, 3], 'exactly one', false],
    [[0, 1], 'exactly one', false],
    [[], 'all', false],
    [[], 'any', false],
  ] as const)('%j, %s of them at least 2: %s', (values, many, holds) => {
    expect(compareMany(values, 'at least', '2', many)).toBe(holds);
  });

  it('of none at all only that it is not there', () => {
    expect(compareMany([], 'is not there', '')).toBe(true);
    expect(compareMany([5], 'is not there', '')).toBe(false);
    expect(compareMany([5, 6], 'is', '5')).toBe(false);
  });
});

describe('comparisons in words', () => {
  it('say what was asked for, and what it is when it does not hold', () => {
    const words = COMPARISONS.map((one) => [one, expectedText(one, '3'), failingText(one, '3')]);
    expect(words).toEqual([
      ['is', '“3”', 'is not “3”'],
      ['is not', 'anything but “3”', 'is “3”'],
      ['contains', 'something with “3” in it', 'does not contain “3”'],
      ['does not contain', 'something without “3”', 'contains “3”'],
      ['matches', 'a match of “3”', 'does not match “3”'],
      ['at least', 'at least 3', 'is under 3'],
      ['at most', 'at most 3', 'is over 3'],
      ['is there', 'something', 'is not there'],
      ['is not there', 'nothing', 'is there'],
    ]);
    expect(WITHOUT_VALUE).toEqual(['is there', 'is not there']);
  });

  it.each([
    ['at least', '3', null],
    ['at most', '2026-12-25', null],
    ['at least', 'many', 'Expected a number or a date such as 2026-12-25 after “at least”, got “many”.'],
    ['at most', '', 'Expected a number or a date such as 2026-12-25 after “at most”, got “”.'],
    ['is', 'many', null],
    ['contains', '', null],
    ['matches', 'a+', null],
  ] as const)('%s %j: %s', (comparison, expected, problem) => {
    expect(comparisonProblem(comparison, expected)).toBe(problem);
  });

  it('refuse a pattern that is none', () => {
    expect(comparisonProblem('matches', '(')).toMatch(/^Expected a/);
    expect(comparisonProblem('is', '(')).toBeNull();
  });
});
