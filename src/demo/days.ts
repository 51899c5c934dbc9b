import type { Recurrence } from '@/core/maintenance/recurrence';
import { dateAt } from '@/core/time/zone-time';
import { ZONE } from './scenario';

const LONG = new Intl.DateTimeFormat('en-GB', { weekday: 'long', timeZone: ZONE });

/** The day of the week it is at the ferries at a moment: "Sunday". */
export function dayName(at: number): string {
  return LONG.format(at);
}

/**
 * When the kiosks start anew: every Sunday; where the demo is begun on one, every Wednesday. Nobody is shown a
 * first screen that speaks of maintenance in one hour of the week, and of something else in all others.
 */
export function kiosksRest(now: number): Recurrence {
  return {
    rule: `FREQ=WEEKLY;BYDAY=${dayName(now) === 'Sunday' ? 'WE' : 'SU'}`,
    zone: ZONE,
    first: `${dateAt(now, ZONE)}T03:15`,
    lastsMinutes: 45,
  };
}
