import { describe, expect, it } from 'vitest';
import { announcedAt } from '@/core/maintenance/announced';
import { clashesOf, type Planned } from '@/core/maintenance/clash';
import { monthGrid, monthOf } from '@/core/maintenance/month';
import { DAY_MS, HOUR_MS } from '@/core/time/units';

const planned = (id: number, begins: number, ends: number, rest: Partial<Planned> = {}): Planned => ({
  ...{ id, begins, ends, seriesId: null, title: `Plan ${id}`, covers: [1, 2] },
  ...rest,
});
const NONE = { id: null, seriesId: null };

describe('a clash', () => {
  it('is some of the same watches at the same time; touching is none', () => {
    const others = [
      planned(1, 50, 60),
      planned(2, 10, 20),
      planned(3, 20, 30),
      planned(4, 12, 18, { covers: [9] }),
      planned(5, 5, 15),
    ];
    expect(
      clashesOf(
        [
          { begins: 15, ends: 20 },
          { begins: 55, ends: 90 },
        ],
        [2, 3],
        others,
        NONE,
      ),
    ).toEqual([
      { windowId: 2, title: 'Plan 2', watchIds: [2], from: 15, until: 20 },
      { windowId: 1, title: 'Plan 1', watchIds: [2], from: 55, until: 60 },
    ]);
  });

  it('is never with itself, nor with other times of the same', () => {
    const others = [
      planned(1, 10, 20),
      planned(2, 10, 20, { seriesId: 7 }),
      planned(3, 10, 20, { seriesId: 8 }),
    ];
    const found = clashesOf([{ begins: 10, ends: 20 }], [1], others, { id: 1, seriesId: 7 });
    expect(found.map(({ windowId }) => windowId)).toEqual([3]);
  });

  it('is named twenty times at most', () => {
    const many = Array.from({ length: 30 }, (_, i) => planned(i, i, 100));
    expect(clashesOf([{ begins: 0, ends: 100 }], [1], many, NONE)).toHaveLength(20);
  });
});

describe('a month', () => {
  it('is whole weeks from Monday, each day as long as its clocks make it', () => {
    const now = Date.parse('2026-12-31T23:30:00Z');
    const grid = monthGrid('2027-03', now, 'Europe/Lisbon');
    expect(grid.weeks.map((week) => week.length)).toEqual([7, 7, 7, 7, 7]);
    expect(grid.weeks[0]![0]).toMatchObject({ day: '2027-03-01', inside: true });
    expect(grid.weeks.at(-1)!.at(-1)).toMatchObject({ day: '2027-04-04', inside: false });
    expect([grid.before, grid.after]).toEqual(['2027-02', '2027-04']);
    const days = grid.weeks.flat();
    expect(days.map(({ begins, ends }) => (ends - begins) / HOUR_MS)[27]).toBe(23);
    for (const [i, day] of days.entries()) expect(day.begins).toBe(i === 0 ? grid.from : days[i - 1]!.ends);
    expect(days.at(-1)!.ends).toBe(grid.until);
    const beside = (month: string) => {
      const { before, after } = monthGrid(month, now, 'UTC');
      return [before, after];
    };
    expect(beside('2027-01')).toEqual(['2026-12', '2027-02']);
    // A year back and ahead, and no further.
    expect(beside('2027-12')).toEqual(['2027-11', null]);
    expect(beside('2025-12')).toEqual([null, '2026-01']);
  });

  it('is filled with days of the months beside it, and by no week more', () => {
    const weeksOf = (month: string) => {
      const { weeks } = monthGrid(month, Date.parse('2026-12-31T23:30:00Z'), 'UTC');
      return [weeks.length, weeks[0]![0]!.day, weeks.at(-1)!.at(-1)!.day];
    };
    expect(weeksOf('2026-12')).toEqual([5, '2026-11-30', '2027-01-03']);
    // It begins on a Monday, and March after it does.
    expect(weeksOf('2027-02')).toEqual([4, '2027-02-01', '2027-02-28']);
  });

  it('is the present one by the zone where none there is was asked for', () => {
    const now = Date.parse('2026-12-31T23:30:00Z');
    expect(monthOf(undefined, now, 'UTC')).toBe('2026-12');
    expect(monthOf(undefined, now, 'Europe/Berlin')).toBe('2027-01');
    for (const far of ['2025-12', '2027-12']) expect(monthOf(far, now, 'UTC')).toBe(far);
    for (const wrong of ['2027-13', '2026-5', '2026-00', '2025-11', '2028-01', 'x']) {
      expect(monthOf(wrong, now, 'UTC')).toBe('2026-12');
    }
  });
});

describe('what the public may know', () => {
  it('begins so many days ahead, not before it was planned, nor after it began', () => {
    const announced = (madeAt: number, announceDays: number) =>
      announcedAt({ begins: 10 * DAY_MS, madeAt, announceDays });
    expect(announced(0, 3)).toBe(7 * DAY_MS);
    expect(announced(8 * DAY_MS, 3)).toBe(8 * DAY_MS);
    expect(announced(11 * DAY_MS, 3)).toBe(10 * DAY_MS);
    expect(announced(0, 0)).toBe(10 * DAY_MS);
  });
});
