import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { nextLookDue, offsetOf } from '@/core/schedule/schedule';
import { LookPlanner } from '@/engine/looks/look-planner';
import type { RegisteredWatch, WatchRegistry } from '@/engine/state/watch-registry';

const HOUR = 3_600_000;
const ID = 1;

describe('the look after one that failed', () => {
  const looked: number[] = [];
  let planner: LookPlanner;
  /** Half a second before the next regular look. */
  let failedAt: number;

  beforeEach(() => {
    const start = Date.parse('2026-11-20T08:00:00Z');
    failedAt = nextLookDue(HOUR, offsetOf(ID, HOUR), start) - 500;
    vi.useFakeTimers({ now: failedAt });
    looked.length = 0;
    planner = new LookPlanner({
      registry: {} as WatchRegistry,
      now: () => Date.now(),
      monotonic: () => performance.now(),
      mostInFlight: 4,
      mostPerHost: 4,
      run: () => Promise.resolve(void looked.push(Date.now() - failedAt)),
    });
  });
  afterEach(async () => {
    await planner.close();
    vi.useRealTimers();
  });

  const fail = (secondLookGapMs: number, state = 'doubtful', everyMs = HOUR) =>
    planner.planAfter(
      {
        watch: { id: ID },
        rules: { type: 'probe', everyMs, secondLookGapMs },
        status: { state },
        host: 'site.test',
      } as unknown as RegisteredWatch,
      failedAt,
    );

  it('comes the gap later, and not sooner where a regular look lies between', async () => {
    fail(30_000);
    await vi.advanceTimersByTimeAsync(29_000);
    expect(looked).toEqual([]);
    await vi.advanceTimersByTimeAsync(1_500);
    expect(looked).toHaveLength(1);
    expect(looked[0]).toBeGreaterThanOrEqual(30_000);
  });

  it('is the regular one where the gap is longer than the interval, and where nothing is doubted', async () => {
    fail(2 * HOUR);
    await vi.advanceTimersByTimeAsync(1_000);
    expect(looked).toHaveLength(1);
    fail(30_000, 'down');
    await vi.advanceTimersByTimeAsync(HOUR - 2_000);
    expect(looked).toHaveLength(1);
    await vi.advanceTimersByTimeAsync(3_000);
    expect(looked).toHaveLength(2);
  });
});
