import { DAY_MS } from '@/core/time/units';
import { calendarEvents, eventText, eventTimes, eventTitle, isCancelled } from '@/core/text/calendar-events';
import ICAL from 'ical.js';

const MOST_YEARS_AHEAD = 3;
const MOST_DAYS = 1000;
const MOST_EVENTS = 5000;
/** Over all events of a file. */
const MOST_ROUNDS = 20_000;

function startMs({ year, month, day }: ICAL.Time): number {
  return new Date(0).setUTCFullYear(year, month - 1, day);
}

function dayText(ms: number): string {
  return new Date(ms).toISOString().slice(0, 10);
}

const timesOf = (event: ICAL.Component, name: string) => event.getAllProperties(name).flatMap(eventTimes);

/** The days on which an event would begin that are left out of it, or that another event stands for. */
function leftOut(events: readonly ICAL.Component[]): (event: ICAL.Component) => ReadonlySet<number> {
  const instead = new Map<string, number[]>();
  for (const event of events) {
    if (!event.hasProperty('recurrence-id')) continue;
    const uid = eventText(event, 'uid');
    instead.set(uid, [...(instead.get(uid) ?? []), ...timesOf(event, 'recurrence-id').map(startMs)]);
  }
  return (event) =>
    new Set([
      ...timesOf(event, 'exdate').map(startMs),
      ...(event.hasProperty('recurrence-id') ? [] : (instead.get(eventText(event, 'uid')) ?? [])),
    ]);
}

/** The days on which an event begins, in order, before `end`. */
function* beginningsOf(event: ICAL.Component, start: ICAL.Time, end: number): Generator<number> {
  // The package leaves the beginning itself out where times are named one by one (RFC 5545, 3.8.5.2).
  yield startMs(start);
  const occurrences = new ICAL.Event(event).iterator();
  for (let next = occurrences.next(); next; next = occurrences.next()) {
    if (startMs(next) >= end) return;
    yield startMs(next);
  }
}

/**
 * The days of a calendar's all-day events (RFC 5545), from a day on and three years ahead, in order and each once.
 * Recurring events are laid out; those with a time of day are passed over, and those that were called off. Throws an `Error`
 * that says what was expected where the text is no calendar, or holds what cannot be laid out.
 */
export function daysOffOf(text: string, from: string): string[] {
  const events = calendarEvents(text);
  if (events.length > MOST_EVENTS) {
    throw new Error(`Expected at most ${MOST_EVENTS} events, got ${events.length}.`);
  }
  const last = `${Number(from.slice(0, 4)) + MOST_YEARS_AHEAD}${from.slice(4)}`;
  const [first, end] = [Date.parse(from), Date.parse(last)];
  const days = new Set<string>();
  const isLeftOut = leftOut(events);
  let rounds = 0;
  const add = (start: number, lengthDays: number) => {
    // Only what lies within the years asked for is walked, however long it lasts.
    const until = Math.min(end, start + Math.max(1, lengthDays) * DAY_MS);
    const skipped = Math.max(0, Math.ceil((first - start) / DAY_MS));
    for (let at = start + skipped * DAY_MS; at < until && days.size < MOST_DAYS; at += DAY_MS) {
      days.add(dayText(at));
    }
  };
  const layOut = (event: ICAL.Component) => {
    const [start] = timesOf(event, 'dtstart');
    if (!start?.isDate || isCancelled(event)) return;
    const lengthDays = Math.round(new ICAL.Event(event).duration.toSeconds() / 86_400);
    const out = isLeftOut(event);
    for (const begins of beginningsOf(event, start, end)) {
      rounds += 1;
      if (rounds > MOST_ROUNDS) throw new Error('it goes back too far to be laid out');
      if (!out.has(begins)) add(begins, lengthDays);
    }
  };
  for (const event of events) {
    try {
      layOut(event);
    } catch (error) {
      const why = (error as Error).message.slice(0, 120);
      throw new Error(`Expected events that can be laid out; “${eventTitle(event)}” cannot: ${why}`);
    }
  }
  return [...days].sort();
}
