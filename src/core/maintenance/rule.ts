import { RULE_DAYS } from './rule-choice';
import { mostInOnePeriod, type Frequency, type RuleDays } from './rule-days';
import { wallMsOf } from './wall';

/** What a rule goes by, and one such period in words. */
const PERIODS: Readonly<Record<Frequency, string>> = {
  DAILY: 'day',
  WEEKLY: 'week',
  MONTHLY: 'month',
  YEARLY: 'year',
};
const WEEKDAYS: readonly string[] = RULE_DAYS;
const WEEKDAY = /^([+-]?[1-5])?(MO|TU|WE|TH|FR|SA|SU)$/;
const UNTIL = /^(\d{4})(\d\d)(\d\d)(?:T(\d\d)(\d\d)([0-5]\d)(Z?))?$/;
const LONGEST = 300;

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

const isFrequency = (text: string): text is Frequency => Object.hasOwn(PERIODS, text);

const listOf = (parts: ReadonlyMap<string, string>, name: string) => parts.get(name)?.split(',') ?? null;

function daysOf(frequency: Frequency, parts: ReadonlyMap<string, string>): RuleDays {
  const weekdays = listOf(parts, 'BYDAY')?.map((text) => {
    const [, place, name = ''] = WEEKDAY.exec(text) ?? [];
    return { weekday: WEEKDAYS.indexOf(name), place: place ? Number(place) : null };
  });
  return {
    frequency,
    months: listOf(parts, 'BYMONTH')?.map(Number) ?? null,
    monthDays: listOf(parts, 'BYMONTHDAY')?.map(Number) ?? null,
    weekdays: weekdays ?? null,
  };
}

/** What no year has would be looked for through thousands of them. */
function refuseNever(frequency: Frequency, parts: ReadonlyMap<string, string>): void {
  const places = listOf(parts, 'BYSETPOS')?.map(Number);
  if (frequency === 'DAILY' && places) {
    throw new Error('Expected no BYSETPOS with FREQ=DAILY, where there is one a day.');
  }
  if (places || parts.has('BYMONTHDAY')) {
    const most = mostInOnePeriod(daysOf(frequency, parts));
    if (most === 0) throw new Error('Expected days that one of the months has; this never comes.');
    if (places?.every((place) => Math.abs(place) > most)) {
      throw new Error(
        `Expected BYSETPOS to be within the ${most} of a ${PERIODS[frequency]}; this never comes.`,
      );
    }
  }
  // Every seventh day from a Tuesday on is never a Monday.
  const narrowed = ['BYDAY', 'BYMONTH', 'BYMONTHDAY'].some((name) => parts.has(name));
  if (frequency === 'DAILY' && narrowed && Number(parts.get('INTERVAL') ?? 1) !== 1) {
    throw new Error('Expected no INTERVAL where FREQ=DAILY is narrowed to some days.');
  }
}

/** The end of a rule: its last moment by UTC, or by the wall clock given as if that were UTC; null for no such day. */
export function readUntil(value: string): { last: number; utc: boolean } | null {
  const [, year, month, day, hour = '23', minute = '59', second = '59', utc] = UNTIL.exec(value) ?? [];
  const at = wallMsOf(`${year}-${month}-${day}T${hour}:${minute}`);
  return Number.isNaN(at) ? null : { last: at + Number(second) * 1000, utc: utc === 'Z' };
}

type Reader = (value: string, of: { frequency: Frequency; parts: ReadonlyMap<string, string> }) => string;

const numbers =
  (name: string, most: number, signed = false): Reader =>
  (value) =>
    value
      .split(',')
      .map((one) => whole(name, one, most, signed))
      .join(',');

const isOfEachWeek = (day: string) => WEEKDAYS.includes(day);

/**
 * A day of each week beside those with a place is written as all its places ("MO,2TU" as "1MO" to "5MO", "2TU"): the package
 * that reckons would take it only where both hold.
 */
const readDays: Reader = (value, { frequency, parts }) => {
  const placed = frequency === 'MONTHLY' || (frequency === 'YEARLY' && parts.has('BYMONTH'));
  const days = value.split(',').map((day) => {
    if (WEEKDAY.test(day) && (placed || isOfEachWeek(day))) return day.replace('+', '');
    const such = `MO${placed ? ', 1SU or -1FR' : ''}`;
    throw new Error(`Expected BYDAY to name days such as ${such}, got “${day.slice(0, 20)}”.`);
  });
  const mixed = days.some(isOfEachWeek) && !days.every(isOfEachWeek);
  const all = mixed
    ? days.flatMap((day) => (isOfEachWeek(day) ? [1, 2, 3, 4, 5].map((place) => `${place}${day}`) : day))
    : days;
  return [...new Set(all)].join(',');
};

/** The parts of a rule that are read, each as it is kept. */
const READERS: Readonly<Record<string, Reader>> = {
  FREQ: (value) => value,
  INTERVAL: (value) => String(whole('INTERVAL', value, 400)),
  COUNT: (value) => String(whole('COUNT', value, 1000)),
  UNTIL: (value) => {
    if (readUntil(value)) return value;
    throw new Error(`Expected UNTIL as 20271231 or 20271231T235959Z, got “${value.slice(0, 20)}”.`);
  },
  BYDAY: readDays,
  BYMONTH: numbers('BYMONTH', 12),
  BYMONTHDAY: numbers('BYMONTHDAY', 31, true),
  BYSETPOS: numbers('BYSETPOS', 366, true),
  WKST: (value) => {
    if (isOfEachWeek(value)) return value;
    throw new Error('Expected WKST to be a day such as MO.');
  },
};

function refuseTooLong(rule: string): void {
  if (rule.length <= LONGEST) return;
  throw new Error(`Expected a rule of at most ${LONGEST} characters, got ${rule.length}.`);
}

/**
 * A recurrence rule as it is kept, in one way of writing. Throws an `Error` that says what was expected where it is
 * none, where it comes more often than daily, or never.
 */
export function readRule(text: string): string {
  refuseTooLong(text);
  const parts = partsOf(text);
  const frequency = parts.get('FREQ') ?? '';
  if (!isFrequency(frequency)) {
    throw new Error(
      `Expected FREQ to be ${Object.keys(PERIODS).join(', ')}, got “${frequency.slice(0, 20)}”.`,
    );
  }
  for (const [name, value] of parts) {
    if (!Object.hasOwn(READERS, name)) {
      const known = Object.keys(READERS)
        .join(', ')
        .replace(/, (\w+)$/, ' or $1');
      throw new Error(`Expected ${known}, got “${name.slice(0, 20)}”.`);
    }
    parts.set(name, READERS[name]!(value, { frequency, parts }));
  }
  if (parts.has('COUNT') && parts.has('UNTIL')) throw new Error('Expected COUNT or UNTIL, got both.');
  refuseNever(frequency, parts);
  const { FREQ: _, ...rest } = Object.fromEntries(parts);
  const sorted = Object.entries(rest).sort(([a], [b]) => (a < b ? -1 : 1));
  const rule = [['FREQ', frequency], ...sorted].map((part) => part.join('=')).join(';');
  refuseTooLong(rule);
  return rule;
}
