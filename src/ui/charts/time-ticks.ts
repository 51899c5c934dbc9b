import { DAY_MS, HOUR_MS, MINUTE_MS, SECOND_MS } from '@/core/time/units';
import { zoneOffsetMs } from '@/core/time/zone-time';

const STEPS = [
  5 * MINUTE_MS,
  15 * MINUTE_MS,
  30 * MINUTE_MS,
  HOUR_MS,
  3 * HOUR_MS,
  6 * HOUR_MS,
  12 * HOUR_MS,
  DAY_MS,
  2 * DAY_MS,
  7 * DAY_MS,
  14 * DAY_MS,
];

export interface Tick {
  at: number;
  /** "18:00", or "24 Nov" where the step is a day or more. */
  label: string;
}

/** Lengths are read in seconds, minutes and hours, whose round parts are not those of ten. */
const LENGTH_STEPS = [
  ...[0.001, 0.01, 0.1, 1, 10, 100, SECOND_MS].flatMap((ten) => [ten, 2 * ten, 5 * ten]),
  ...[10, 15, 30].map((seconds) => seconds * SECOND_MS),
  ...[1, 2, 5, 10, 15, 30].map((minutes) => minutes * MINUTE_MS),
  ...[1, 2, 3, 6, 12].map((hours) => hours * HOUR_MS),
  ...[1, 2, 7, 14, 30].map((days) => days * DAY_MS),
];

/** Round lengths of time from 0 to the first that is no less than `most`, at most `count` steps; milliseconds. */
export function lengthTicks(most: number, count: number): number[] {
  const step = LENGTH_STEPS.find((s) => most / s <= count) ?? Math.ceil(most / count / DAY_MS) * DAY_MS;
  return Array.from({ length: Math.max(1, Math.ceil(most / step)) + 1 }, (_, i) => i * step);
}

/** Round moments of a zone's wall clock inside a range, about `count` of them. */
export function timeTicks(range: { from: number; to: number }, zone: string, count: number): Tick[] {
  const span = range.to - range.from;
  const step = STEPS.find((s) => span / s <= count) ?? 30 * DAY_MS;
  const label = new Intl.DateTimeFormat(
    'en-GB',
    step >= DAY_MS
      ? { timeZone: zone, day: 'numeric', month: 'short' }
      : { timeZone: zone, hour: '2-digit', minute: '2-digit', hourCycle: 'h23' },
  );
  const ticks: Tick[] = [];
  const startOffset = zoneOffsetMs(range.from, zone);
  for (let wall = Math.ceil((range.from + startOffset) / step) * step; ; wall += step) {
    // The offset may change between two ticks; the tick's own offset is the one that counts.
    const guess = wall - startOffset;
    const at = wall - zoneOffsetMs(guess, zone);
    if (at > range.to) break;
    if (at >= range.from) ticks.push({ at, label: label.format(at) });
  }
  return ticks;
}
