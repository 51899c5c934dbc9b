import { CronExpressionParser } from 'cron-parser';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  cronProblem,
  expectedAfter,
  isTimeZone,
  nextDue,
  nextDues,
  nextLookDue,
  offsetOf,
  type Schedule,
} from '../../src/core/schedule';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;

const cron = (expression: string, zone: string): Schedule => ({ type: 'cron', expression, zone });
const iso = (times: number[]) => times.map((t) => new Date(t).toISOString());
const at = (text: string) => Date.parse(text);

/** What a second, independent cron package says. */
function othersDues(expression: string, zone: string, after: number, count: number): number[] {
  const parsed = CronExpressionParser.parse(expression, { currentDate: new Date(after), tz: zone });
  return Array.from({ length: count }, () => parsed.next().getTime());
}

/** Days on which the clocks of four zones change. Lord Howe Island's change by half an hour only. */
const CHANGES = [
  { zone: 'Europe/Lisbon', spring: '2026-03-29', autumn: '2026-10-25', skipped: '01:30', doubled: '01:30' },
  {
    zone: 'America/New_York',
    spring: '2026-03-08',
    autumn: '2026-11-01',
    skipped: '02:30',
    doubled: '01:30',
  },
  {
    zone: 'America/Santiago',
    spring: '2026-09-06',
    autumn: '2026-04-05',
    skipped: '00:30',
    doubled: '23:30',
  },
  {
    zone: 'Australia/Lord_Howe',
    spring: '2026-10-04',
    autumn: '2026-04-05',
    skipped: '02:15',
    doubled: '01:45',
  },
];

/** The other package finds no way through half-hour changes. */
const COMPARED = CHANGES.filter(({ zone }) => zone !== 'Australia/Lord_Howe');

describe('cron due times', () => {
  for (const { zone, spring, autumn, skipped, doubled } of CHANGES) {
    it(`are due once when daylight saving skips them in ${zone}`, () => {
      const [hour, minute] = skipped.split(':').map(Number);
      const from = at(`${spring}T00:00:00Z`) - 2 * DAY;
      const dues = nextDues(cron(`${minute} ${hour} * * *`, zone), from, 5);
      const gaps = dues.slice(1).map((d, i) => (d - dues[i]!) / HOUR);
      // One due time a day: the day of the change is at most an hour shorter or longer than others.
      for (const gap of gaps) expect(Math.abs(gap - 24)).toBeLessThanOrEqual(1);
    });

    it(`are due once when daylight saving doubles them in ${zone}`, () => {
      const [hour, minute] = doubled.split(':').map(Number);
      const from = at(`${autumn}T00:00:00Z`) - 2 * DAY;
      const dues = nextDues(cron(`${minute} ${hour} * * *`, zone), from, 5);
      const said = dues.map((d) => new Intl.DateTimeFormat('en-CA', { timeZone: zone }).format(d));
      expect(new Set(said).size).toBe(5);
      if (COMPARED.some((c) => c.zone === zone)) {
        expect(dues).toEqual(othersDues(`${minute} ${hour} * * *`, zone, from, 5));
      }
    });
  }

  for (const { zone, spring } of COMPARED) {
    it(`agree with another package on every day of two years in ${zone}, but for how a skipped time is made up`, () => {
      for (const expression of ['30 2 * * *', '0 6 1 * *', '15 23 * * 1-5', '0 12 * * 0', '45 1 * * *']) {
        const from = at('2025-12-31T12:00:00Z');
        const mine = nextDues(cron(expression, zone), from, 400);
        const theirs = othersDues(expression, zone, from, 400);
        for (const [i, due] of mine.entries()) {
          if (due === theirs[i]) continue;
          // They move a skipped time by the jump; cron itself runs it right after. Both stay within the hour.
          expect(Math.abs(due - theirs[i]!)).toBeLessThanOrEqual(HOUR);
          expect(Math.abs(due - at(`${spring}T12:00:00Z`))).toBeLessThan(DAY);
        }
      }
    });
  }

  it('agree with another package for random expressions away from the changes', () => {
    const expressions = fc
      .tuple(
        fc.integer({ min: 0, max: 59 }),
        fc.integer({ min: 0, max: 23 }),
        fc.oneof(fc.constant('*'), fc.integer({ min: 1, max: 28 }).map(String)),
        fc.oneof(fc.constant('*'), fc.integer({ min: 1, max: 12 }).map(String)),
      )
      .map(([minute, hour, day, month]) => `${minute} ${hour} ${day} ${month} *`);
    const zones = fc.constantFrom('UTC', 'Asia/Tokyo', 'Asia/Kolkata', 'America/Phoenix');
    fc.assert(
      fc.property(
        expressions,
        zones,
        fc.integer({ min: at('2024-01-01'), max: at('2030-01-01') }),
        (expression, zone, after) => {
          expect(iso(nextDues(cron(expression, zone), after, 3))).toEqual(
            iso(othersDues(expression, zone, after, 3)),
          );
        },
      ),
      { numRuns: 150 },
    );
  });

  it('go on through a doubled hour when every quarter of an hour is due', () => {
    const dues = nextDues(cron('*/15 * * * *', 'Europe/Lisbon'), at('2026-10-25T00:50:00Z'), 6);
    expect(iso(dues)).toEqual([
      '2026-10-25T01:00:00.000Z',
      '2026-10-25T01:15:00.000Z',
      '2026-10-25T01:30:00.000Z',
      '2026-10-25T01:45:00.000Z',
      '2026-10-25T02:00:00.000Z',
      '2026-10-25T02:15:00.000Z',
    ]);
  });

  it('come strictly after the moment asked for, and in order', () => {
    const schedule = cron('30 2 * * *', 'UTC');
    const due = at('2026-11-24T02:30:00Z');
    expect(nextDue(schedule, due - 1)).toBe(due);
    expect(nextDue(schedule, due)).toBe(due + DAY);
  });

  it('never come for a date that does not exist', () => {
    expect(cronProblem('0 0 31 2 *', 'UTC')).toBe('This expression never comes due.');
  });
});

