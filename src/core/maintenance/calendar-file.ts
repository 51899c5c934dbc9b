import { ICalCalendar, ICalCalendarMethod, ICalEventStatus } from 'ical-generator';
import ICAL from 'ical.js';
import { tzlib_get_ical_block } from 'timezones-ical-library';
import { isTimeZone } from '@/core/time/zone-time';
import { MINUTE_MS } from '@/core/time/units';
import { type Recurrence } from './recurrence';
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
  /** Events that are over. */
  past: number;
  /** What could not be taken, and why. */
  refused: { title: string; problem: string }[];
}

const MOST_EVENTS = 200;
const LONGEST_MINUTES = 7 * 24 * 60;

interface Zoned {
  /** By the wall clock of `zone`. */
  wall: string;
  zone: string;
  at: number;
}

/** A time of an event: by the zone it names, in UTC, or by the zone of the file where it names none. */
function zonedTime(property: ICAL.Property, usual: string): Zoned {
  const time = property.getFirstValue() as ICAL.Time;
  const named = property.getFirstParameter('tzid');
  const utc = !named && time.zone === ICAL.Timezone.utcTimezone;
  const zone = named ? named.replace(/^\//, '') : usual;
  if (!isTimeZone(zone)) throw new Error(`Its time zone “${zone.slice(0, 60)}” is not known here.`);
  const ms = Date.UTC(time.year, time.month - 1, time.day, time.hour, time.minute, time.second);
  if (utc) return { wall: wallTextAt(ms, zone), zone, at: ms };
  return { wall: wallText(ms), zone, at: momentOfWall(ms, zone) };
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

function textOf(event: ICAL.Component, name: string): string {
  const value = event.getFirstPropertyValue(name);
  return typeof value === 'string' ? value.trim() : '';
}

function rawEvent(event: ICAL.Component, usual: string): RawEvent {
  const begin = event.getFirstProperty('dtstart');
  if (!begin) throw new Error('It has no beginning.');
  const start = zonedTime(begin, usual);
  const end = event.getFirstProperty('dtend');
  const duration = event.getFirstPropertyValue('duration') as ICAL.Duration | null;
  const allDay = (begin.getFirstValue() as ICAL.Time).isDate;
  const ends = end
    ? zonedTime(end, usual).at
    : duration
      ? start.at + duration.toSeconds() * 1000
      : allDay
        ? momentOfWall(wallMsOf(start.wall) + 24 * 60 * MINUTE_MS, start.zone)
        : start.at;
  if (!(ends > start.at)) throw new Error('It does not end after it begins.');
  if (event.getFirstProperty('rdate'))
    throw new Error('It names times one by one (RDATE), which is not read.');
  const rules = event.getAllProperties('rrule');
  if (rules.length > 1) throw new Error('It has more than one rule.');
  const instead = event.getFirstProperty('recurrence-id');
  return {
    uid: textOf(event, 'uid'),
    title: textOf(event, 'summary').slice(0, 120) || 'Maintenance',
    text: textOf(event, 'description').slice(0, 5000),
    start,
    ends,
    rule: rules[0] ? readRule(String(rules[0].getFirstValue())) : null,
    out: event.getAllProperties('exdate').map((one) => wallTextAt(zonedTime(one, usual).at, start.zone)),
    insteadAt: instead ? zonedTime(instead, usual).at : null,
    cancelled: textOf(event, 'status').toUpperCase() === 'CANCELLED',
  };
}

/**
 * Reads the events of an iCalendar file (RFC 5545) as maintenance: single stretches, and what comes again by a rule.
 * A time of a rule that another event stands for becomes a stretch by itself. Throws an `Error` where the text is no
 * calendar or holds too much; what of it cannot be taken is answered with the reason.
 */
export function readCalendar(text: string, { zone, now }: { zone: string; now: number }): CalendarRead {
  let root: ICAL.Component;
  try {
    root = new ICAL.Component(ICAL.parse(text) as unknown as string);
  } catch {
    throw new Error('Expected an iCalendar file that begins with BEGIN:VCALENDAR.');
  }
  const events = root.getAllSubcomponents('vevent');
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
      const title = textOf(event, 'summary').slice(0, 120) || 'An event without a title';
      read.refused.push({ title, problem: (error as Error).message });
    }
  }
  for (const event of raw) {
    const { title, text: words, start, ends, rule, uid } = event;
    if (rule !== null && !event.cancelled) {
      const moved = raw.flatMap((other) =>
        other.uid === uid && other.insteadAt !== null ? [wallTextAt(other.insteadAt, start.zone)] : [],
      );
      const lastsMinutes = Math.round((ends - start.at) / MINUTE_MS);
      if (lastsMinutes > LONGEST_MINUTES) {
        read.refused.push({ title, problem: 'What comes again may last a week at most.' });
        continue;
      }
      const calledOff = [...new Set([...event.out, ...moved])].sort();
      read.series.push({
        title,
        text: words,
        rule,
        zone: start.zone,
        first: start.wall,
        lastsMinutes,
        calledOff,
      });
    } else if (!event.cancelled) {
      if (ends <= now) read.past += 1;
      else read.stretches.push({ title, text: words, begins: start.at, ends });
    }
  }
  return read;
}

