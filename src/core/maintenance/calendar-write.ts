import { ICalCalendar, ICalCalendarMethod, ICalEventStatus } from 'ical-generator';
import { tzlib_get_ical_block } from 'timezones-ical-library';
import { MINUTE_MS } from '@/core/time/units';
import type { CalendarSeries, CalendarStretch } from './calendar-read';
import { momentOfWall, wallMsOf } from './wall';

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
  // Each line ends so, the last one too (RFC 5545, 3.1): another calendar may follow.
  return `${calendar.toString()}\r\n`;
}
