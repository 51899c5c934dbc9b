import ICAL from 'ical.js';
import { calendarEvents, eventText, eventTimes, eventTitle, isCancelled } from '@/core/text/calendar-events';
import { isTimeZone } from '@/core/time/zone-time';
import { DAY_MS, MINUTE_MS } from '@/core/time/units';
import { occurrencesOf, type Recurrence } from './recurrence';
import { readRule } from './rule';
import { momentOfWall, wallMsOf, wallText, wallTextAt } from './wall';

/** One stretch of a calendar. */
export interface CalendarStretch {
  title: string;
  text: string;
  begins: number;
  ends: number;
}

/** What comes again, without the times that were taken out of it. */
export interface CalendarSeries extends Recurrence {
  title: string;
  text: string;
  calledOff: string[];
}

export interface CalendarRead {
  stretches: CalendarStretch[];
  series: CalendarSeries[];
  /** Events that are over, rules that never come again among them. */
  past: number;
  /** What could not be taken, and why. */
  refused: { title: string; problem: string }[];
}

const MOST_EVENTS = 200;
const MOST_LEFT_OUT = 1000;
const LONGEST_MINUTES = 7 * 24 * 60;
const LONGEST_MS = 366 * DAY_MS;
/** What does not come within so long never does. */
const AHEAD_MS = 10 * 366 * DAY_MS;
/** What a rule is called while the file is read: the package that reads it would pass over what it does not know. */
const RULE = 'x-calm-lantern-rule';

interface Zoned {
  /** By the wall clock of `zone`. */
  wall: string;
  zone: string;
  at: number;
}

/** A time of an event: by the zone it names, in UTC, or by the zone of the file where it names none. */
function zonedTimes(property: ICAL.Property, usual: string): (Zoned & { isDay: boolean })[] {
  const named = property.getFirstParameter('tzid');
  const zone = named ? named.replace(/^\//, '') : usual;
  if (!isTimeZone(zone)) throw new Error(`Its time zone “${zone.slice(0, 60)}” is not known here.`);
  return eventTimes(property).map((time) => {
    const utc = !named && time.zone === ICAL.Timezone.utcTimezone;
    const ms = Date.UTC(time.year, time.month - 1, time.day, time.hour, time.minute, time.second);
    const isDay = time.isDate;
    if (utc) return { wall: wallTextAt(ms, zone), zone, at: ms, isDay };
    return { wall: wallText(ms), zone, at: momentOfWall(ms, zone), isDay };
  });
}

function zonedTime(property: ICAL.Property, usual: string) {
  const [time] = zonedTimes(property, usual);
  if (!time) throw new Error('It has a time that is none.');
  return time;
}

function durationMs(event: ICAL.Component): number | null {
  if (!event.hasProperty('duration')) return null;
  try {
    return (event.getFirstPropertyValue('duration') as ICAL.Duration).toSeconds() * 1000;
  } catch {
    throw new Error('How long it lasts cannot be read.');
  }
}

interface RawEvent {
  uid: string;
  title: string;
  text: string;
  start: Zoned;
  ends: number;
  rule: string | null;
  /** Times that are taken out, or that another event stands for. */
  out: string[];
  insteadAt: number | null;
  cancelled: boolean;
}

/** What is left out is known by what the clock was meant to show; a day alone means the time of that day. */
function outOf(left: Zoned & { isDay: boolean }, start: Zoned): string {
  return left.isDay ? left.wall.slice(0, 10) + start.wall.slice(10) : wallTextAt(left.at, start.zone);
}

function rawEvent(event: ICAL.Component, usual: string): RawEvent {
  const begin = event.getFirstProperty('dtstart');
  if (!begin) throw new Error('It has no beginning.');
  const start = zonedTime(begin, usual);
  const end = event.getFirstProperty('dtend');
  const lastsMs = durationMs(event);
  const ends = end
    ? zonedTime(end, usual).at
    : lastsMs !== null
      ? start.at + lastsMs
      : start.isDay
        ? momentOfWall(wallMsOf(start.wall) + DAY_MS, start.zone)
        : start.at;
  if (!(ends > start.at)) throw new Error('It does not end after it begins.');
  if (ends - start.at > LONGEST_MS) throw new Error('Maintenance lasts a year at most.');
  if (event.getFirstProperty('rdate'))
    throw new Error('It names times one by one (RDATE), which is not read.');
  const rules = event.getAllProperties(RULE);
  if (rules.length > 1) throw new Error('It has more than one rule.');
  const left = event.getAllProperties('exdate').flatMap((one) => zonedTimes(one, usual));
  if (left.length > MOST_LEFT_OUT) throw new Error(`It leaves out more than ${MOST_LEFT_OUT} times.`);
  const instead = event.getFirstProperty('recurrence-id');
  return {
    uid: eventText(event, 'uid'),
    title: eventText(event, 'summary').slice(0, 120) || 'Maintenance',
    text: eventText(event, 'description').slice(0, 5000),
    start,
    ends,
    rule: rules[0] ? readRule(String(rules[0].getFirstValue())) : null,
    out: left.map((one) => outOf(one, start)),
    insteadAt: instead ? zonedTime(instead, usual).at : null,
    cancelled: isCancelled(event),
  };
}

/**
 * Reads the events of an iCalendar file (RFC 5545) as maintenance: single stretches, and what comes again by a rule.
 * A time of a rule that another event stands for becomes a stretch by itself. Throws an `Error` where the text is no
 * calendar or holds too much; what of it cannot be taken is answered with the reason.
 */
export function readCalendar(text: string, { zone, now }: { zone: string; now: number }): CalendarRead {
  const events = calendarEvents(text.replace(/^RRULE(?=[;:])/gim, RULE));
  if (events.length === 0) throw new Error('Expected a calendar with events, got none.');
  if (events.length > MOST_EVENTS) {
    throw new Error(`Expected at most ${MOST_EVENTS} events, got ${events.length}.`);
  }
  const read: CalendarRead = { stretches: [], series: [], past: 0, refused: [] };
  const raw: RawEvent[] = [];
  for (const event of events) {
    try {
      raw.push(rawEvent(event, zone));
    } catch (error) {
      read.refused.push({ title: eventTitle(event), problem: (error as Error).message });
    }
  }
  for (const event of raw) {
    const { title, text: words, start, ends, rule, uid } = event;
    if (rule !== null && !event.cancelled) {
      const moved = raw.flatMap((other) =>
        other.uid === uid && other.insteadAt !== null ? [wallTextAt(other.insteadAt, start.zone)] : [],
      );
      const lastsMinutes = Math.max(1, Math.round((ends - start.at) / MINUTE_MS));
      if (lastsMinutes > LONGEST_MINUTES) {
        read.refused.push({ title, problem: 'What comes again may last a week at most.' });
        continue;
      }
      const one = { title, text: words, rule, zone: start.zone, first: start.wall, lastsMinutes };
      // A rule that has run out is over, as a stretch is.
      if (occurrencesOf(one, { from: now, until: now + AHEAD_MS, most: 1 }).length === 0) read.past += 1;
      else read.series.push({ ...one, calledOff: [...new Set([...event.out, ...moved])].sort() });
    } else if (!event.cancelled) {
      if (ends <= now) read.past += 1;
      else read.stretches.push({ title, text: words, begins: start.at, ends });
    }
  }
  return read;
}
