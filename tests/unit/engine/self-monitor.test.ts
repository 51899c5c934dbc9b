import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { CauseCode } from '@/core/causes/causes';
import { graceOf } from '@/core/lifecycle/decide-probe';
import type { ProbeRules } from '@/core/lifecycle/status';
import { SelfMonitor } from '@/engine/own/self-monitor';
import type { WatchRegistry } from '@/engine/state/watch-registry';
import { openVault } from '@/store/db/vault';
import { fetchOpenOwnTroubles, fetchOwnTroubles } from '@/store/history/own-troubles';
import { saveWatchesPaused } from '@/store/watches/watches';
import { makeWatch, periodConfig, tempStore, webConfig, type TempStore } from '../../integration/helpers';
import { registryOn } from './registry-on';

const T0 = Date.parse('2026-11-26T06:00:00Z');
const MINUTE = 60_000;
/** So often it looks closer. */
const CHECK_AGAIN = 5_000;

describe('looks that stand still', () => {
  let store: TempStore;
  let registry: WatchRegistry;
  let self: SelfMonitor;
  let passed: number;
  let blind: boolean;
  let told: number;
  let booking: number;
  const now = () => T0 + passed;

  beforeEach(async () => {
    store = await tempStore();
    [passed, blind, told] = [0, false, 0];
    booking = await makeWatch(store.db, webConfig('http://booking.ternferry.test/'), { createdAt: T0 });
    registry = registryOn(store.db, now);
    await registry.load();
    self = new SelfMonitor({
      ...{ db: store.db, registry, vault: openVault(store.folder), room: null, now },
      // Any time it began at is as good.
      monotonic: () => 5_000_000 + passed,
      isBlind: () => blind,
      deafRooms: async () => [],
      onNews: () => undefined,
      onMessage: () => void (told += 1),
      onError: (error) => {
        throw error;
      },
    });
  });
  afterEach(async () => {
    await registry.flush();
    await store.close();
  });

  const wait = async (ms: number) => {
    passed += ms;
    self.tick();
    await self.close();
  };
  const open = async () =>
    (await fetchOpenOwnTroubles(store.db)).map(({ code, detail }) => [code, detail] as const);
  const look = (cause?: CauseCode) => {
    const at = now();
    const finding = cause
      ? { at, ms: 10, verdict: 'failed' as const, cause, detail: {} }
      : { at, ms: 10, verdict: 'fine' as const };
    registry.apply(booking, { type: 'finding', finding });
    self.noteFinding(booking, finding);
  };
  /** How long after the last look one may be missing: two intervals, what a look may take, and a minute. */
  const allowed = () => 3 * MINUTE + graceOf(registry.get(booking)!.rules as ProbeRules);

  it('are told once, with the names, as soon as one is missing for longer than it may, until they come again', async () => {
    await wait(allowed());
    expect(await open()).toEqual([]);
    await wait(CHECK_AGAIN);
    expect(await open()).toEqual([['look.missing', { names: 'Booking site' }]]);
    await wait(MINUTE);
    expect(told).toBe(1);
    look();
    await wait(CHECK_AGAIN);
    expect(await open()).toEqual([]);
    expect(told).toBe(2);
    await wait(allowed() - CHECK_AGAIN);
    expect(await open()).toEqual([]);
    await wait(CHECK_AGAIN);
    expect(await open()).toHaveLength(1);
  });

  it('are looked for only every few seconds', async () => {
    await wait(allowed());
    await wait(CHECK_AGAIN - 1);
    expect(await open()).toEqual([]);
    await wait(1);
    expect(await open()).toHaveLength(1);
  });

  it('are given their time after a start, however long ago the last look was', async () => {
    registry.get(booking)!.status.lastAt = T0 - 24 * 60 * MINUTE;
    await wait(allowed() - 1);
    expect(await open()).toEqual([]);
    await wait(CHECK_AGAIN);
    expect(await open()).toHaveLength(1);
  });

  it('are none where nobody is to look: paused, at set times, of a job, or while the line is lost', async () => {
    const jobId = await makeWatch(store.db, periodConfig(60, 60), { name: 'Crew rota', createdAt: T0 });
    const daily = webConfig('http://tides.ternferry.test/', {
      when: { expression: '0 6 * * *', zone: 'UTC' },
    });
    const dailyId = await makeWatch(store.db, daily, { name: 'Tide table', createdAt: T0 });
    await saveWatchesPaused(store.db, [booking], true);
    await registry.reload([booking, jobId, dailyId]);
    await wait(60 * MINUTE);
    expect(await open()).toEqual([]);
    await saveWatchesPaused(store.db, [booking], false);
    await registry.reload([booking]);
    blind = true;
    await wait(MINUTE);
    expect(await open()).toEqual([]);
    blind = false;
    await wait(MINUTE);
    expect(await open()).toEqual([['look.missing', { names: 'Booking site' }]]);
  });

  it('for a reason of our own are told after ten intervals, with the reason, and are not missing besides', async () => {
    look('look.no-ping');
    await wait(10 * MINUTE);
    look('look.broken');
    expect(await open()).toEqual([]);
    await wait(CHECK_AGAIN);
    const reason = expect.stringContaining('ping') as unknown;
    expect(await open()).toEqual([['look.stuck', { names: 'Booking site', reason }]]);
    look();
    await wait(CHECK_AGAIN);
    expect(await open()).toEqual([]);
  });

  it.each(['look.no-line', 'look.no-parts', 'port.refused'] as const)(
    'are not said to be for a reason of our own by %s',
    async (cause) => {
      look(cause);
      await wait(11 * MINUTE);
      expect((await open()).map(([code]) => code)).not.toContain('look.stuck');
    },
  );

  it('are forgotten with a watch that is paused', async () => {
    look('look.no-ping');
    await saveWatchesPaused(store.db, [booking], true);
    await registry.reload([booking]);
    await wait(30 * MINUTE);
    await saveWatchesPaused(store.db, [booking], false);
    await registry.reload([booking]);
    await wait(CHECK_AGAIN);
    expect((await open()).map(([code]) => code)).not.toContain('look.stuck');
  });

  it.each([
    [-30_000, '30 s back', false],
    [-61_000, '1 min 1 s back', true],
    [24 * 60 * MINUTE, '1 d forward', false],
    [24 * 60 * MINUTE + 1000, '1 d forward', true],
  ])('a clock set by %i ms is noted, and news where it is far', async (byMs, by, isNews) => {
    await self.noteJump(byMs);
    const [jump] = await fetchOwnTroubles(store.db, 5);
    expect(jump).toMatchObject({
      code: 'clock.jumped',
      ended: T0,
      detail: { by: expect.stringContaining(by) },
    });
    expect(await store.db('happenings').count({ n: '*' })).toEqual([{ n: isNews ? 1 : 0 }]);
  });

  it('are known again after a start anew, and not told twice', async () => {
    await wait(allowed() + 1);
    expect(told).toBe(1);
    const next = new SelfMonitor({
      ...{ db: store.db, registry, vault: openVault(store.folder), room: null, now },
      monotonic: () => passed,
      isBlind: () => false,
      deafRooms: async () => [],
      onNews: () => undefined,
      onMessage: () => void (told += 1),
      onError: (error) => expect.unreachable(String(error)),
    });
    await next.load();
    look();
    next.tick();
    await next.close();
    expect(await open()).toEqual([]);
    expect(told).toBe(2);
  });
});
