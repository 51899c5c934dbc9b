import { isTimeZone } from '@/core/time/zone-time';

/**
 * Calendar events as systemd.time(7) writes them: "Mon..Fri *-*-* 06:30", "*-*~1", "Sat *-*-1..7 18:00 Europe/Paris",
 * "hourly". Seconds are whole; a fraction is read and dropped. A time that daylight saving skips does not come; one
 * that is shown twice comes once, at the first passing.
 */
export interface CalendarEvent {
  /** 0 is Monday; null for any day. */
  weekdays: ReadonlySet<number> | null;
  year: Part;
  month: Part;
  day: Part;
  /** Days count from the end of the month: 1 is the last. */
  fromEnd: boolean;
  hour: Part;
  minute: Part;
  second: Part;
  /** Its own zone, where it names one. */
  zone: string | null;
}

/** One component: any value, or those of some items. */
export type Part = readonly Item[] | null;

interface Item {
  start: number;
  stop: number | null;
  repeat: number;
}

/** Where an expression cannot be read, and what would be right there. */
export class CalendarError extends Error {
  constructor(
    /** Counted in characters from 0. */
    readonly position: number,
    message: string,
  ) {
    super(message);
  }
}

const SHORTHANDS: Record<string, string> = {
  minutely: '*-*-* *:*:00',
  hourly: '*-*-* *:00:00',
  daily: '*-*-* 00:00:00',
  weekly: 'Mon *-*-* 00:00:00',
  monthly: '*-*-01 00:00:00',
  quarterly: '*-01,04,07,10-01 00:00:00',
  'semi-annually': '*-01,07-01 00:00:00',
  semiannually: '*-01,07-01 00:00:00',
  'bi-annually': '*-01,07-01 00:00:00',
  biannually: '*-01,07-01 00:00:00',
  yearly: '*-01-01 00:00:00',
  annually: '*-01-01 00:00:00',
  anually: '*-01-01 00:00:00',
};

const WEEKDAYS = ['monday', 'tuesday', 'wednesday', 'thursday', 'friday', 'saturday', 'sunday'];
export const LAST_YEAR = 2199;
const FIRST_YEAR = 1970;

interface Bounds {
  what: string;
  least: number;
  most: number;
}

const BOUNDS = {
  year: { what: 'a year', least: FIRST_YEAR, most: LAST_YEAR },
  month: { what: 'a month', least: 1, most: 12 },
  day: { what: 'a day', least: 1, most: 31 },
  hour: { what: 'an hour', least: 0, most: 23 },
  minute: { what: 'a minute', least: 0, most: 59 },
  second: { what: 'a second', least: 0, most: 59 },
} as const satisfies Record<string, Bounds>;

/** Reads through an expression, character by character. */
class Reader {
  at = 0;

  constructor(readonly text: string) {}

  fail(message: string, at = this.at): never {
    throw new CalendarError(at, message);
  }

  take(piece: string): boolean {
    if (!this.text.startsWith(piece, this.at)) return false;
    this.at += piece.length;
    return true;
  }

  match(pattern: RegExp): string | null {
    const sticky = new RegExp(pattern.source, 'iy');
    sticky.lastIndex = this.at;
    const found = sticky.exec(this.text);
    if (!found) return null;
    this.at += found[0].length;
    return found[0];
  }

  number({ what, least, most }: Bounds): number {
    const at = this.at;
    const digits = this.match(/\d{1,4}/);
    if (digits === null) this.fail(`Expected ${what}, got ${this.got()}.`);
    let value = Number(digits);
    // Two digits of a year are meant as POSIX has them: 69 to 99 of the last century, the rest of this one.
    if (least === FIRST_YEAR && digits.length <= 2) value += value < 70 ? 2000 : 1900;
    if (value < least || value > most) {
      this.fail(`Expected ${what} from ${least} to ${most}, got ${digits}.`, at);
    }
    return value;
  }

  got(): string {
    const rest = this.text.slice(this.at, this.at + 12);
    return rest === '' ? 'the end' : `“${rest}”`;
  }
}

function readItems(reader: Reader, bounds: Bounds): Part {
  if (reader.take('*')) return null;
  const items: Item[] = [];
  do {
    const at = reader.at;
    const start = reader.number(bounds);
    let stop: number | null = start;
    let repeat = 0;
    if (reader.take('..')) {
      stop = reader.number(bounds);
      if (stop < start) reader.fail(`Expected a range that rises, got ${start}..${stop}.`, at);
    }
    if (reader.take('/')) {
      repeat = Number(reader.match(/\d+/) ?? reader.fail(`Expected a step, got ${reader.got()}.`));
      if (repeat < 1) reader.fail('Expected a step of 1 or more, got 0.');
      if (start + repeat > (bounds.most as number) + (repeat === 1 ? 1 : 0)) {
        reader.fail(`Expected a step that stays below ${bounds.most}, got ${start}/${repeat}.`);
      }
      if (stop === start) stop = null;
    }
    items.push({ start, stop, repeat: repeat === 0 ? 1 : repeat });
  } while (reader.take(','));
  return items;
}

