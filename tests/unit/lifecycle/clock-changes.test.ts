import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { nextCron } from '@/core/schedule/cron-times';
import { changeNote, timesInWords } from '@/core/schedule/due-notes';
import { nextDue, nextDues } from '@/core/schedule/schedule';
import { wallAt } from '@/core/time/zone-time';
import { tries } from '../tries';

const MINUTE = 60_000;
const DAY = 86_400_000;
const ZONES = [
  'Europe/Lisbon',
  'Europe/Berlin',
  'America/New_York',
  'America/St_Johns',
  'America/Santiago',
  'Australia/Lord_Howe',
  'Pacific/Auckland',
  'Asia/Tehran',
  'Africa/Casablanca',
  'Asia/Kolkata',
];

/** What one field of crontab(5) names, read on its own: lists, ranges and steps of numbers. */
function named(field: string, least: number, most: number): Set<number> {
  const values = new Set<number>();
  for (const item of field.split(',')) {
    const [range, step = '1'] = item.split('/');
    const [from, to] = range === '*' ? [least, most] : range!.split('-').map(Number);
    const end = to ?? (item.includes('/') ? most : from!);
    for (let value = from!; value <= end; value += Number(step)) values.add(value);
  }
  return values;
}

/**
 * The rule, minute by minute of the time that passes: open times are due whenever the clock shows them; named ones when
 * it shows them first, and at the jump for those it never shows.
 */
function expected(expression: string, zone: string, from: number, to: number): number[] {
  const [minute = '', hour = ''] = expression.split(' ');
  const [minutes, hours] = [named(minute, 0, 59), named(hour, 0, 23)];
  const open = minute.startsWith('*') || hour.startsWith('*');
  const shown = new Set<string>();
  const dues: number[] = [];
  let before: number | null = null;
  for (let at = from - 3 * 3_600_000; at <= to; at += MINUTE) {
    const wall = wallAt(at, zone);
    const reading = `${wall.day} ${wall.hour}:${wall.minute}`;
    const first = !shown.has(reading);
    shown.add(reading);
    const clock = Date.UTC(wall.year, wall.month - 1, wall.day, wall.hour, wall.minute) / MINUTE;
    let due = minutes.has(wall.minute) && hours.has(wall.hour) && (open || first);
    // Readings the clock jumped over, midnight too.
    if (!open && before !== null && clock > before + 1) {
      for (let skipped = before + 1; skipped < clock; skipped += 1) {
        if (minutes.has(skipped % 60) && hours.has(Math.floor(skipped / 60) % 24)) due = true;
      }
    }
    if (due && at > from) dues.push(at);
    before = clock;
  }
  return dues;
}

/** The nights of a year on which a zone's clocks change: the day before each. */
function changes(zone: string, year = 2026): number[] {
  const nights: number[] = [];
  const start = Date.UTC(year, 0, 1);
  const offset = (at: number) => {
    const w = wallAt(at, zone);
    return Date.UTC(w.year, w.month - 1, w.day, w.hour, w.minute) - at;
  };
  for (let day = 0; day < 365; day += 1) {
    const at = start + day * DAY;
    if (offset(at) !== offset(at + DAY)) nights.push(at - 12 * 3_600_000);
  }
  return nights;
}

const number = (least: number, most: number) => fc.integer({ min: least, max: most }).map(String);
const field = (least: number, most: number) =>
  fc.oneof(
    number(least, most),
    fc
      .uniqueArray(fc.integer({ min: least, max: most }), { minLength: 2, maxLength: 4 })
      .map((list) => list.sort((a, b) => a - b).join(',')),
    fc
      .tuple(fc.integer({ min: least, max: most - 1 }), fc.integer({ min: 1, max: 5 }))
      .map(([a, n]) => `${a}-${Math.min(most, a + n)}`),
    fc.constantFrom('*', '*/5', '*/2', `${least}-${most}/3`, `${least + 1}-${most}/2`),
  );

