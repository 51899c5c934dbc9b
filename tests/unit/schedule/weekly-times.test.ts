import { describe, expect, it } from 'vitest';
import { latestTime } from '@/core/schedule/weekly-times';

const EVERY = [1, 2, 3, 4, 5, 6, 7];
const at = (text: string) => Date.parse(text);

describe('the last time a weekly time was', () => {
  it.each([
    // 26 November 2026 is a Thursday.
    [EVERY, '07:00', 'UTC', '2026-11-26T06:59:59Z', '2026-11-25T07:00:00Z'],
    [EVERY, '07:00', 'UTC', '2026-11-26T07:00:00Z', '2026-11-26T07:00:00Z'],
    [[1], '07:00', 'UTC', '2026-11-26T12:00:00Z', '2026-11-23T07:00:00Z'],
    [[7], '00:00', 'UTC', '2026-11-26T12:00:00Z', '2026-11-22T00:00:00Z'],
    [[4], '23:59', 'UTC', '2026-11-26T12:00:00Z', '2026-11-19T23:59:00Z'],
    [EVERY, '07:00', 'Pacific/Auckland', '2026-11-26T12:00:00Z', '2026-11-25T18:00:00Z'],
    // Skipped on 29 March: the day before it was; and a week before where it is that day alone.
    [EVERY, '01:30', 'Europe/Lisbon', '2026-03-29T12:00:00Z', '2026-03-28T01:30:00Z'],
    [[7], '01:30', 'Europe/Lisbon', '2026-03-29T12:00:00Z', '2026-03-22T01:30:00Z'],
    // Shown twice on 25 October: it is the first.
    [EVERY, '01:30', 'Europe/Lisbon', '2026-10-25T12:00:00Z', '2026-10-25T00:30:00Z'],
  ])('%j at %s in %s, asked at %s, is %s', (days, time, zone, now, expected) => {
    expect(latestTime({ days, at: time }, zone, at(now))).toBe(at(expected));
  });

  it('is never where no day is named', () => {
    expect(latestTime({ days: [], at: '07:00' }, 'UTC', at('2026-11-26T12:00:00Z'))).toBeNull();
  });
});
