const SMALL_NUMBERS = [
  'no',
  'one',
  'two',
  'three',
  'four',
  'five',
  'six',
  'seven',
  'eight',
  'nine',
  'ten',
  'eleven',
  'twelve',
];

/** Numbers up to twelve in words, the rest in figures. */
export function numberWord(n: number): string {
  return SMALL_NUMBERS[n] ?? String(n);
}

export function capitalise(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

/** "no outage" is said as "no outages"; "one outage", "14 outages". */
export function countOf(count: number, what: string): string {
  return count === 1 ? `one ${what}` : `${count === 0 ? 'no' : count} ${what}s`;
}

/** "one watch", "14 watches". */
export function countWatches(count: number): string {
  return count === 1 ? 'one watch' : `${count} watches`;
}

/** "a", "a and b", "a, b and c". */
export function listed(parts: readonly string[]): string {
  return joined(parts, 'and');
}

/** The same with another language's word before the last. */
export function joined(parts: readonly string[], and: string): string {
  return parts.length < 2 ? (parts[0] ?? '') : `${parts.slice(0, -1).join(', ')} ${and} ${parts.at(-1)}`;
}
