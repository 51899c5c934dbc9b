import { CronExpressionParser } from 'cron-parser';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  cronProblem,
  expectedAfter,
  nextDue,
  nextDues,
  nextLookDue,
  offsetOf,
  type Schedule,
  timesProblem,
} from '@/core/schedule/schedule';
import { clockChange, isTimeZone, momentsOf, wallAt } from '@/core/time/zone-time';
import { tries } from '../tries';

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
      { numRuns: tries(150) },
    );
  });

  it('agree with another package over ten years in six zones, away from the days on which clocks change', () => {
    const field = (least: number, most: number) => {
      const value = fc.integer({ min: least, max: most });
      return fc.oneof(
        { weight: 3, arbitrary: fc.constant('*') },
        { weight: 3, arbitrary: value.map(String) },
        fc.integer({ min: 2, max: 12 }).map((step) => `*/${step}`),
        fc.uniqueArray(value, { minLength: 2, maxLength: 3 }).map((list) => list.join()),
        fc.tuple(value, value).map(([a, b]) => `${Math.min(a, b)}-${Math.max(a, b)}`),
      );
    };
    const weekday = fc.oneof(
      { weight: 3, arbitrary: fc.constant('*') },
      fc.constantFrom('MON', 'SUN', '1-5', 'TUE,THU', '0', '5#2', '5L'),
    );
    const expressions = fc
      .tuple(field(0, 59), field(0, 23), fc.oneof(field(1, 28), fc.constant('L')), field(1, 12), weekday)
      .filter(([, , day, , week]) => day === '*' || week === '*')
      .map((fields) => fields.join(' '));
    const zones = fc.constantFrom(
      'UTC',
      'Europe/Lisbon',
      'America/New_York',
      'America/Santiago',
      'Asia/Kolkata',
      'Australia/Sydney',
    );
    const moments = fc.integer({ min: at('2020-01-01'), max: at('2030-01-01') });
    let compared = 0;
    fc.assert(
      fc.property(expressions, zones, moments, (expression, zone, after) => {
        const mine = nextDues(cron(expression, zone), after, 3);
        const last = mine.at(-1) ?? after;
        const quiet = (time: number) => clockChange(time - 2 * DAY, time + 2 * DAY, zone) === null;
        const theirs = othersDues(expression, zone, after, mine.length);
        if (last - after > 366 * DAY || ![after, ...mine, ...theirs].every(quiet)) return;
        compared += 1;
        expect(iso(mine)).toEqual(iso(theirs));
      }),
      { numRuns: tries(600) },
    );
    expect(compared).toBeGreaterThan(tries(300));
  });

  it('of several expressions are those of any of them, each once', () => {
    const both = cron('0 6 * * *\n0 6,18 * * 1', 'UTC');
    expect(iso(nextDues(both, at('2026-11-22T12:00:00Z'), 3))).toEqual([
      '2026-11-23T06:00:00.000Z',
      '2026-11-23T18:00:00.000Z',
      '2026-11-24T06:00:00.000Z',
    ]);
  });

  it('pass over days off, as the zone’s own calendar has them', () => {
    const zone = 'Asia/Tokyo';
    const daysOff = ['2026-11-24', '2026-11-25', '2027-01-01'];
    const schedule: Schedule = { type: 'cron', expression: '*/30 * * * *', zone, daysOff };
    expect(iso(nextDues(schedule, at('2026-11-23T14:20:00Z'), 2))).toEqual([
      '2026-11-23T14:30:00.000Z',
      '2026-11-25T15:00:00.000Z',
    ]);
    const never: Schedule = { type: 'cron', expression: '0 9 25 12 *', zone, daysOff: ['2026-12-25'] };
    expect(iso(nextDues(never, at('2026-11-23T00:00:00Z'), 1))).toEqual(['2027-12-25T00:00:00.000Z']);
    expect(timesProblem({ type: 'cron', expression: '0 9 * * *', zone, daysOff: ['2026-02-30'] })).toBe(
      'Expected days off such as 2026-12-25, got “2026-02-30”.',
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

  it.each([
    [
      '61 2 * * *',
      'Expected a minute (0 to 59; with lists a,b, ranges a-b and steps */n) at character 1, got “61”.',
    ],
    [
      '0  26 * * *',
      'Expected an hour (0 to 23; with lists a,b, ranges a-b and steps */n) at character 4, got “26”.',
    ],
    [
      '0 2 * Jam *',
      'Expected a month (1 to 12, or Jan to Dec; with lists a,b, ranges a-b and steps */n) at character 7, got “Jam”.',
    ],
    [
      '*/5 0 2 * * *',
      'Expected five fields (minute hour day month weekday), got 6. Leave out the seconds, or the user or command behind the times.',
    ],
    ['@reboot', 'Expected times; @reboot has none. Choose a period, or none but notes.'],
    [
      '0 2 * * *\n# by hand\n0 2 32 * *',
      'Line 2: Expected a day of the month (1 to 31, or L for the last; with lists a,b, ranges a-b and steps */n) at character 5, got “32”.',
    ],
  ])('says where %j cannot be read, and what would be right there', (expression, message) => {
    expect(cronProblem(expression, 'UTC')).toBe(message);
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

describe('wall clocks', () => {
  it('lead back to the moments at which they show what they show', () => {
    const zones = fc.constantFrom(...CHANGES.map((change) => change.zone), 'UTC', 'Asia/Kolkata');
    fc.assert(
      fc.property(
        zones,
        fc.integer({ min: at('2020-01-01') / 1000, max: at('2035-01-01') / 1000 }),
        (zone, second) => {
          expect(momentsOf(wallAt(second * 1000, zone), zone)).toContain(second * 1000);
        },
      ),
    );
  });

  it.each(CHANGES)('are skipped once and shown twice a year in $zone', ({ zone, spring, autumn }) => {
    const wall = (day: string, time: string) => {
      const [year, month, date] = day.split('-').map(Number);
      const [hour, minute] = time.split(':').map(Number);
      return { year: year!, month: month!, day: date!, hour: hour!, minute: minute!, second: 0 };
    };
    const forward = clockChange(at(`${spring}T12:00:00Z`) - DAY, at(`${spring}T12:00:00Z`) + DAY, zone)!;
    expect(forward.byMs).toBeGreaterThan(0);
    expect(momentsOf(wall(spring, CHANGES.find((c) => c.zone === zone)!.skipped), zone)).toEqual([]);
    const back = clockChange(at(`${autumn}T12:00:00Z`) - 2 * DAY, at(`${autumn}T12:00:00Z`) + DAY, zone)!;
    expect(back.byMs).toBe(-forward.byMs);
    expect(momentsOf(wallAt(back.at, zone), zone)).toHaveLength(2);
    expect(momentsOf(wallAt(back.at - 1000, zone), zone)).toHaveLength(2);
  });
});
