import { DAY_MS } from '@/core/time/units';
import { formatDuration } from '@/core/time/duration';
import { dateAt, wallAt } from '@/core/time/zone-time';

/** When something began, as short as it can be told: "18:31 today", "18:31 yesterday", "22 Nov", "22 Nov 2025". */
export function sinceText(at: number, now: number, zone: string): string {
  const { hour, minute, day, month, year } = wallAt(at, zone);
  const clock = `${String(hour).padStart(2, '0')}:${String(minute).padStart(2, '0')}`;
  if (dateAt(at, zone) === dateAt(now, zone)) return `${clock} today`;
  if (dateAt(at, zone) === dateAt(now - DAY_MS, zone)) return `${clock} yesterday`;
  const name = new Intl.DateTimeFormat('en-GB', { month: 'short', timeZone: 'UTC' }).format(
    Date.UTC(2026, month - 1, 1),
  );
  return year === wallAt(now, zone).year ? `${day} ${name}` : `${day} ${name} ${year}`;
}

export interface FigureSpan {
  from: number;
  to: number;
  /** What the figure stands on: "24 hours", or "since 18:31 today, 12 min". */
  label: string;
}

/**
 * The spans figures are given for: of the usual ones those that the history reaches back over, and the whole history
 * where that is shorter than the longest. No figure for time nobody watched.
 */
export function figureSpans(begun: number, now: number, zone: string, days: readonly number[]): FigureSpan[] {
  const age = now - begun;
  const usual = days
    .filter((n) => n * DAY_MS <= age)
    .map((n) => ({ from: now - n * DAY_MS, to: now, label: n === 1 ? '24 hours' : `${n} days` }));
  if (usual.length === days.length) return usual;
  return [...usual, { from: begun, to: now, label: wholeLabel(begun, now, zone) }];
}

/** "since 18:31 today, 12 min". */
export function wholeLabel(begun: number, now: number, zone: string): string {
  return `since ${sinceText(begun, now, zone)}, ${formatDuration(Math.max(0, now - begun))}`;
}

/** How much of a span a figure stands on, in words, where that is much less than the span; else empty. */
export function observedText(observedMs: number, spanMs: number): string {
  return observedMs > 0 && observedMs < spanMs * 0.9 ? `${formatDuration(observedMs)} observed` : '';
}
