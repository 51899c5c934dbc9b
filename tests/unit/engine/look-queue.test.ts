import fc from 'fast-check';
import { beforeEach, describe, expect, it } from 'vitest';
import { Scheduler } from '@/engine/looks/scheduler';
import { tries } from '../tries';

/** A clock that goes on only when told, with the timers that hang on it. */
class FakeClock {
  time = 0;
  private timers: { at: number; run: () => void }[] = [];

  readonly now = () => this.time;
  readonly setTimer = (run: () => void, ms: number) => {
    const timer = { at: this.time + ms, run };
    this.timers.push(timer);
    return timer;
  };
  readonly clearTimer = (timer: unknown) => {
    this.timers = this.timers.filter((t) => t !== timer);
  };

  async advance(to: number): Promise<void> {
    for (;;) {
      const next = this.timers.filter((t) => t.at <= to).sort((a, b) => a.at - b.at)[0];
      if (!next) break;
      this.clearTimer(next);
      this.time = next.at;
      next.run();
      await Promise.resolve();
      await Promise.resolve();
    }
    this.time = to;
  }

  get waiting(): number {
    return this.timers.length;
  }
}

interface Started {
  id: number;
  at: number;
  finish: () => void;
}

function make(clock: FakeClock, limits: { mostInFlight?: number; mostPerHost?: number } = {}) {
  const started: Started[] = [];
  const queue = new Scheduler({
    now: clock.now,
    monotonic: clock.now,
    setTimer: clock.setTimer,
    clearTimer: clock.clearTimer,
    mostInFlight: limits.mostInFlight ?? 64,
    mostPerHost: limits.mostPerHost ?? 4,
    run: (id) =>
      new Promise<void>((resolve) => {
        started.push({ id, at: clock.time, finish: resolve });
      }),
  });
  return { queue, started };
}

const settle = async () => {
  for (let i = 0; i < 5; i += 1) await Promise.resolve();
};

describe('the look queue', () => {
  let clock: FakeClock;
  beforeEach(() => {
    clock = new FakeClock();
  });

  it('runs each look when it is due, in the order of their times', async () => {
    const { queue, started } = make(clock);
    queue.schedule(1, 'a', 300);
    queue.schedule(2, 'b', 100);
    queue.schedule(3, 'c', 200);
    await clock.advance(99);
    expect(started).toEqual([]);
    await clock.advance(1000);
    expect(started.map((s) => [s.id, s.at])).toEqual([
      [2, 100],
      [3, 200],
      [1, 300],
    ]);
  });

  it('keeps one due time for a watch: the last that was set', async () => {
    const { queue, started } = make(clock);
    queue.schedule(1, 'a', 100);
    queue.schedule(1, 'a', 500);
    await clock.advance(400);
    expect(started).toEqual([]);
    await clock.advance(500);
    expect(started.map((s) => s.at)).toEqual([500]);
  });

  it('does not run what was removed', async () => {
    const { queue, started } = make(clock);
    queue.schedule(1, 'a', 100);
    queue.remove(1);
    await clock.advance(1000);
    expect(started).toEqual([]);
  });

  it('never has more looks in flight than allowed, and takes the next when one ends', async () => {
    const { queue, started } = make(clock, { mostInFlight: 3, mostPerHost: 99 });
    for (let id = 1; id <= 10; id += 1) queue.schedule(id, `host ${id}`, 10);
    await clock.advance(20);
    expect(started).toHaveLength(3);
    expect(queue.inFlight).toBe(3);
    started[0]!.finish();
    await settle();
    expect(started).toHaveLength(4);
    expect(queue.inFlight).toBe(3);
  });

  it('never has more than its share towards one host, and lets others pass', async () => {
    const { queue, started } = make(clock, { mostPerHost: 2 });
    for (let id = 1; id <= 5; id += 1) queue.schedule(id, 'slow', 10 + id);
    queue.schedule(9, 'other', 17);
    await clock.advance(20);
    expect(started.map((s) => s.id)).toEqual([1, 2, 9]);
    started[0]!.finish();
    await settle();
    expect(started.map((s) => s.id)).toEqual([1, 2, 9, 3]);
  });

  it('never looks twice at once for one watch', async () => {
    const { queue, started } = make(clock);
    queue.schedule(1, 'a', 10);
    await clock.advance(10);
    queue.schedule(1, 'a', 20);
    await clock.advance(30);
    expect(started).toHaveLength(1);
    const joined = queue.runNow(1, 'a');
    expect(started).toHaveLength(1);
    started[0]!.finish();
    await joined;
    await settle();
    expect(started).toHaveLength(2);
  });

  it('looks now without waiting, in place of the look that was due', async () => {
    const { queue, started } = make(clock);
    queue.schedule(1, 'a', 1000);
    const look = queue.runNow(1, 'a');
    expect(started).toHaveLength(1);
    started[0]!.finish();
    await look;
    await clock.advance(2000);
    expect(started).toHaveLength(1);
  });

  it('closes only once what is in flight has ended, and starts nothing more', async () => {
    const { queue, started } = make(clock, { mostInFlight: 1 });
    queue.schedule(1, 'a', 10);
    queue.schedule(2, 'b', 10);
    await clock.advance(10);
    let closed = false;
    const closing = queue.close().then(() => (closed = true));
    await settle();
    expect(closed).toBe(false);
    started[0]!.finish();
    await closing;
    queue.schedule(3, 'c', 20);
    await clock.advance(100);
    expect(started).toHaveLength(1);
    expect(clock.waiting).toBe(0);
    await queue.close();
  });

  it('runs everything that is due exactly once, whatever the times', async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(fc.integer({ min: 0, max: 5000 }), { maxLength: 200 }), async (times) => {
        const own = new FakeClock();
        const { queue, started } = make(own, { mostInFlight: 1000, mostPerHost: 1000 });
        for (const [id, at] of times.entries()) queue.schedule(id, 'h', at);
        await own.advance(6000);
        expect(started.map((s) => s.at)).toEqual([...times].sort((a, b) => a - b));
        expect(new Set(started.map((s) => s.id)).size).toBe(times.length);
      }),
      { numRuns: tries(50) },
    );
  });

  it('waits for what lies months ahead, and asks no timer for more than it can do', async () => {
    const clock = new FakeClock();
    const asked: number[] = [];
    const setTimer = clock.setTimer;
    Object.assign(clock, {
      setTimer: (run: () => void, ms: number) => {
        asked.push(ms);
        return setTimer(run, ms);
      },
    });
    const { queue, started } = make(clock);
    const months = 100 * 86_400_000;
    queue.schedule(1, 'host', months);
    await clock.advance(months - 1);
    expect(started).toEqual([]);
    await clock.advance(months);
    expect(started.map(({ id, at }) => [id, at])).toEqual([[1, months]]);
    // Beyond 2^31 - 1 ms a timer fires at once.
    expect(Math.max(...asked)).toBeLessThanOrEqual(2 ** 31 - 1);
  });

  it('starts nothing more once it is closed, whatever waits and whatever ends', async () => {
    const clock = new FakeClock();
    const { queue, started } = make(clock, { mostInFlight: 1 });
    queue.schedule(1, 'host', 0);
    queue.schedule(2, 'host', 0);
    await clock.advance(1);
    expect(started.map(({ id }) => id)).toEqual([1]);
    const closing = queue.close();
    queue.schedule(3, 'host', 0);
    started[0]!.finish();
    await closing;
    await clock.advance(10);
    expect(started.map(({ id }) => id)).toEqual([1]);
    expect(clock.waiting).toBe(0);
  });
});
