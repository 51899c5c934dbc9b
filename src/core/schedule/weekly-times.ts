import { DAY_MS, MINUTE_MS } from '@/core/time/units';
import { momentsOf, wallAt, wallMs, wallOf } from '@/core/time/zone-time';

/** A time of day on some days of the week. */
export interface WeeklyTimes {
  /** 1 is Monday, 7 Sunday. */
  days: readonly number[];
  /** "07:00"; wall clock of the zone. */
  at: string;
}

/** The last time it was so at or before a moment; null where it never is. A time that daylight saving skips is left out. */
export function latestTime({ days, at }: WeeklyTimes, zone: string, now: number): number | null {
  const [hour, minute] = at.split(':').map(Number) as [number, number];
  const today = Math.floor(wallMs(wallAt(now, zone)) / DAY_MS) * DAY_MS;
  // A skipped one is looked for a week farther back.
  for (let back = 0; back <= 14; back += 1) {
    const midnight = today - back * DAY_MS;
    const weekday = ((new Date(midnight).getUTCDay() + 6) % 7) + 1;
    if (!days.includes(weekday)) continue;
    const moment = momentsOf(wallOf(midnight + (hour * 60 + minute) * MINUTE_MS), zone)[0];
    if (moment !== undefined && moment <= now) return moment;
  }
  return null;
}
