import * as rrule from 'rrule';
import { DAY_MS, MINUTE_MS } from '@/core/time/units';
import { zoneOffsetMs } from '@/core/time/zone-time';
import { readUntil } from './rule';
import { keptParts } from './rule-choice';
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

/** A rule whose first time lies farther back than this is gone through no more. */
const MOST_YEARS_MS = 20 * 366 * DAY_MS;

/** Until when a rule goes, as a wall clock's reading given as if it were UTC; null where it has no such end. */
function untilOf(rule: string, zone: string): number | null {
  const until = readUntil(/;UNTIL=([^;]+)/.exec(rule)?.[1] ?? '');
  return until && until.last + (until.utc ? zoneOffsetMs(until.last, zone) : 0);
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
  if (high - start > MOST_YEARS_MS) return [];
  const end = Math.min(high, untilOf(rule, zone) ?? Infinity);
  const planned = new RRule({ ...RRule.parseString(rule), dtstart: new Date(start), until: new Date(end) });
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

/** Whether the package that writes words would leave something out of them. */
function isLeftOut(rule: string): boolean {
  const parts = keptParts(rule);
  const [frequency, days = ''] = [parts.get('FREQ'), parts.get('BYDAY')];
  if (parts.has('BYSETPOS') || parts.has('WKST') || parts.get('BYMONTHDAY')?.includes('-')) return true;
  if (days && parts.has('BYMONTHDAY')) return true;
  // Monday to Friday, and all days, are said as such: without the month beside them, without first or last.
  if (frequency === 'WEEKLY') return parts.has('BYMONTH') || parts.has('BYMONTHDAY');
  const isWorkdays = ['MO', 'TU', 'WE', 'TH', 'FR'].every((day) => days.includes(day));
  return isWorkdays && (frequency === 'YEARLY' || /\d/.test(days));
}

/** A rule in words, "every week on Sunday"; where words would leave something of it out, the rule itself. */
export function ruleInWords(rule: string): string {
  if (isLeftOut(rule)) return `by the rule ${rule}`;
  const { until, ...options } = RRule.parseString(rule);
  const words = new RRule(options).toText();
  return until ? `${words} until ${until.toISOString().slice(0, 10)}` : words;
}
