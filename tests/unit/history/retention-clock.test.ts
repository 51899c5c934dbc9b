import { describe, expect, it } from 'vitest';
import { retentionTime } from '@/core/history/retention-clock';
import { DAY_MS as DAY, HOUR_MS as HOUR } from '@/core/time/units';

const T0 = Date.parse('2026-11-25T12:00:00Z');

describe('the time by which things are let go of', () => {
  const none = { last: null, newest: null, passedMs: 0 };

  it('follows the clock', () => {
    expect(retentionTime(T0, none)).toBe(T0);
    expect(retentionTime(T0 + 300_000, { ...none, last: T0, passedMs: 300_000 })).toBe(T0 + 300_000);
    expect(retentionTime(T0 - HOUR, { ...none, last: T0, passedMs: 1000 })).toBe(T0 - HOUR);
  });

  it('is led by a wrong clock by a day an hour at most, and catches up after a long absence', () => {
    const wrong = T0 + 3 * 365 * DAY;
    expect(retentionTime(wrong, { ...none, last: T0, passedMs: 0 })).toBe(T0);
    expect(retentionTime(wrong, { ...none, last: T0, passedMs: HOUR })).toBe(T0 + HOUR + DAY);
    let at = T0;
    for (let hour = 1; hour <= 32; hour += 1) {
      at = retentionTime(T0 + 30 * DAY + hour * HOUR, { ...none, last: at, passedMs: HOUR });
    }
    expect(at).toBe(T0 + 30 * DAY + 32 * HOUR);
  });

  it('begins at the newest of what there is, when it was never noted', () => {
    expect(retentionTime(T0 + 3 * 365 * DAY, { ...none, newest: T0 })).toBe(T0);
    // What is newer than now is of a clock that was wrong.
    expect(retentionTime(T0, { ...none, newest: T0 + DAY, passedMs: HOUR })).toBe(T0);
    // What it was before counts more.
    expect(retentionTime(T0, { ...none, last: T0 - 9 * DAY, newest: T0 })).toBe(T0 - 9 * DAY);
    expect(retentionTime(T0, { last: T0 - 9 * DAY, newest: T0 - DAY, passedMs: HOUR / 2 })).toBe(
      T0 - 9 * DAY + HOUR / 2 + DAY / 2,
    );
  });
});
