import { describe, expect, it } from 'vitest';
import { causeSentence } from '@/core/causes/causes';
import { newStatus } from '@/core/lifecycle/status';
import type { WatchWithStatus } from '@/store/watches/watches';
import { isSilent, needsHand, troubleOf } from '@/views/troubles/trouble';

const MADE = Date.parse('2026-11-20T12:00:00Z');
const HOUR = 3_600_000;

function job(rest: Partial<WatchWithStatus> = {}): WatchWithStatus {
  const config = {
    type: 'checkin',
    schedule: { type: 'cron', expression: '30 2 * * *', zone: 'Europe/Lisbon' },
    leeway: 1800,
    longestRun: null,
  } as const;
  return { config, status: newStatus(MADE), createdAt: MADE, lastFinding: null, ...rest } as WatchWithStatus;
}

describe('a job that was never heard of', () => {
  const deadline = Date.parse('2026-11-21T03:00:00Z');

  it('wants a hand once it was due for the first time, leeway and all', () => {
    expect(isSilent(job(), deadline)).toBe(false);
    expect(needsHand(job(), deadline)).toBe(false);
    expect(isSilent(job(), deadline + 1)).toBe(true);
    expect(needsHand(job(), deadline + 1)).toBe(true);
  });

  it('says by when it was expected, and what to try', () => {
    const sentence = causeSentence('checkin.never', { deadline: 'Sat 21 Nov, 03:00' });
    expect(sentence).toBe('Expected by Sat 21 Nov, 03:00, but no check-in has ever come.');
    expect(troubleOf(job(), undefined, undefined, 'UTC')).toMatchObject({
      sentence,
      advice: expect.stringContaining('run it once by hand'),
      ladder: [],
    });
  });

  it('wants none when it was heard of, when it is paused, and when nothing is ever due', () => {
    const at = deadline + 10 * HOUR;
    expect(isSilent(job({ status: { ...newStatus(MADE), lastAt: MADE + 5 } }), at)).toBe(false);
    expect(isSilent(job({ status: { ...newStatus(MADE), state: 'paused' } }), at)).toBe(false);
    const never = { ...job().config, schedule: { type: 'cron', expression: '0 0 30 2 *', zone: 'UTC' } };
    expect(isSilent(job({ config: never as WatchWithStatus['config'] }), at)).toBe(false);
  });

  it('is told apart from one that was heard of before', () => {
    const late = { ...newStatus(MADE), state: 'overdue' as const, lastAt: MADE, due: deadline - HOUR / 2 };
    expect(troubleOf(job({ status: late }), undefined, undefined, 'UTC').sentence).toBe(
      'Expected at Sat 21 Nov, 02:30; counts as missed after Sat 21 Nov, 03:00.',
    );
  });
});