function readWeekday(reader: Reader): number {
  const at = reader.at;
  const given = reader.match(/[a-z]+/) ?? '';
  const word = given.toLowerCase();
  const day = WEEKDAYS.findIndex((name) => name === word || (word.length === 3 && name.startsWith(word)));
  if (day < 0) reader.fail(`Expected a weekday such as Mon, got ${given ? `“${given}”` : 'none'}.`, at);
  return day;
}

function readWeekdays(reader: Reader): Set<number> | null {
  if (!/[a-z]/i.test(reader.text[reader.at] ?? '')) return null;
  const days = new Set<number>();
  do {
    const at = reader.at;
    const first = readWeekday(reader);
    const last = reader.take('..') || reader.take('-') ? readWeekday(reader) : first;
    if (last < first) reader.fail('Expected weekdays that rise from Mon to Sun; write Sat,Sun,Mon.', at);
    for (let day = first; day <= last; day += 1) days.add(day);
  } while (reader.match(/,(?=[a-z])/) !== null);
  reader.match(/,?\s*/);
  return days;
}

/** Whether the next piece up to a blank is a date rather than a time. */
function dateIsNext(reader: Reader): boolean {
  const piece = /^\S*?(?=T|\s|$)/.exec(reader.text.slice(reader.at))![0];
  return !piece.includes(':') && /[-~]/.test(piece);
}

function readDate(reader: Reader): Pick<CalendarEvent, 'year' | 'month' | 'day' | 'fromEnd'> {
  const piece = /^\S*?(?=T|\s|$)/.exec(reader.text.slice(reader.at))![0];
  const long = piece.split(/[-~]/).length === 3;
  const year = long ? readItems(reader, BOUNDS.year) : null;
  if (long && !reader.take('-')) reader.fail(`Expected “-” and a month, got ${reader.got()}.`);
  const month = readItems(reader, BOUNDS.month);
  const fromEnd = reader.take('~');
  if (!fromEnd && !reader.take('-')) reader.fail(`Expected “-” and a day, got ${reader.got()}.`);
  return { year, month, day: readItems(reader, BOUNDS.day), fromEnd };
}

function readTime(reader: Reader): Pick<CalendarEvent, 'hour' | 'minute' | 'second'> {
  const hour = readItems(reader, BOUNDS.hour);
  if (!reader.take(':')) reader.fail(`Expected “:” and minutes, got ${reader.got()}.`);
  const minute = readItems(reader, BOUNDS.minute);
  const zero: Part = [{ start: 0, stop: 0, repeat: 1 }];
  const second = reader.take(':') ? readItems(reader, BOUNDS.second) : zero;
  reader.match(/\.\d{1,6}/);
  return { hour, minute, second };
}

const MIDNIGHT = { start: 0, stop: 0, repeat: 1 };

/** Reads a calendar event. Throws a `CalendarError` that says where and what was expected. */
export function parseCalendar(text: string): CalendarEvent {
  const trimmed = text.trim();
  const lead = text.length - text.trimStart().length;
  const [word, ...rest] = trimmed.split(/\s+/);
  const short = SHORTHANDS[word!.toLowerCase()];
  if (short && rest.length <= 1) return parseCalendar([short, ...rest].join(' '));
  const reader = new Reader(trimmed);
  try {
    if (trimmed === '') reader.fail('Expected a calendar event such as Mon..Fri 06:30, got nothing.');
    const weekdays = readWeekdays(reader);
    const begun = reader.at;
    const date = dateIsNext(reader)
      ? readDate(reader)
      : { year: null, month: null, day: null, fromEnd: false };
    if (reader.at > begun) reader.match(/[ \tT]+/);
    const timeIsNext = /^[\d*]/.test(reader.text.slice(reader.at));
    const time = timeIsNext ? readTime(reader) : { hour: [MIDNIGHT], minute: [MIDNIGHT], second: [MIDNIGHT] };
    if (!weekdays && reader.at === begun) {
      reader.fail(`Expected a weekday, a date or a time, got ${reader.got()}.`);
    }
    reader.match(/\s+/);
    const at = reader.at;
    const zone = reader.match(/\S+/);
    if (zone !== null && !isTimeZone(zone)) {
      reader.fail(`Expected the end or a time zone such as Europe/Lisbon, got “${zone}”.`, at);
    }
    reader.match(/\s+/);
    if (reader.at < trimmed.length) reader.fail(`Expected the end, got ${reader.got()}.`);
    return { weekdays, ...date, ...time, zone };
  } catch (error) {
    if (error instanceof CalendarError) throw new CalendarError(error.position + lead, error.message);
    throw error;
  }
}
