import { cursorOf } from '@/api/cursor';

/** So many are asked for at once. */
const AT_ONCE = 100;

/** What the rows of a list behind the first are asked for with, piece by piece. */
export function laterRows(query: string, first: number, shown: number) {
  const pieces = Math.ceil(Math.max(0, shown - first) / AT_ONCE);
  return Array.from({ length: pieces }, (_, i) => {
    const before = first + i * AT_ONCE;
    const count = Math.min(AT_ONCE, shown - before);
    // By its place alone: rows may be looked at in any order.
    const cursor = cursorOf([before, 0]);
    return { query: [query, `limit=${count}`, `cursor=${cursor}`].filter(Boolean).join('&'), before, count };
  });
}