describe('a cron expression that cannot be used', () => {
  it.each([
    ['30 2 * *', 'UTC', 'Expected five fields (minute hour day month weekday), got 4.'],
    ['', 'UTC', 'Expected five fields (minute hour day month weekday), got 0.'],
    ['30 2 * * *', 'Europe/Nowhere', 'Expected a time zone such as Europe/Lisbon, got "Europe/Nowhere".'],
  ])('%j in %s is told as such', (expression, zone, message) => {
    expect(cronProblem(expression, zone)).toBe(message);
  });

  it('names what cannot be read', () => {
    expect(cronProblem('61 2 * * *', 'UTC')).toMatch(/^This cron expression cannot be read: /);
    expect(cronProblem('x 2 * * *', 'UTC')).toMatch(/^This cron expression cannot be read: /);
  });

  it('accepts names and shorthands', () => {
    for (const fine of ['30 2 * * *', '*/5 9-17 * * MON-FRI', '@daily', '0 0 1 JAN *']) {
      expect(cronProblem(fine, 'Europe/Lisbon')).toBeNull();
    }
  });

  it('knows time zones', () => {
    expect(isTimeZone('Atlantic/Azores')).toBe(true);
    expect(isTimeZone('')).toBe(false);
  });
});

describe('what is expected after a check-in', () => {
  it('skips a due time that a check-in came just ahead of', () => {
    const schedule = cron('0 * * * *', 'UTC');
    const hour = at('2026-11-24T08:00:00Z');
    expect(expectedAfter(schedule, hour - 4 * 60_000)).toBe(hour + HOUR);
    expect(expectedAfter(schedule, hour - 6 * 60_000)).toBe(hour);
    // For a schedule every minute, a quarter of the gap is all the earliness there is.
    const dense = cron('* * * * *', 'UTC');
    expect(expectedAfter(dense, hour - 10_000)).toBe(hour + 60_000);
    expect(expectedAfter(dense, hour - 20_000)).toBe(hour);
  });

  it('is one period later for a period', () => {
    expect(expectedAfter({ type: 'period', everyMs: 900_000 }, 5)).toBe(900_005);
  });
});

describe('look times', () => {
  it('lie on a grid that no look can move', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 5000, max: 30 * DAY }),
        fc.integer({ min: 1, max: 1_000_000 }),
        fc.integer({ min: 0, max: 2_000_000_000_000 }),
        (every, id, after) => {
          const offset = offsetOf(id, every);
          const due = nextLookDue(every, offset, after);
          expect(due).toBeGreaterThan(after);
          expect(due - after).toBeLessThanOrEqual(every);
          expect((due - offset) % every).toBe(0);
        },
      ),
    );
  });

  it('are spread evenly over the interval by id', () => {
    const tenths = new Array<number>(10).fill(0);
    for (let id = 1; id <= 10_000; id += 1) tenths[Math.floor(offsetOf(id, 1000) / 100)]! += 1;
    for (const share of tenths) expect(Math.abs(share - 1000)).toBeLessThan(100);
  });
});
