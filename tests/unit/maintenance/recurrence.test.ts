import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { occurrencesOf, type Recurrence } from '@/core/maintenance/recurrence';
import { readRule } from '@/core/maintenance/rule';
import { momentOfWall, wallMsOf, wallText, wallTextAt } from '@/core/maintenance/wall';
import { momentsOf, wallOf } from '@/core/time/zone-time';
import { DAY_MS, HOUR_MS, MINUTE_MS } from '@/core/time/units';
import { tries } from '../tries';

const at = (iso: string) => Date.parse(iso);

const weekly: Recurrence = {
  rule: 'FREQ=WEEKLY;BYDAY=SU',
  zone: 'Europe/Lisbon',
  first: '2026-12-01T02:00',
  lastsMinutes: 90,
};

const times = (recurrence: Recurrence, from: string, until: string, most = 50) =>
  occurrencesOf(recurrence, { from: at(from), until: at(until), most });

describe('when it comes', () => {
  it('is on the days of the rule from its first on', () => {
    const found = times(weekly, '2026-11-01T00:00:00Z', '2026-12-21T00:00:00Z');
    expect(found.map(({ wall }) => wall)).toEqual([
      '2026-12-06T02:00',
      '2026-12-13T02:00',
      '2026-12-20T02:00',
    ]);
    expect(found[0]).toEqual({
      wall: '2026-12-06T02:00',
      begins: at('2026-12-06T02:00:00Z'),
      ends: at('2026-12-06T03:30:00Z'),
    });
  });

  it('holds what is under way, and ends before what begins at the end', () => {
    const walls = (from: string, until: string) => times(weekly, from, until).map(({ wall }) => wall);
    expect(walls('2026-12-06T03:29:59Z', '2026-12-13T02:00:00Z')).toEqual(['2026-12-06T02:00']);
    expect(walls('2026-12-06T03:30:00Z', '2026-12-13T02:00:01Z')).toEqual(['2026-12-13T02:00']);
    expect(times(weekly, '2026-12-01T00:00:00Z', '2030-12-01T00:00:00Z', 2)).toHaveLength(2);
    // Begun days before what is asked for.
    const long = { ...weekly, lastsMinutes: 5 * 24 * 60 };
    const under = times(long, '2026-12-10T12:00:00Z', '2026-12-10T13:00:00Z');
    expect(under.map(({ wall }) => wall)).toEqual(['2026-12-06T02:00']);
  });

  it('goes by the wall clock on both sides of a change of the clocks', () => {
    const daily = { ...weekly, rule: 'FREQ=DAILY', first: '2027-03-26T02:00' };
    const found = times(daily, '2027-03-27T00:00:00Z', '2027-03-30T00:00:00Z');
    // From the 28th on summer time holds in Lisbon: an hour earlier by UTC.
    expect(found.map(({ begins }) => new Date(begins).toISOString().slice(5, 16))).toEqual([
      '03-27T02:00',
      '03-28T01:00',
      '03-29T01:00',
    ]);
  });

  it('is shorter or longer where the clocks change within it, and later where its time is skipped', () => {
    const night = { ...weekly, rule: 'FREQ=DAILY', zone: 'Europe/Berlin', lastsMinutes: 180 };
    const hours = (first: string) => {
      const from = at(`${first}:00Z`) - DAY_MS;
      const [one] = occurrencesOf({ ...night, first }, { from, until: from + 2 * DAY_MS, most: 1 });
      return (one!.ends - one!.begins) / HOUR_MS;
    };
    expect(hours('2027-03-28T01:00')).toBe(2);
    expect(hours('2027-10-31T01:00')).toBe(4);
    const skipped = { ...night, first: '2027-03-28T02:30', lastsMinutes: 30 };
    const [one] = times(skipped, '2027-03-27T12:00:00Z', '2027-03-28T12:00:00Z');
    expect(one).toMatchObject({ wall: '2027-03-28T02:30', begins: at('2027-03-28T01:30:00Z') });
    // It would end before it begins: 03:00 shows before 03:30 does. It lasts a minute at least.
    expect(one!.ends - one!.begins).toBe(MINUTE_MS);
  });

  it('ends by its count, and by its last day in the zone', () => {
    const ending = (rule: string) =>
      times(
        { ...weekly, rule, first: '2026-12-01T23:30', zone: 'America/New_York' },
        '2026-11-01T00:00:00Z',
        '2027-12-01T00:00:00Z',
      );
    expect(ending('FREQ=DAILY;COUNT=3')).toHaveLength(3);
    expect(ending('FREQ=DAILY;UNTIL=20261203').map(({ wall }) => wall.slice(8, 10))).toEqual([
      '01',
      '02',
      '03',
    ]);
    // Half past eleven on the third in New York is half past four on the fourth by UTC.
    expect(ending('FREQ=DAILY;UNTIL=20261204T043000Z')).toHaveLength(3);
    expect(ending('FREQ=DAILY;UNTIL=20261204T042959Z')).toHaveLength(2);
    // Without a Z it is the wall clock's.
    expect(ending('FREQ=DAILY;UNTIL=20261203T233000')).toHaveLength(3);
    expect(ending('FREQ=DAILY;UNTIL=20261203T232959')).toHaveLength(2);
  });

  it('takes no February 29 for a March 1', () => {
    const leap = { ...weekly, rule: 'FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=29' };
    const found = times(leap, '2026-12-01T00:00:00Z', '2033-01-01T00:00:00Z');
    expect(found.map(({ wall }) => wall.slice(0, 10))).toEqual(['2028-02-29', '2032-02-29']);
  });

  it('is nothing where it lies before the first, or a lifetime after it', () => {
    expect(times(weekly, '2020-01-01T00:00:00Z', '2026-11-01T00:00:00Z')).toEqual([]);
    expect(
      times({ ...weekly, first: '1980-01-01T02:00' }, '2026-12-01T00:00:00Z', '2026-12-31T00:00:00Z'),
    ).toEqual([]);
  });

  it('is the same whatever part of it is asked for', () => {
    const rules = [
      'FREQ=DAILY',
      'FREQ=DAILY;INTERVAL=3',
      'FREQ=WEEKLY;INTERVAL=2;BYDAY=MO,FR',
      'FREQ=MONTHLY;BYDAY=-1SU',
      'FREQ=MONTHLY;BYMONTHDAY=31',
    ];
    fc.assert(
      fc.property(
        fc.constantFrom(...rules),
        fc.constantFrom('UTC', 'Europe/Lisbon', 'Pacific/Auckland', 'America/St_Johns'),
        fc.integer({ min: 0, max: 400 }),
        fc.integer({ min: 1, max: 60 }),
        (rule, zone, day, length) => {
          const one = { ...weekly, rule: readRule(rule), zone };
          const start = at('2026-12-01T00:00:00Z');
          const all = occurrencesOf(one, { from: start, until: start + 500 * DAY_MS, most: 1000 });
          const [from, until] = [start + day * DAY_MS, start + (day + length) * DAY_MS];
          const some = occurrencesOf(one, { from, until, most: 1000 });
          expect(some).toEqual(all.filter(({ begins, ends }) => ends > from && begins < until));
          for (const { begins, wall } of some) {
            const shown = momentsOf(wallOf(wallMsOf(wall)), zone).length > 0;
            if (shown) expect(wallTextAt(begins, zone)).toBe(wall);
          }
        },
      ),
      { numRuns: tries(60) },
    );
  });
});

describe('a reading of a wall clock', () => {
  it('is a day there is, to the minute', () => {
    expect(wallMsOf('2026-12-06T02:00')).toBe(at('2026-12-06T02:00:00Z'));
    const wrong = [
      '2026-02-30T02:00',
      '2026-13-01T02:00',
      '2026-12-06',
      '2026-12-06T24:00',
      '2026-12-06T25:00',
    ];
    for (const text of [...wrong, '2026-12-06T02:60', '2026-12-06T02:00:00', 'x2026-12-06T02:00', '']) {
      expect(wallMsOf(text)).toBeNaN();
    }
  });

  it('is the first time where it shows twice', () => {
    const doubled = momentOfWall(wallMsOf('2027-10-31T02:30'), 'Europe/Berlin');
    expect(new Date(doubled).toISOString()).toBe('2027-10-31T00:30:00.000Z');
    expect(wallText(wallMsOf('2027-10-31T02:30'))).toBe('2027-10-31T02:30');
  });
});
