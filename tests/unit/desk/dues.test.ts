import fc from 'fast-check';
import { describe, expect, it, vi } from 'vitest';
import * as schedules from '@/core/schedule/schedule';
import { DAY_MS, HOUR_MS, MINUTE_MS } from '@/core/time/units';
import { KnownDues, newestDues } from '@/views/history/dues';
import { tries } from '../tries';

const NOW = Date.parse('2026-11-28T12:30:00Z');
const cron = (expression: string): schedules.Schedule => ({
  type: 'cron',
  expression,
  zone: 'Europe/Lisbon',
});

/** All of them, one after the other. */
function allDues(schedule: schedules.Schedule, from: number, to: number): number[] {
  const dues: number[] = [];
  for (let at = schedules.nextDue(schedule, from); at !== null && at <= to;) {
    dues.push(at);
    at = schedules.nextDue(schedule, at);
  }
  return dues;
}

const SCHEDULES = ['* * * * *', '*/15 6-9 * * *', '30 12 * * *', '0 3 * * 1', '15 4 1 * *', '0 0 30 2 *'].map(
  cron,
);

describe('the newest due times', () => {
  it('are all there are, where they are few', async () => {
    for (const schedule of SCHEDULES) {
      for (const span of [0, MINUTE_MS, HOUR_MS, DAY_MS, 40 * DAY_MS]) {
        if (schedule === SCHEDULES[0] && span > DAY_MS) continue;
        const from = NOW - span;
        expect(await newestDues(schedule, from, NOW, 20_000)).toEqual(allDues(schedule, from, NOW));
      }
    }
  });

  it('are the newest, where there are more than are wanted', async () => {
    const from = NOW - 90 * DAY_MS;
    const last = await newestDues(SCHEDULES[0]!, from, NOW, 700);
    expect(last).toHaveLength(700);
    expect(last.at(-1)).toBe(NOW);
    expect(last[0]).toBe(NOW - 699 * MINUTE_MS);
    expect(await newestDues(SCHEDULES[2]!, from, NOW, 3)).toEqual(
      allDues(SCHEDULES[2]!, NOW - 3 * DAY_MS, NOW),
    );
  });
});

describe('due times that are kept', () => {
  it('are those that would be worked out anew, however the moments asked for go on', async () => {
    const asked = fc.array(
      fc.record({ schedule: fc.integer({ min: 1, max: 5 }), back: fc.integer({ min: 0, max: 3000 }) }),
      { minLength: 1, maxLength: 6 },
    );
    await fc.assert(
      fc.asyncProperty(asked, fc.array(fc.integer({ min: -300, max: 3000 })), async (asks, steps) => {
        const known = new KnownDues(2, 40);
        let now = NOW;
        for (const [place, { schedule, back }] of asks.entries()) {
          now += (steps[place] ?? 0) * MINUTE_MS;
          const from = now - back * 10 * MINUTE_MS;
          const dues = await known.newest(String(schedule), SCHEDULES[schedule]!, from, now);
          expect(dues).toEqual(await newestDues(SCHEDULES[schedule]!, from, now, 40));
        }
      }),
      { numRuns: tries(40) },
    );
  });

  it('are not worked out again', async () => {
    const known = new KnownDues(2, 5000);
    const ask = (to: number, from = NOW - DAY_MS) => known.newest('often', SCHEDULES[0]!, from, to);
    expect(await ask(NOW)).toHaveLength(1440);
    const work = vi.spyOn(schedules, 'nextDue');
    try {
      const later = await ask(NOW + 3 * MINUTE_MS, NOW - HOUR_MS);
      expect(later).toHaveLength(63);
      expect(later.at(-1)).toBe(NOW + 3 * MINUTE_MS);
      expect(work.mock.calls.length).toBeLessThan(10);
    } finally {
      work.mockRestore();
    }
    expect(await ask(NOW + 3 * MINUTE_MS)).toHaveLength(1443);
  });
});
