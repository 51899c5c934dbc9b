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

/** What was expected, in words: "at least 3", "something", "nothing". */
export function expectedText(comparison: Comparison, expected: string): string {
  if (comparison === 'is there') return 'something';
  if (comparison === 'is not there') return 'nothing';
  return comparison === 'is' ? `“${expected}”` : `${comparison.replace(/^is /, '')} “${expected}”`;
}

/** What is wrong with an expected value for a comparison, in words, or null. */
export function comparisonProblem(comparison: Comparison, expected: string): string | null {
  if (comparison === 'matches') return patternProblem(expected);
  if (comparison !== 'at least' && comparison !== 'at most') return null;
  return expected.trim() !== '' && Number.isFinite(Number(expected))
    ? null
    : `Expected a number after “${comparison}”, got “${expected}”.`;
}
