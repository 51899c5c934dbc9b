import * as rrule from 'rrule';
import { DAY_MS, MINUTE_MS } from '@/core/time/units';
import { zoneOffsetMs } from '@/core/time/zone-time';
import { momentOfWall, wallMsOf, wallText } from './wall';

// Bundlers take the package's modules, Node its CommonJS, which has what it names in its whole.
const { RRule } = ('default' in rrule ? rrule.default : rrule) as typeof rrule;

/** Something planned again and again, by the wall clock of a zone. */
export interface Recurrence {
  /** What RFC 5545 (3.3.10) calls a recurrence rule: "FREQ=WEEKLY;BYDAY=SU". */
  rule: string;
  zone: string;
  /** What the wall clock shows when it begins first: "2026-12-06T02:00". */
  first: string;
  /** How long it lasts by the wall clock, in minutes. */
  lastsMinutes: number;
}

/** One time it comes. */
export interface Occurrence {
  /** What the wall clock was meant to show; by it the occurrence is known, however it is moved afterwards. */
  wall: string;
  begins: number;
  ends: number;
}

const FREQUENCIES = ['DAILY', 'WEEKLY', 'MONTHLY', 'YEARLY'];
const LISTS = { BYMONTH: 12, BYMONTHDAY: 31, BYSETPOS: 366 };
const WEEKDAY = /^([+-]?[1-5])?(MO|TU|WE|TH|FR|SA|SU)$/;
const UNTIL = /^(\d{4})(\d\d)(\d\d)(?:T(\d\d)(\d\d)(\d\d)(Z?))?$/;
const MOST_COUNT = 1000;
const MOST_INTERVAL = 400;
/** The longest a set can be out of which one is taken by its place. */
const SET_SIZE: Readonly<Record<string, number>> = { WEEKLY: 7, MONTHLY: 31, YEARLY: 366 };
/** A rule whose first time lies farther back than this is gone through no more. */
const MOST_YEARS_MS = 20 * 366 * DAY_MS;

function whole(name: string, text: string, most: number, signed = false): number {
  const value = Number(text);
  const fine = /^[+-]?\d{1,4}$/.test(text) && value !== 0 && Math.abs(value) <= most && (signed || value > 0);
  if (!fine) {
    const least = signed ? `-${most} to -1 or 1` : '1';
    throw new Error(
      `Expected ${name} to be a whole number from ${least} to ${most}, got “${text.slice(0, 20)}”.`,
    );
  }
  return value;
}

function partsOf(rule: string): Map<string, string> {
  const parts = new Map<string, string>();
  for (const part of rule
    .trim()
    .toUpperCase()
    .replace(/^RRULE:/, '')
    .split(';')) {
    const [name = '', value = '', ...rest] = part.split('=');
    if (!name || !value || rest.length > 0) {
      throw new Error(
        `Expected parts such as FREQ=WEEKLY with “;” between them, got “${part.slice(0, 40)}”.`,
      );
    }
    if (parts.has(name)) throw new Error(`Expected ${name.slice(0, 20)} once.`);
    parts.set(name, value);
  }
  return parts;
}

const longestMonth = (month: number) => (month === 2 ? 29 : [4, 6, 9, 11].includes(month) ? 30 : 31);

/** Days that no month has would be looked for through thousands of years. */
function refuseNever(frequency: string, parts: ReadonlyMap<string, string>): void {
  const months = parts.get('BYMONTH')?.split(',').map(Number) ?? [1];
  const days = parts.get('BYMONTHDAY')?.split(',').map(Number);
  if (days && !months.some((month) => days.some((day) => Math.abs(day) <= longestMonth(month)))) {
    throw new Error('Expected days that one of the months has; this never comes.');
  }
  const places = parts.get('BYSETPOS')?.split(',').map(Number);
  if (places && !places.some((place) => Math.abs(place) <= (SET_SIZE[frequency] ?? 0))) {
    throw new Error(`Expected BYSETPOS to be within ${frequency.toLowerCase()} days; this never comes.`);
  }
  if (frequency === 'DAILY' && parts.has('BYSETPOS')) {
    throw new Error('Expected no BYSETPOS with FREQ=DAILY, where there is one a day.');
  }
  // Every seventh day from a Tuesday on is never a Monday.
  const narrowed = ['BYDAY', 'BYMONTH', 'BYMONTHDAY'].some((name) => parts.has(name));
  if (frequency === 'DAILY' && narrowed && Number(parts.get('INTERVAL') ?? 1) !== 1) {
    throw new Error('Expected no INTERVAL where FREQ=DAILY is narrowed to some days.');
  }
}

/**
 * A recurrence rule as it is kept, in one way of writing. Throws an `Error` that says what was expected where it is
 * none, where it comes more often than daily, or never.
 */
