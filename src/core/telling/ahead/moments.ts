import { DAY_MS } from '@/core/time/units';
import { momentsOf, wallAt, wallMs, wallOf } from '@/core/time/zone-time';

/** Moments at which who hears may differ: what is now, a night, and a weekend. */
export const MOMENTS = ['now', 'night', 'weekend'] as const;
export type Moment = (typeof MOMENTS)[number];

const NIGHT_HOUR = 3;
const WEEKEND_HOUR = 12;

/** The next time a zone's wall clock shows this hour, on this weekday (0 is Sunday) where one is asked for. */
function nextAt(now: number, zone: string, hour: number, weekday: number | null): number {
  const today = Math.floor(wallMs(wallAt(now, zone)) / DAY_MS) * DAY_MS;
  for (let day = 0; day <= 8; day += 1) {
    const midnight = today + day * DAY_MS;
    if (weekday !== null && new Date(midnight).getUTCDay() !== weekday) continue;
    // Daylight saving may skip the hour; then the day after will do.
    const at = momentsOf({ ...wallOf(midnight), hour }, zone).find((one) => one > now);
    if (at !== undefined) return at;
  }
  return now;
}

/** When a moment is next, ms since 1970. */
export function momentAt(moment: Moment, now: number, zone: string): number {
  if (moment === 'night') return nextAt(now, zone, NIGHT_HOUR, null);
  return moment === 'weekend' ? nextAt(now, zone, WEEKEND_HOUR, 6) : now;
}
