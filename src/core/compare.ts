import { Pattern, patternProblem } from './pattern';

/** How a value may be compared with what is expected. */
export const COMPARISONS = [
  'is',
  'is not',
  'contains',
  'does not contain',
  'matches',
  'at least',
  'at most',
  'is there',
  'is not there',
] as const;

export type Comparison = (typeof COMPARISONS)[number];

/** Comparisons that take no value. */
export const WITHOUT_VALUE: readonly Comparison[] = ['is there', 'is not there'];

/** A value as text; objects and lists as JSON. */
export function valueText(value: unknown): string {
  return typeof value === 'string' ? value : (JSON.stringify(value) ?? '');
}

/**
 * Compares what came (undefined: nothing) with what is expected. Numbers are compared as numbers where both
 * sides are some, everything else as text.
 */
export function compare(got: unknown, comparison: Comparison, expected: string): boolean {
  if (comparison === 'is there') return got !== undefined;
  if (comparison === 'is not there') return got === undefined;
  if (got === undefined) return comparison === 'is not' || comparison === 'does not contain';
  const text = valueText(got);
  const [a, b] = [text.trim() === '' ? Number.NaN : Number(text), Number(expected)];
  const numbers = !Number.isNaN(a) && !Number.isNaN(b) && expected.trim() !== '';
  switch (comparison) {
    case 'is':
      return numbers ? a === b : text === expected;
    case 'is not':
      return numbers ? a !== b : text !== expected;
    case 'contains':
      return text.includes(expected);
    case 'does not contain':
      return !text.includes(expected);
    case 'matches':
      return Pattern.of(expected).isIn(text);
    case 'at least':
      return numbers && a >= b;
    case 'at most':
      return numbers && a <= b;
  }
}

/** What each comparison asks for, and what it is when it does not hold. */
const WORDS: Record<Comparison, { asks: (value: string) => string; fails: (value: string) => string }> = {
  is: { asks: (v) => `“${v}”`, fails: (v) => `is not “${v}”` },
  'is not': { asks: (v) => `anything but “${v}”`, fails: (v) => `is “${v}”` },
  contains: { asks: (v) => `something with “${v}” in it`, fails: (v) => `does not contain “${v}”` },
  'does not contain': { asks: (v) => `something without “${v}”`, fails: (v) => `contains “${v}”` },
  matches: { asks: (v) => `a match of “${v}”`, fails: (v) => `does not match “${v}”` },
  'at least': { asks: (v) => `at least ${v}`, fails: (v) => `is under ${v}` },
  'at most': { asks: (v) => `at most ${v}`, fails: (v) => `is over ${v}` },
  'is there': { asks: () => 'something', fails: () => 'is not there' },
  'is not there': { asks: () => 'nothing', fails: () => 'is there' },
};

/** What was expected, in words: "at least 3", "something", "nothing". */
export function expectedText(comparison: Comparison, expected: string): string {
  return WORDS[comparison].asks(expected);
}

/** The other way round, for a sentence on what would count as failing: "is under 3", "is not there". */
export function failingText(comparison: Comparison, expected: string): string {
  return WORDS[comparison].fails(expected);
}

/** What is wrong with an expected value for a comparison, in words, or null. */
export function comparisonProblem(comparison: Comparison, expected: string): string | null {
  if (comparison === 'matches') return patternProblem(expected);
  if (comparison !== 'at least' && comparison !== 'at most') return null;
  return expected.trim() !== '' && Number.isFinite(Number(expected))
    ? null
    : `Expected a number after “${comparison}”, got “${expected}”.`;
}
