import { DAY_MS, HOUR_MS } from '@/core/time/units';
/** What is kept for a limited time grows older by at most this much in an hour that really passed. */
const DAYS_AN_HOUR = 1;

/**
 * The time by which things are let go of, ms since 1970. It follows the wall clock, but is led by it only so fast: a
 * clock that is wrong by years for an hour may cost a day of what is kept, and not all of it. After a month in which
 * nothing ran it has caught up within a day or so. `last` is what it was before, null at the very first; `newest` is
 * the time of the newest finding there is; `passedMs` is what passed since by a clock that cannot be set.
 */
export function retentionTime(
  now: number,
  { last, newest, passedMs }: { last: number | null; newest: number | null; passedMs: number },
): number {
  const before = last ?? Math.min(now, newest ?? now);
  const most = before + passedMs + (passedMs / HOUR_MS) * DAYS_AN_HOUR * DAY_MS;
  return Math.min(now, most);
}
