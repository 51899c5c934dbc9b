import { describe, expect, it } from 'vitest';
import { occurrencesOf } from '@/core/maintenance/recurrence';
import { HOUR_MS, MINUTE_MS } from '@/core/time/units';
import { dayName, kiosksRest } from '@/demo/days';

const MONDAY = Date.UTC(2026, 10, 23);
const WEEK_MS = 7 * 24 * HOUR_MS;

describe('the days of the demo', () => {
  it('are those of the ferries', () => {
    expect(dayName(Date.UTC(2026, 6, 4, 22, 59))).toBe('Saturday');
    expect(dayName(Date.UTC(2026, 6, 4, 23, 1))).toBe('Sunday');
  });

  it.each([
    ['in winter', MONDAY],
    ['in summer', Date.UTC(2026, 6, 6)],
    ['when the clocks go forward', Date.UTC(2027, 2, 22)],
    ['when they go back', Date.UTC(2026, 9, 19)],
  ])('never begin it in the middle of maintenance, which comes within the week: %s', (_, from) => {
    for (let now = from; now < from + WEEK_MS; now += 15 * MINUTE_MS) {
      const comes = occurrencesOf(kiosksRest(now), { from: now, until: now + WEEK_MS, most: 9 });
      expect(comes, new Date(now).toISOString()).toHaveLength(1);
      expect(comes[0]!.begins, new Date(now).toISOString()).toBeGreaterThan(now + 2 * HOUR_MS);
    }
  });
});
