import { DAY_MS } from '@/core/time/units';
import { momentsOf, wallAt, wallMs, wallOf, zoneOffsetMs } from '@/core/time/zone-time';

/** Readings of a wall clock to the minute, as text: "2026-12-06T02:00". */

/** "2026-12-06T02:00" as if it were UTC; NaN for what is no time. */
export function wallMsOf(wall: string): number {
  if (!/^\d{4}-\d\d-\d\dT\d\d:\d\d$/.test(wall)) return NaN;
  const ms = Date.parse(`${wall}:00Z`);
  return !Number.isNaN(ms) && wallText(ms) === wall ? ms : NaN;
}

export function wallText(ms: number): string {
  return new Date(ms).toISOString().slice(0, 16);
}

/** What a zone's wall clock shows at a moment, to the minute. */
export function wallTextAt(at: number, zone: string): string {
  return wallText(wallMs(wallAt(at, zone)));
}

/** When a wall clock shows this: the first time where it does so twice, and where it is skipped, as long after. */
export function momentOfWall(ms: number, zone: string): number {
  const [at] = momentsOf(wallOf(ms), zone);
  return at ?? ms - zoneOffsetMs(ms - DAY_MS, zone);
}
