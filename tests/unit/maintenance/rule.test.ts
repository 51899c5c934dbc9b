import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { occurrencesOf, ruleInWords } from '@/core/maintenance/recurrence';
import { readRule, readUntil } from '@/core/maintenance/rule';
import { DAY_MS } from '@/core/time/units';
import { tries } from '../tries';

const DAYS = ['MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU'];
const FROM = Date.parse('2027-01-01T00:00:00Z');
const UNTIL = Date.parse('2029-01-01T00:00:00Z');

/** A rule of these parts as it is read, where it is one. */
function ruleOf(parts: Readonly<Record<string, string>>): string | null {
  const named = Object.entries(parts).filter(([, value]) => value);
  try {
    return readRule(named.map(([name, value]) => `${name}=${value}`).join(';'));
  } catch {
    return null;
  }
}

const daysIn = (rule: string) =>
  occurrencesOf(
    { rule, zone: 'UTC', first: '2027-01-01T02:00', lastsMinutes: 60 },
    { from: FROM, until: UNTIL, most: 2000 },
  ).map(({ wall }) => wall.slice(0, 10));

/** The same days as the RFC has it, looked at one by one. */
function daysByTheBook(rule: string): string[] {
  const parts = new Map(rule.split(';').map((part) => part.split('=') as [string, string]));
  const numbers = (name: string) => parts.get(name)?.split(',').map(Number);
  const frequency = parts.get('FREQ')!;
  const bare = frequency !== 'DAILY' && !parts.has('BYDAY') && !parts.has('BYMONTHDAY');
  const days = parts.get('BYDAY')?.split(',') ?? (bare && frequency === 'WEEKLY' ? ['FR'] : null);
  const monthDays = numbers('BYMONTHDAY') ?? (bare && frequency !== 'WEEKLY' ? [1] : null);
  const months = numbers('BYMONTH') ?? (bare && frequency === 'YEARLY' ? [1] : null);
  const sets = new Map<number, string[]>();
  for (let number = 0; FROM + number * DAY_MS < UNTIL; number += 1) {
    const date = new Date(FROM + number * DAY_MS);
    const [year, month, day] = [date.getUTCFullYear(), date.getUTCMonth(), date.getUTCDate()];
    const fromEnd = day - new Date(Date.UTC(year, month + 1, 0)).getUTCDate() - 1;
    const name = DAYS[(date.getUTCDay() + 6) % 7]!;
    const places = [name, `${Math.ceil(day / 7)}${name}`, `${-Math.ceil(-fromEnd / 7)}${name}`];
    if (months && !months.includes(month + 1)) continue;
    if (monthDays && !monthDays.includes(day) && !monthDays.includes(fromEnd)) continue;
    if (days && !days.some((one) => places.includes(one))) continue;
    const periods: Record<string, number> = {
      // The first of January 2027 is a Friday.
      ...{ DAILY: number, WEEKLY: Math.floor((number + 4) / 7), MONTHLY: year * 12 + month - 2027 * 12 },
      YEARLY: year - 2027,
    };
    const period = periods[frequency]!;
    if (period % Number(parts.get('INTERVAL') ?? 1) !== 0) continue;
    sets.set(period, [...(sets.get(period) ?? []), date.toISOString().slice(0, 10)]);
  }
  const taken = numbers('BYSETPOS');
  const isTaken = (i: number, of: number) => !taken || taken.includes(i + 1) || taken.includes(i - of);
  return [...sets.values()].flatMap((set) => set.filter((_, i) => isTaken(i, set.length)));
}

const anyParts = fc.record({
  FREQ: fc.constantFrom('DAILY', 'WEEKLY', 'MONTHLY', 'YEARLY'),
  INTERVAL: fc.constantFrom('', '', '2'),
  BYDAY: fc.constantFrom(
    ...['', '', 'MO', 'SA,SU', 'MO,TU,WE,TH,FR', DAYS.join(','), '1SU', '-1SU,2MO'],
    ...['1MO,1TU,1WE,1TH,1FR', 'MO,2TU', 'MO,2MO', '1MO,TU,WE,TH,FR'],
  ),
  BYMONTH: fc.constantFrom('', '', '1', '1,2'),
  BYMONTHDAY: fc.constantFrom('', '', '1', '1,15', '-1', '29,30'),
  BYSETPOS: fc.constantFrom('', '', '', '1', '-1', '2'),
});

