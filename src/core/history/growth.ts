import { formatBytes } from '@/core/time/duration';
import { DAY_MS } from '@/core/time/units';

/** What the database took at the end of a day. */
export interface FileSize {
  day: number;
  bytes: number;
}

export interface Growth {
  /** The first day of those it stands on. */
  since: number;
  bytesPerYear: number;
  /** When the disk is full at that pace; null where nothing grows, or later than anybody could tell. */
  fullAt: number | null;
}

/** Fewer days say nothing: findings and reports come in before the first are let go of. */
const LEAST_DAYS = 7;
const MOST_DAYS = 60;
const YEAR_DAYS = 365.25;
const FARTHEST_MS = 100 * 366 * DAY_MS;

/**
 * How fast the database grows, by the straight line that lies nearest (least squares) to its sizes of the last sixty
 * days; null while there are less than seven days between the first and the last.
 */
export function growthOf(sizes: readonly FileSize[], freeBytes: number, now: number): Growth | null {
  const last = sizes.at(-1);
  if (!last) return null;
  const recent = sizes.filter(({ day }) => day > last.day - MOST_DAYS * DAY_MS);
  const first = recent[0]!;
  if (last.day - first.day < LEAST_DAYS * DAY_MS) return null;
  const xs = recent.map(({ day }) => (day - first.day) / DAY_MS);
  const meanX = xs.reduce((sum, x) => sum + x, 0) / xs.length;
  const meanY = recent.reduce((sum, { bytes }) => sum + bytes, 0) / recent.length;
  const up = recent.reduce((sum, { bytes }, i) => sum + (xs[i]! - meanX) * (bytes - meanY), 0);
  const perDay = up / xs.reduce((sum, x) => sum + (x - meanX) ** 2, 0);
  const leftMs = perDay > 0 ? (freeBytes / perDay) * DAY_MS : Infinity;
  return {
    since: first.day,
    bytesPerYear: Math.round(perDay * YEAR_DAYS),
    fullAt: leftMs < FARTHEST_MS ? Math.round(now + leftMs) : null,
  };
}

const FAR_YEARS = 10;
const day = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'long', timeZone: 'UTC' });
const month = new Intl.DateTimeFormat('en-GB', { month: 'long', year: 'numeric', timeZone: 'UTC' });

/** In sentences: how fast it grows, and when the disk is full at that pace. */
export function growthText(growth: Growth | null, now: number): string {
  if (!growth) return 'How fast it grows is told once it is known for seven days.';
  const { since, bytesPerYear, fullAt } = growth;
  if (bytesPerYear <= 0) return `It has not grown since ${day.format(since)}.`;
  const pace = `Since ${day.format(since)} it grows by ${formatBytes(bytesPerYear)} a year.`;
  if (fullAt === null || fullAt > now + FAR_YEARS * YEAR_DAYS * DAY_MS)
    return `${pace} At that pace the disk is not full within ten years.`;
  return `${pace} At that pace the disk is full in ${month.format(fullAt)}.`;
}