describe('times on the nights when clocks change', () => {
  it.each(ZONES)(
    'are due as the rule says, whatever lists, ranges and steps they are written in (%s)',
    (zone) => {
      const nights = changes(zone);
      if (zone !== 'Asia/Kolkata' && zone !== 'Asia/Tehran') expect(nights.length).toBeGreaterThanOrEqual(2);
      const begin = nights.length > 0 ? fc.constantFrom(...nights) : fc.constant(Date.UTC(2026, 2, 1));
      fc.assert(
        fc.property(
          begin,
          field(0, 59),
          fc.oneof({ weight: 3, arbitrary: field(0, 4) }, { weight: 1, arbitrary: field(0, 23) }),
          (from, minute, hour) => {
            const expression = `${minute} ${hour} * * *`;
            const to = from + 2 * DAY;
            const got: number[] = [];
            for (
              let at = nextCron(expression, zone, from);
              at !== null && at <= to;
              at = nextCron(expression, zone, at)
            ) {
              got.push(at);
            }
            expect(got.map((at) => new Date(at).toISOString())).toEqual(
              expected(expression, zone, from, to).map((at) => new Date(at).toISOString()),
            );
          },
        ),
        { numRuns: tries(25) },
      );
    },
  );

  const times = (expression: string, type: 'cron' | 'calendar' = 'cron') => ({
    type,
    expression,
    zone: 'Europe/Lisbon',
  });
  // In Lisbon the hour from 01:00 is shown twice on 25 October 2026, and skipped on 28 March 2027.
  const autumn = Date.parse('2026-10-24T12:00:00Z');
  const spring = Date.parse('2027-03-27T12:00:00Z');
  const iso = (list: number[]) => list.map((at) => new Date(at).toISOString().slice(5, 16));

  it('named ones come once in autumn: no run is awaited at the second passing', () => {
    expect(iso(nextDues(times('0,30 1 * * *'), autumn, 4))).toEqual([
      '10-25T00:00',
      '10-25T00:30',
      '10-26T01:00',
      '10-26T01:30',
    ]);
    expect(iso(nextDues(times('5 0-2 * * *'), autumn, 4))).toEqual([
      '10-24T23:05',
      '10-25T00:05',
      '10-25T02:05',
      '10-26T00:05',
    ]);
  });

  it('named ones that spring skips are all made up for at the jump, once', () => {
    expect(iso(nextDues(times('0,30 1 * * *'), spring, 3))).toEqual([
      '03-28T01:00',
      '03-29T00:00',
      '03-29T00:30',
    ]);
  });

  it('open ones go on through both hours, and wait for nothing in spring', () => {
    expect(iso(nextDues(times('*/30 * * * *'), Date.parse('2026-10-25T00:10:00Z'), 4))).toEqual([
      '10-25T00:30',
      '10-25T01:00',
      '10-25T01:30',
      '10-25T02:00',
    ]);
    expect(iso(nextDues(times('15 * * * *'), Date.parse('2027-03-28T00:00:00Z'), 2))).toEqual([
      '03-28T00:15',
      '03-28T01:15',
    ]);
  });

  it('calendar events come once in autumn and not at all where spring skips them', () => {
    expect(iso(nextDues(times('*-*-* 01:00,30', 'calendar'), autumn, 3))).toEqual([
      '10-25T00:00',
      '10-25T00:30',
      '10-26T01:00',
    ]);
    expect(iso(nextDues(times('*-*-* 01:30', 'calendar'), spring, 1))).toEqual(['03-29T00:30']);
  });

  it('are told in the words of the rule that holds for them', () => {
    const due = nextDue(times('0,30 1 * * *'), autumn)!;
    expect(changeNote(times('0,30 1 * * *'), due)).toContain('due once, the first time');
    expect(changeNote(times('*/30 * * * *'), due)).toContain('it goes on through both hours');
    const jump = nextDue(times('0,30 1 * * *'), spring)!;
    expect(changeNote(times('0,30 1 * * *'), jump)).toContain('right after the jump');
    expect(changeNote(times('*/30 * * * *'), jump)).toContain('not due that day');
  });
});

describe('whose cron it is', () => {
  const dues = (expression: string, dialect: 'usual' | 'debian') =>
    nextDues({ type: 'cron', expression, zone: 'UTC', dialect }, Date.parse('2026-11-01T00:00:00Z'), 3).map(
      (at) => new Date(at).toISOString().slice(5, 10),
    );

  it('makes a difference where a step in the days stands beside a weekday', () => {
    // 2 November 2026 is a Monday.
    expect(dues('0 6 */2 * 1', 'usual')).toEqual(['11-01', '11-02', '11-03']);
    expect(dues('0 6 */2 * 1', 'debian')).toEqual(['11-09', '11-23', '12-07']);
    for (const dialect of ['usual', 'debian'] as const) {
      expect(dues('0 6 3 * 1', dialect)).toEqual(['11-02', '11-03', '11-09']);
      expect(dues('0 6 * * 1', dialect)).toEqual(['11-02', '11-09', '11-16']);
    }
  });

  it('is told in words', () => {
    const words = (dialect: 'usual' | 'debian') =>
      timesInWords({ type: 'cron', expression: '0 6 */2 * 1', zone: 'UTC', dialect });
    expect(words('usual')).toContain('either the day of the month or the weekday is enough');
    expect(words('debian')).toContain('both the day of the month and the weekday must fit');
  });
});