describe('a rule as it is read', () => {
  it('is kept in one way of writing', () => {
    expect(readRule(' rrule:byday=su;freq=weekly ')).toBe('FREQ=WEEKLY;BYDAY=SU');
    expect(readRule('FREQ=MONTHLY;INTERVAL=+2;BYDAY=-1FR,+1SU;COUNT=07;BYMONTHDAY=+1,-2')).toBe(
      'FREQ=MONTHLY;BYDAY=-1FR,1SU;BYMONTHDAY=1,-2;COUNT=7;INTERVAL=2',
    );
    expect(readRule('FREQ=YEARLY;BYMONTH=3;BYDAY=1SU;WKST=SU')).toBe(
      'FREQ=YEARLY;BYDAY=1SU;BYMONTH=3;WKST=SU',
    );
    // A day of each week beside one with a place: all its places.
    expect(readRule('FREQ=MONTHLY;BYDAY=MO,2TU')).toBe('FREQ=MONTHLY;BYDAY=1MO,2MO,3MO,4MO,5MO,2TU');
    expect(readRule('FREQ=DAILY'.padStart(300))).toBe('FREQ=DAILY');
  });

  it.each([
    ['', 'Expected parts such as FREQ=WEEKLY with “;” between them, got “”.'],
    ['FREQ', 'Expected parts such as FREQ=WEEKLY with “;” between them, got “FREQ”.'],
    ['FREQ=DAILY;=3', 'Expected parts such as FREQ=WEEKLY with “;” between them, got “=3”.'],
    ['FREQ=DAILY;COUNT=', 'Expected parts such as FREQ=WEEKLY with “;” between them, got “COUNT=”.'],
    ['FREQ=DAILY=X', 'Expected parts such as FREQ=WEEKLY with “;” between them, got “FREQ=DAILY=X”.'],
    ['A'.repeat(50), `Expected parts such as FREQ=WEEKLY with “;” between them, got “${'A'.repeat(40)}”.`],
    ['FREQ=DAILY;FREQ=DAILY', 'Expected FREQ once.'],
    [`${'A'.repeat(30)}=1;${'A'.repeat(30)}=1`, `Expected ${'A'.repeat(20)} once.`],
    ['FREQ=HOURLY', 'Expected FREQ to be DAILY, WEEKLY, MONTHLY, YEARLY, got “HOURLY”.'],
    ['BYDAY=MO', 'Expected FREQ to be DAILY, WEEKLY, MONTHLY, YEARLY, got “”.'],
    [
      `FREQ=${'A'.repeat(30)}`,
      `Expected FREQ to be DAILY, WEEKLY, MONTHLY, YEARLY, got “${'A'.repeat(20)}”.`,
    ],
    ...['0', '401', '-1', '1E2', '.5', '0X1', 'TWO'].map((wrong) => [
      `FREQ=DAILY;INTERVAL=${wrong}`,
      `Expected INTERVAL to be a whole number from 1 to 400, got “${wrong}”.`,
    ]),
    [
      `FREQ=DAILY;COUNT=${'9'.repeat(30)}`,
      `Expected COUNT to be a whole number from 1 to 1000, got “${'9'.repeat(20)}”.`,
    ],
    ['FREQ=DAILY;COUNT=1001', 'Expected COUNT to be a whole number from 1 to 1000, got “1001”.'],
    ['FREQ=DAILY;COUNT=3;UNTIL=20270101', 'Expected COUNT or UNTIL, got both.'],
    ...['TOMORROW', '20271301', '20270230', '20270101T2500', '20270101T250000Z', '20270101T006000'].map(
      (wrong) => [
        `FREQ=DAILY;UNTIL=${wrong}`,
        `Expected UNTIL as 20271231 or 20271231T235959Z, got “${wrong}”.`,
      ],
    ),
    [
      `FREQ=DAILY;UNTIL=${'1'.repeat(30)}`,
      `Expected UNTIL as 20271231 or 20271231T235959Z, got “${'1'.repeat(20)}”.`,
    ],
    ...['BYHOUR', 'RRULE:COUNT', 'A'.repeat(20)].map((name) => [
      `FREQ=DAILY;${name === 'A'.repeat(20) ? 'A'.repeat(30) : name}=3`,
      `Expected FREQ, INTERVAL, COUNT, UNTIL, BYDAY, BYMONTH, BYMONTHDAY, BYSETPOS or WKST, got “${name}”.`,
    ]),
    ...['XX', 'MOO', 'XMO'].map((day) => [`FREQ=DAILY;WKST=${day}`, 'Expected WKST to be a day such as MO.']),
    ['FREQ=WEEKLY;BYDAY=1SU', 'Expected BYDAY to name days such as MO, got “1SU”.'],
    ['FREQ=WEEKLY;BYMONTH=1;BYDAY=1SU', 'Expected BYDAY to name days such as MO, got “1SU”.'],
    ['FREQ=YEARLY;BYDAY=1SU', 'Expected BYDAY to name days such as MO, got “1SU”.'],
    ['FREQ=MONTHLY;BYDAY=MO,6MO', 'Expected BYDAY to name days such as MO, 1SU or -1FR, got “6MO”.'],
    [
      `FREQ=DAILY;BYDAY=${'A'.repeat(30)}`,
      `Expected BYDAY to name days such as MO, got “${'A'.repeat(20)}”.`,
    ],
    [
      'FREQ=MONTHLY;BYMONTHDAY=1,32',
      'Expected BYMONTHDAY to be a whole number from -31 to -1 or 1 to 31, got “32”.',
    ],
    ['FREQ=MONTHLY;BYMONTH=-1', 'Expected BYMONTH to be a whole number from 1 to 12, got “-1”.'],
    [
      // Each Sunday is written as its five places.
      `FREQ=MONTHLY;BYDAY=SU,1MO;BYSETPOS=${'1,'.repeat(130)}1`,
      'Expected a rule of at most 300 characters, got 313.',
    ],
    ['FREQ=DAILY'.padStart(301), 'Expected a rule of at most 300 characters, got 301.'],
  ])('is refused with what was expected: %s', (rule, said) => {
    expect(() => readRule(rule!)).toThrow(new Error(said));
  });

  const NO_DAY = 'Expected days that one of the months has; this never comes.';
  const within = (most: string) => `Expected BYSETPOS to be within the ${most}; this never comes.`;

  it.each([
    ['FREQ=DAILY;BYMONTH=2;BYMONTHDAY=30', NO_DAY],
    ['FREQ=YEARLY;BYMONTH=4,6;BYMONTHDAY=31', NO_DAY],
    ['FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=-30', NO_DAY],
    ['FREQ=MONTHLY;BYMONTHDAY=8;BYDAY=1MO', NO_DAY],
    ['FREQ=DAILY;BYSETPOS=1', 'Expected no BYSETPOS with FREQ=DAILY, where there is one a day.'],
    ['FREQ=WEEKLY;BYSETPOS=2', within('1 of a week')],
    ['FREQ=WEEKLY;BYSETPOS=3;BYDAY=MO,TU', within('2 of a week')],
    ['FREQ=MONTHLY;BYSETPOS=2', within('1 of a month')],
    ['FREQ=MONTHLY;BYSETPOS=-6;BYDAY=MO', within('5 of a month')],
    ['FREQ=MONTHLY;BYSETPOS=2;BYDAY=MO;BYMONTHDAY=1,2', within('1 of a month')],
    ['FREQ=YEARLY;BYSETPOS=2', within('1 of a year')],
    ['FREQ=YEARLY;BYSETPOS=3;BYMONTH=1,2', within('2 of a year')],
    ['FREQ=YEARLY;BYSETPOS=54;BYDAY=SU', within('53 of a year')],
    ...['BYDAY=MO', 'BYMONTH=1', 'BYMONTHDAY=1'].map((part) => [
      `FREQ=DAILY;INTERVAL=7;${part}`,
      'Expected no INTERVAL where FREQ=DAILY is narrowed to some days.',
    ]),
  ])('is refused where it would be looked for without end: %s', (rule, said) => {
    expect(() => readRule(rule!)).toThrow(new Error(said));
  });

  it.each([
    'FREQ=YEARLY;BYMONTH=2,4;BYMONTHDAY=30',
    'FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=-29,31',
    'FREQ=WEEKLY;BYDAY=MO,TU;BYSETPOS=2',
    'FREQ=MONTHLY;BYDAY=MO;BYSETPOS=5,9',
    'FREQ=YEARLY;BYDAY=SU;BYSETPOS=-53',
    'FREQ=DAILY;INTERVAL=7',
    'FREQ=DAILY;BYDAY=MO;INTERVAL=1',
  ])('is taken where it comes at some time: %s', (rule) => {
    expect(readRule(rule)).toBe(rule);
  });

  it('has an end: its last day, or its last moment', () => {
    const last = (iso: string) => Date.parse(iso);
    expect(readUntil('20271231')).toEqual({ last: last('2027-12-31T23:59:59Z'), utc: false });
    expect(readUntil('20271231T020304')).toEqual({ last: last('2027-12-31T02:03:04Z'), utc: false });
    expect(readUntil('20271231T020304Z')).toEqual({ last: last('2027-12-31T02:03:04Z'), utc: true });
    for (const wrong of ['', '2027-12-31', '20271231Z', '20271231T0203', 'x20271231', '20271231T020304Zx']) {
      expect(readUntil(wrong)).toBe(null);
    }
  });

  it('comes on the days the RFC says', () => {
    fc.assert(
      fc.property(anyParts, (parts) => {
        const rule = ruleOf(parts);
        fc.pre(rule !== null);
        // What is cut by the end of the span is another set.
        const whole = (days: string[]) => days.filter((day) => day < '2028-12-24');
        expect(whole(daysIn(rule))).toEqual(whole(daysByTheBook(rule)));
      }),
      { numRuns: tries(60) },
    );
  });
});

