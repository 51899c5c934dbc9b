import { DAY_MS } from '@/core/time/units';
import ICAL from 'ical.js';

const MOST_YEARS_AHEAD = 3;
const MOST_DAYS = 1000;
const MOST_EVENTS = 5000;
/** Over all events of a file. */
const MOST_ROUNDS = 50_000;

function startMs({ year, month, day }: ICAL.Time): number {
  return new Date(0).setUTCFullYear(year, month - 1, day);
}

function dayText(ms: number): string {
  return new Date(ms).toISOString().slice(0, 10);
}

/**
 * The days of a calendar's all-day events (RFC 5545), from a day on and three years ahead, in order and each once.
 * Recurring events are laid out; those with a time of day are passed over. Throws an `Error` that says what was
 * expected where the text is no calendar.
 */
export function daysOffOf(text: string, from: string): string[] {
  let root: ICAL.Component;
  try {
    root = new ICAL.Component(ICAL.parse(text) as unknown as string);
  } catch {
    throw new Error('Expected an iCalendar file that begins with BEGIN:VCALENDAR.');
  }
  const last = `${Number(from.slice(0, 4)) + MOST_YEARS_AHEAD}${from.slice(4)}`;
  const [first, end] = [Date.parse(from), Date.parse(last)];
  const days = new Set<string>();
  let rounds = 0;
  const add = (start: number, lengthDays: number) => {
    // Only what lies within the years asked for is walked, however long it lasts.
    const until = Math.min(end, start + Math.max(1, lengthDays) * DAY_MS);
    const skipped = Math.max(0, Math.ceil((first - start) / DAY_MS));
    for (let at = start + skipped * DAY_MS; at < until && days.size < MOST_DAYS; at += DAY_MS) {
      days.add(dayText(at));
    }
  };
  for (const component of root.getAllSubcomponents('vevent').slice(0, MOST_EVENTS)) {
    const event = new ICAL.Event(component);
    if (!event.startDate?.isDate) continue;
    const length = Math.round(event.duration.toSeconds() / 86_400);
    if (!event.isRecurring()) {
      add(startMs(event.startDate), length);
      continue;
    }
    const occurrences = event.iterator();
    for (; rounds < MOST_ROUNDS; rounds += 1) {
      const start = occurrences.next();
      if (!start || startMs(start) >= end) break;
      add(startMs(start), length);
    }
  }
  return [...days].sort();
}
