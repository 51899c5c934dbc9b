import { momentsOf, wallAt, type Wall } from '@/core/time/zone-time';
import { LAST_YEAR, type CalendarEvent, type Part } from './calendar';

function fits(part: Part, value: number, most: number): boolean {
  if (part === null) return true;
  return part.some(({ start, stop, repeat }) => {
    const end = stop ?? most;
    return value >= start && value <= end && (value - start) % repeat === 0;
  });
}

function daysIn(year: number, month: number): number {
  return new Date(Date.UTC(year, month, 0)).getUTCDate();
}

function dayFits(event: CalendarEvent, date: Date): boolean {
  const [year, month, day] = [date.getUTCFullYear(), date.getUTCMonth() + 1, date.getUTCDate()];
  if (!fits(event.year, year, LAST_YEAR) || !fits(event.month, month, 12)) return false;
  if (event.weekdays && !event.weekdays.has((date.getUTCDay() + 6) % 7)) return false;
  const days = daysIn(year, month);
  if (!event.fromEnd) return fits(event.day, day, 31);
  if (event.day === null) return true;
  return event.day.some(({ start, stop, repeat }) => {
    // From the end backwards: "~3/1" is the third last day and each one after it; "~1..3" the last three.
    const first = days - start + 1;
    if (stop === null) return day >= first && (day - first) % repeat === 0;
    const back = days - day + 1;
    return back >= start && back <= stop && (back - start) % repeat === 0;
  });
}

const LISTS = new WeakMap<CalendarEvent, Record<'hour' | 'minute' | 'second', number[]>>();

function valuesOf(part: Part, most: number): number[] {
  return Array.from({ length: most + 1 }, (_, value) => value).filter((value) => fits(part, value, most));
}

function listsOf(event: CalendarEvent) {
  let lists = LISTS.get(event);
  if (!lists) {
    lists = {
      hour: valuesOf(event.hour, 23),
      minute: valuesOf(event.minute, 59),
      second: valuesOf(event.second, 59),
    };
    LISTS.set(event, lists);
  }
  return lists;
}

/** The first moment of one day strictly after `after`, from a time of day on (in seconds). */
function firstOnDay(event: CalendarEvent, date: Date, fromSecond: number, after: number, zone: string) {
  const { hour: hours, minute: minutes, second: seconds } = listsOf(event);
  const [year, month, day] = [date.getUTCFullYear(), date.getUTCMonth() + 1, date.getUTCDate()];
  for (const hour of hours) {
    if (hour * 3600 + 3599 < fromSecond) continue;
    for (const minute of minutes) {
      if (hour * 3600 + minute * 60 + 59 < fromSecond) continue;
      for (const second of seconds) {
        if (hour * 3600 + minute * 60 + second < fromSecond) continue;
        const wall: Wall = { year, month, day, hour, minute, second };
        const [at] = momentsOf(wall, zone);
        if (at !== undefined && at > after) return at;
      }
    }
  }
  return null;
}

/** The first moment strictly after `after` (ms since 1970), or null where none comes before the year 2200. */
export function nextCalendar(event: CalendarEvent, after: number, zone: string): number | null {
  const place = event.zone ?? zone;
  const wall = wallAt(after, place);
  const last = event.year === null ? wall.year + 40 : LAST_YEAR;
  const date = new Date(Date.UTC(wall.year, wall.month - 1, wall.day));
  let fromSecond = wall.hour * 3600 + wall.minute * 60 + wall.second;
  for (; date.getUTCFullYear() <= last; date.setUTCDate(date.getUTCDate() + 1)) {
    if (dayFits(event, date)) {
      const at = firstOnDay(event, date, fromSecond, after, place);
      if (at !== null) return at;
    }
    fromSecond = 0;
  }
  return null;
}