export function readRule(text: string): string {
  if (text.length > 300) throw new Error(`Expected a rule of at most 300 characters, got ${text.length}.`);
  const parts = partsOf(text);
  const frequency = parts.get('FREQ') ?? '';
  if (!FREQUENCIES.includes(frequency)) {
    throw new Error(`Expected FREQ to be ${FREQUENCIES.join(', ')}, got “${frequency.slice(0, 20)}”.`);
  }
  for (const [name, value] of parts) {
    if (name in LISTS) {
      const most = LISTS[name as keyof typeof LISTS];
      for (const one of value.split(',')) whole(name, one, most, name !== 'BYMONTH');
    } else if (name === 'INTERVAL') whole(name, value, MOST_INTERVAL);
    else if (name === 'COUNT') whole(name, value, MOST_COUNT);
    else if (name === 'BYDAY') {
      const numbered = frequency === 'MONTHLY' || (frequency === 'YEARLY' && parts.has('BYMONTH'));
      for (const day of value.split(',')) {
        const found = WEEKDAY.exec(day);
        if (!found || (found[1] && !numbered)) {
          throw new Error(
            `Expected BYDAY to name days such as MO${numbered ? ', 1SU or -1FR' : ''}, got “${day.slice(0, 20)}”.`,
          );
        }
      }
    } else if (name === 'UNTIL') {
      if (!UNTIL.test(value))
        throw new Error(`Expected UNTIL as 20271231 or 20271231T235959Z, got “${value.slice(0, 20)}”.`);
    } else if (name === 'WKST') {
      if (!/^(MO|TU|WE|TH|FR|SA|SU)$/.test(value)) throw new Error('Expected WKST to be a day such as MO.');
    } else if (name !== 'FREQ') {
      throw new Error(
        `Expected FREQ, INTERVAL, COUNT, UNTIL, BYDAY, BYMONTH, BYMONTHDAY, BYSETPOS or WKST, got “${name.slice(0, 20)}”.`,
      );
    }
  }
  if (parts.has('COUNT') && parts.has('UNTIL')) throw new Error('Expected COUNT or UNTIL, got both.');
  refuseNever(frequency, parts);
  const { FREQ: _, ...rest } = Object.fromEntries(parts);
  return [
    `FREQ=${frequency}`,
    ...Object.keys(rest)
      .sort()
      .map((name) => `${name}=${rest[name]}`),
  ].join(';');
}

/** Until when a rule goes, as a wall clock's reading given as if it were UTC; null where it has no such end. */
function untilOf(rule: string, zone: string): number | null {
  const found = UNTIL.exec(/(?:^|;)UNTIL=([^;]+)/.exec(rule)?.[1] ?? '');
  if (!found) return null;
  const [year, month, day, hour, minute, second] = found.slice(1, 7).map((part) => Number(part ?? NaN));
  const date = Date.UTC(year!, month! - 1, day!);
  if (Number.isNaN(hour)) return date + DAY_MS - 1;
  const at = date + ((hour! * 60 + minute!) * 60 + second!) * 1000;
  return found[7] === 'Z' ? at + zoneOffsetMs(at, zone) : at;
}

/**
 * The times something comes that are not over at `from` and begin before `until` (ms since 1970), in order, at most so
 * many. The wall clock counts: what begins at two does so on both sides of a change of the clocks, and lasts until the
 * clock shows its end.
 */
export function occurrencesOf(
  { rule, zone, first, lastsMinutes }: Recurrence,
  { from, until, most }: { from: number; until: number; most: number },
): Occurrence[] {
  const start = wallMsOf(first);
  const lastsMs = lastsMinutes * MINUTE_MS;
  // A day more on each side: clocks differ from UTC by less.
  const [low, high] = [from - lastsMs - DAY_MS, until + DAY_MS];
  if (high - start > MOST_YEARS_MS || high < start) return [];
  const options = RRule.parseString(rule.replace(/;UNTIL=[^;]+/, ''));
  const end = Math.min(high, untilOf(rule, zone) ?? Infinity);
  const planned = new RRule({ ...options, dtstart: new Date(start), until: new Date(end) });
  const found: Occurrence[] = [];
  planned.between(new Date(Math.max(low, start)), new Date(end), true, (date) => {
    const wall = date.getTime();
    const begins = momentOfWall(wall, zone);
    const ends = Math.max(momentOfWall(wall + lastsMs, zone), begins + MINUTE_MS);
    if (ends > from && begins < until) found.push({ wall: wallText(wall), begins, ends });
    return found.length < most;
  });
  return found;
}

/** A rule in words, "every week on Sunday"; where words would leave something of it out, the rule itself. */
export function ruleInWords(rule: string): string {
  if (/BYSETPOS|BYMONTHDAY=[^;]*-|WKST/.test(rule)) return `by the rule ${rule}`;
  const { until, ...options } = RRule.parseString(rule);
  const words = new RRule(options).toText();
  return until ? `${words} until ${until.toISOString().slice(0, 10)}` : words;
}
