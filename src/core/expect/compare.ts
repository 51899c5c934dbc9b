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

/** A number as digits and a power of ten, so that none of it is lost; null for what is none. */
function exactNumber(text: string): { digits: bigint; exponent: number } | null {
  const match = /^([+-]?)(\d+)(?:\.(\d+))?(?:e([+-]?\d{1,4}))?$/i.exec(text.trim());
  if (!match) return null;
  const [, sign, whole, fraction = '', power = '0'] = match;
  return {
    digits: BigInt(`${sign === '-' ? '-' : ''}${whole}${fraction}`),
    exponent: Number(power) - fraction.length,
  };
}

/** A moment or a day (ISO 8601) in milliseconds; null for what is none. */
function moment(text: string): number | null {
  if (!/^\d{4}-\d\d-\d\d(?:[T ]\d\d:\d\d(?::\d\d(?:\.\d+)?)?(?:Z|[+-]\d\d:?\d\d)?)?$/.test(text.trim()))
    return null;
  const at = Date.parse(text.trim().replace(' ', 'T'));
  return Number.isNaN(at) ? null : at;
}

/** Below nought, nought or above, as `a` is less than, equal to or more than `b`; null where they cannot be ordered. */
function order(a: string, b: string): number | null {
  const [x, y] = [exactNumber(a), exactNumber(b)];
  if (x && y) {
    const least = Math.min(x.exponent, y.exponent);
    const up = (n: typeof x) => n.digits * 10n ** BigInt(n.exponent - least);
    const [left, right] = [up(x), up(y)];
    return left < right ? -1 : left > right ? 1 : 0;
  }
  const [s, t] = [moment(a), moment(b)];
  return s !== null && t !== null ? s - t : null;
}

/**
 * Compares what came (undefined: nothing) with what is expected. Numbers are compared as numbers and dates as dates
 * where both sides are some, each exactly; everything else as text.
 */
export function compare(got: unknown, comparison: Comparison, expected: string): boolean {
  if (comparison === 'is there') return got !== undefined;
  if (comparison === 'is not there') return got === undefined;
  if (got === undefined) return comparison === 'is not' || comparison === 'does not contain';
  const text = valueText(got);
  const ordered = order(text, expected);
  switch (comparison) {
    case 'is':
      return ordered === null ? text === expected : ordered === 0;
    case 'is not':
      return ordered === null ? text !== expected : ordered !== 0;
    case 'contains':
      return text.includes(expected);
    case 'does not contain':
      return !text.includes(expected);
    case 'matches':
      return Pattern.of(expected).isIn(text);
    case 'at least':
      return ordered !== null && ordered >= 0;
    case 'at most':
      return ordered !== null && ordered <= 0;
  }
}

/** For how many of several values a comparison has to hold. */
export const HOW_MANY = ['all', 'any', 'exactly one'] as const;
export type HowMany = (typeof HOW_MANY)[number];

/** Whether a comparison holds for as many of the values as it should. Of no value at all only that it is not there. */
export function compareMany(
  values: readonly unknown[],
  comparison: Comparison,
  expected: string,
  many: HowMany = 'all',
): boolean {
  if (values.length === 0) return compare(undefined, comparison, expected);
  const holding = values.filter((value) => compare(value, comparison, expected)).length;
  if (many === 'all') return holding === values.length;
  return many === 'any' ? holding > 0 : holding === 1;
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
  return exactNumber(expected) !== null || moment(expected) !== null
    ? null
    : `Expected a number or a date such as 2026-12-25 after “${comparison}”, got “${expected}”.`;
}