describe('a rule in words', () => {
  it.each([
    ['FREQ=MONTHLY;BYDAY=1SU', 'every month on the 1st Sunday'],
    ['FREQ=WEEKLY;BYDAY=MO,TU,WE,TH,FR', 'every weekday'],
    ['FREQ=MONTHLY;BYMONTHDAY=5,25', 'every month on the 5th and 25th'],
    ['FREQ=YEARLY;BYDAY=-1SU;BYMONTH=3', 'every March on the last Sunday'],
    ['FREQ=DAILY;UNTIL=20271231', 'every day until 2027-12-31'],
    ['FREQ=DAILY;COUNT=3', 'every day for 3 times'],
  ])('is said so that anybody understands it: %s', (rule, words) => {
    expect(ruleInWords(rule)).toBe(words);
  });

  it.each([
    'FREQ=MONTHLY;BYDAY=MO,TU,WE,TH,FR;BYSETPOS=-1',
    'FREQ=WEEKLY;INTERVAL=2;WKST=SU',
    'FREQ=MONTHLY;BYMONTHDAY=1,-1',
    'FREQ=YEARLY;BYDAY=5MO;BYMONTH=2;BYMONTHDAY=29',
    'FREQ=WEEKLY;BYDAY=MO,TU,WE,TH,FR;BYMONTH=1',
    'FREQ=WEEKLY;BYMONTHDAY=1',
    'FREQ=YEARLY;BYDAY=MO,TU,WE,TH,FR',
    'FREQ=MONTHLY;BYDAY=1MO,1TU,1WE,1TH,1FR',
  ])('is the rule itself where words would leave something out: %s', (rule) => {
    expect(ruleInWords(rule)).toBe(`by the rule ${rule}`);
  });

  it('never says the same of rules that come on other days', () => {
    const said = new Map<string, { rule: string; days: string }>();
    fc.assert(
      fc.property(anyParts, (parts) => {
        const rule = ruleOf({ ...parts, BYSETPOS: '' });
        fc.pre(rule !== null);
        const [words, days] = [ruleInWords(rule), daysIn(rule).join()];
        const before = said.get(words) ?? { rule, days };
        expect(days, `${words}: ${rule}, ${before.rule}`).toBe(before.days);
        said.set(words, before);
      }),
      { numRuns: tries(120) },
    );
  });
});
