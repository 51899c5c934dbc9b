import { describe, expect, it, vi } from 'vitest';
import { decide } from '@/core/lifecycle/decide';
import { asKnown } from '@/core/settings/known-state';
import { newStatus, type CheckinRules, type Status } from '@/core/lifecycle/status';
import { ClockMonitor } from '@/engine/own/clock-monitor';
import { Housekeeping } from '@/engine/state/housekeeping';
import { failed, fine, PROBE } from '../arbitraries';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const T0 = Date.parse('2026-11-25T12:00:00Z');

describe('glancing at both clocks', () => {
  it('tells a jump once, either way, and takes drift for what it is', () => {
    let [wall, mono] = [T0, 500];
    const jumps: number[] = [];
    const watch = new ClockMonitor({ now: () => wall, monotonic: () => mono }, (by) => jumps.push(by));
    const pass = (wallMs: number, monoMs: number) => {
      wall += wallMs;
      mono += monoMs;
      watch.glance();
    };
    for (let i = 0; i < 100; i += 1) pass(1100, 1000);
    expect(jumps).toEqual([]);
    pass(1000 - HOUR, 1000);
    pass(1000, 1000);
    pass(1000 + 2 * HOUR, 1000);
    pass(8 * HOUR, 1000);
    expect(jumps).toEqual([-HOUR, 2 * HOUR, 8 * HOUR - 1000]);
  });
});

describe('a life when the clock is set', () => {
  const step = (status: Status, input: Parameters<typeof decide>[2], now: number) =>
    decide(PROBE, status, input, now);

  it('never ends an outage before it began', () => {
    const rules = { ...PROBE, secondLooks: 0 };
    let { status } = decide(rules, newStatus(T0), fine(T0).input, T0);
    ({ status } = decide(rules, status, failed(T0 + 60_000).input, T0 + 60_000));
    const back = T0 - HOUR;
    ({ status } = decide(rules, status, { type: 'clock' }, back));
    const { events } = decide(rules, status, fine(back + 1000).input, back + 1000);
    expect(events).toContainEqual({ type: 'outage-ended', began: T0 + 60_000, ended: T0 + 60_000 });
    for (const event of events)
      if (event.type === 'state') expect(event.at).toBeGreaterThanOrEqual(event.since);
  });

  it('does not take a look for one that stands for an hour, and doubts afresh', () => {
    let { status } = step(newStatus(T0), fine(T0).input, T0);
    ({ status } = step(status, failed(T0 + 60_000).input, T0 + 60_000));
    const { status: set } = step(status, { type: 'clock' }, T0 - HOUR);
    expect(set).toMatchObject({ coveredUntil: T0 - HOUR, lastAt: T0 - HOUR, failing: null });
    const later = fine(T0 - HOUR + 20 * 60_000);
    const { events } = step(set, later.input, later.now);
    expect(events[0]).toEqual({ type: 'unobserved', from: T0 - HOUR, to: T0 - HOUR + 20 * 60_000 });
  });

  it('expects a job at its next time, not years from now', () => {
    const rules: CheckinRules = {
      type: 'checkin',
      schedule: { type: 'cron', expression: '30 2 * * *', zone: 'UTC' },
      leewayMs: 60_000,
      longestRunMs: HOUR,
      zone: 'UTC',
    };
    const wrong = { ...newStatus(T0), due: T0 + 3 * 365 * DAY, running: { a: T0 + 2 * 365 * DAY } };
    const { status } = decide(rules, wrong, { type: 'clock' }, T0);
    expect(status.due).toBe(Date.parse('2026-11-26T02:30:00Z'));
    expect(status.running).toEqual({ a: T0 });
  });
});

describe('what is known without looks', () => {
  it('is not "up" for longer than the last look stands for', () => {
    let { status } = decide(PROBE, newStatus(T0), fine(T0).input, T0);
    const until = status.coveredUntil! + 2 * PROBE.timeoutMs + 30_000 + 10_000;
    expect(decide(PROBE, status, { type: 'tick' }, until).status.state).toBe('up');
    const { status: old, events } = decide(PROBE, status, { type: 'tick' }, until + 1);
    expect(old).toMatchObject({ state: 'waiting', since: status.coveredUntil });
    expect(events).toHaveLength(1);
    // Found out by whoever reads, should the engine be away.
    const config = {
      type: 'probe',
      every: PROBE.everyMs / 1000,
      timeout: PROBE.timeoutMs / 1000,
      settings: {},
    } as never;
    expect(asKnown({ config, status }, until).status.state).toBe('up');
    expect(asKnown({ config, status }, until + 1).status).toMatchObject({
      state: 'waiting',
      since: status.coveredUntil,
    });
    const back = fine(until + 60_000);
    ({ status } = decide(PROBE, old, back.input, back.now));
    expect(status.state).toBe('up');
  });

  it('keeps what is down as down: nobody knows better', () => {
    const rules = { ...PROBE, secondLooks: 0 };
    const { status } = decide(rules, newStatus(T0), failed(T0).input, T0);
    expect(decide(rules, status, { type: 'tick' }, T0 + DAY).status.state).toBe('down');
  });

  it('is unobserved from whatever came first: the last look, or the lost line', () => {
    const { status } = decide(PROBE, newStatus(T0), fine(T0).input, T0);
    const blind = {
      type: 'finding' as const,
      finding: {
        at: T0 + 3 * HOUR,
        ms: 1,
        verdict: 'failed' as const,
        cause: 'look.no-line' as const,
        detail: {},
      },
    };
    const lost = decide(PROBE, status, blind, T0 + 3 * HOUR).status;
    const back = fine(T0 + 4 * HOUR);
    expect(decide(PROBE, lost, back.input, back.now).events).toContainEqual({
      type: 'unobserved',
      from: status.coveredUntil,
      to: T0 + 4 * HOUR,
    });
  });

  it.each([{ type: 'pause' as const }, { type: 'window' as const, open: true }])(
    'is unobserved before a $type too, where nobody looked for long',
    (input) => {
      const { status } = decide(PROBE, newStatus(T0), fine(T0).input, T0);
      expect(decide(PROBE, status, input, T0 + 2 * HOUR).events[0]).toEqual({
        type: 'unobserved',
        from: status.coveredUntil,
        to: T0 + 2 * HOUR,
      });
      expect(decide(PROBE, status, input, T0 + 61_000).events[0]).toMatchObject({ type: 'state' });
    },
  );
});

describe('judging by the clock', () => {
  it('says that it could not ask, and asks again', async () => {
    const asked = vi.fn(() => {
      throw new Error('the disk does not answer');
    });
    const onError = vi.fn();
    const housekeeping = new Housekeeping({
      db: asked as never,
      registry: { all: () => [] } as never,
      now: () => T0,
      monotonic: () => 0,
      keepFindingsDays: 14,
      isBlind: () => false,
      takeIn: () => Promise.resolve(),
      onWindowClosed: () => undefined,
      onHappened: () => undefined,
      onError,
    });
    housekeeping.tick();
    await vi.waitFor(() => expect(onError).toHaveBeenCalledTimes(1));
    housekeeping.tick();
    await vi.waitFor(() => expect(onError).toHaveBeenCalledTimes(2));
    expect(asked).toHaveBeenCalledTimes(2);
  });
});