interface Exported extends CalendarStretch {
  id: number;
  seriesId: number | null;
  wall: string | null;
  /** It was changed by itself. */
  apart: boolean;
  madeAt: number;
}

interface ExportedSeries extends CalendarSeries {
  id: number;
  madeAt: number;
}

/** What a wall clock shows: the package writes what a date says of its own zone. */
class WallDate extends Date {
  override getFullYear = () => this.getUTCFullYear();
  override getMonth = () => this.getUTCMonth();
  override getDate = () => this.getUTCDate();
  override getHours = () => this.getUTCHours();
  override getMinutes = () => this.getUTCMinutes();
  override getSeconds = () => this.getUTCSeconds();
}

/** When a time of a series was meant to begin. */
const momentOf = (wall: string, zone: string) => new Date(momentOfWall(wallMsOf(wall), zone));

/** All that is planned as iCalendar (RFC 5545): rules in their zones, single stretches in UTC. */
export function writeCalendar(windows: readonly Exported[], series: readonly ExportedSeries[]): string {
  const calendar = new ICalCalendar({
    name: 'Maintenance',
    prodId: { company: 'Calm Lantern', product: 'maintenance' },
    method: ICalCalendarMethod.PUBLISH,
    timezone: { name: null, generator: (zone: string) => tzlib_get_ical_block(zone)[0] ?? null },
  });
  const zones = new Map(series.map((one) => [one.id, one]));
  for (const { id, title, text, rule, zone, first, lastsMinutes, calledOff, madeAt } of series) {
    const event = calendar.createEvent({
      id: `recurring-${id}@calm-lantern`,
      stamp: new Date(madeAt),
      start: new WallDate(wallMsOf(first)),
      end: new WallDate(wallMsOf(first) + lastsMinutes * MINUTE_MS),
      timezone: zone,
      summary: title,
      ...(text && { description: text }),
      status: ICalEventStatus.CONFIRMED,
    });
    const out = calledOff.map((wall) => `EXDATE;TZID=${zone}:${wall.replace(/[-:]/g, '')}00`);
    event.repeating([`RRULE:${rule}`, ...out].join('\n'));
  }
  for (const { id, seriesId, wall, apart, title, text, begins, ends, madeAt } of windows) {
    const of = seriesId === null ? undefined : zones.get(seriesId);
    // The rule says it already; what was ended as it began lasts no second.
    if ((of && !apart) || ends - begins < 1000) continue;
    calendar.createEvent({
      id: of ? `recurring-${of.id}@calm-lantern` : `maintenance-${id}@calm-lantern`,
      ...(of && wall && { recurrenceId: momentOf(wall, of.zone) }),
      stamp: new Date(madeAt),
      start: new Date(begins),
      end: new Date(ends),
      summary: title,
      ...(text && { description: text }),
      status: ICalEventStatus.CONFIRMED,
    });
  }
  return calendar.toString();
}
