import { DAY_MS, MINUTE_MS } from '@/core/time/units';
import { momentsOf, wallAt, wallMs, wallOf, zoneOffsetMs } from '@/core/time/zone-time';

/** What becomes of what happens while a route is closed. */
export const OUTSIDE = ['hold', 'urgent', 'drop'] as const;
export type Outside = (typeof OUTSIDE)[number];

/** A stretch of some days of the week; one that ends no later than it begins goes on into the next day. */
export interface OpenSpan {
  /** 1 is Monday, 7 Sunday. */
  days: readonly number[];
  /** "07:00"; wall clock of the zone. */
  from: string;
  /** "18:00"; "24:00" is the end of the day. */
  until: string;
}

/** When a route speaks. */
export interface Hours {
  zone: string;
  spans: readonly OpenSpan[];
  /** Days on which nothing begins, as "2026-12-25". */
  daysOff: readonly string[];
  outside: Outside;
}

/** Farther ahead no opening is looked for. */
const MOST_DAYS_AHEAD = 400;

/** "07:30" in minutes since midnight. */
export function minuteOfDay(text: string): number {
  const [hour, minute] = text.split(':').map(Number);
  return hour! * 60 + minute!;
}

interface Day {
  /** Midnight of its wall clock as if it were UTC. */
  ms: number;
  text: string;
  /** 1 is Monday. */
  weekday: number;
}

function dayOf(ms: number): Day {
  const midnight = Math.floor(ms / DAY_MS) * DAY_MS;
  const date = new Date(midnight);
  return { ms: midnight, text: date.toISOString().slice(0, 10), weekday: ((date.getUTCDay() + 6) % 7) + 1 };
}

/** The spans that begin on a day, in minutes since its midnight. */
function spansOf(hours: Hours, day: Day): { from: number; until: number }[] {
  if (hours.daysOff.includes(day.text)) return [];
  return hours.spans
    .filter((span) => span.days.includes(day.weekday))
    .map((span) => {
      const [from, until] = [minuteOfDay(span.from), minuteOfDay(span.until)];
      return { from, until: until > from ? until : until + DAY_MS / MINUTE_MS };
    });
}

/** Whether a route speaks at a moment. Without hours it always does. */
export function isOpen(hours: Hours | null, at: number): boolean {
  if (!hours) return true;
  const shown = wallMs(wallAt(at, hours.zone));
  const today = dayOf(shown);
  return [today, dayOf(today.ms - 1)].some((day) => {
    const minute = (shown - day.ms) / MINUTE_MS;
    return spansOf(hours, day).some((span) => minute >= span.from && minute < span.until);
  });
}

/** The moment at which a wall clock shows this, or, where daylight saving skips it, the moment of the skip. */
function momentOf(wallTime: number, zone: string): number {
  return momentsOf(wallOf(wallTime), zone)[0] ?? wallTime - zoneOffsetMs(wallTime - DAY_MS, zone);
}

/** When a route that is closed speaks again; null where it does not within a year. */
export function nextOpening(hours: Hours, after: number): number | null {
  const today = dayOf(wallMs(wallAt(after, hours.zone)));
  for (let ahead = 0; ahead <= MOST_DAYS_AHEAD; ahead += 1) {
    const day = dayOf(today.ms + ahead * DAY_MS);
    const openings = spansOf(hours, day)
      .map((span) => momentOf(day.ms + span.from * MINUTE_MS, hours.zone))
      .filter((at) => at > after);
    if (openings.length > 0) return Math.min(...openings);
  }
  return null;
}
