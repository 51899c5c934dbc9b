import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { Housekeeping } from '@/engine/state/housekeeping';
import type { WatchRegistry } from '@/engine/state/watch-registry';
import { fetchFindings } from '@/store/history/findings';
import { savePulse } from '@/store/history/intake-gaps';
import { fetchOutages } from '@/store/history/outages';
import { fetchFileSizes } from '@/store/db/file-size';
import { fetchHours } from '@/store/history/rollups';
import { saveNewDrill } from '@/store/messages/drills';
import { saveNewWindow } from '@/store/maintenance/windows';
import { makeWatch, periodConfig, tempStore, webConfig, type TempStore } from '../../integration/helpers';
import { registryOn } from './registry-on';
import { DAY_MS, HOUR_MS, MINUTE_MS } from '@/core/time/units';

const T0 = Date.parse('2026-11-26T06:00:00Z');

describe('what is done by the clock', () => {
  let store: TempStore;
  let registry: WatchRegistry;
  let housekeeping: Housekeeping;
  let now: number;
  let monotonic: number;
  let blind: boolean;
  let calls: string[];

  beforeEach(async () => {
    store = await tempStore();
    [now, monotonic, blind, calls] = [T0, 1_000_000, false, []];
    registry = registryOn(store.db, () => now);
    housekeeping = new Housekeeping({
      db: store.db,
      registry,
      now: () => now,
      monotonic: () => monotonic,
      keepFindingsDays: 1,
      isBlind: () => blind,
      takeIn: async () => void calls.push('taken in'),
      onHappened: () => calls.push('something happened'),
      onWindowClosed: (id) => calls.push(`look at ${id}`),
      onError: (error) => {
        throw error;
      },
    });
  });
  afterEach(() => store.close());

  const stateOf = (id: number) => registry.get(id)!.status.state;

  /** A job that is due every minute, with ten seconds of leeway, and was heard of at T0. */
  async function makeJob(): Promise<number> {
    const id = await makeWatch(store.db, periodConfig(60, 10), {
      createdAt: T0,
      checkinKey: `key-${now}-${'k'.repeat(16)}`,
    });
    await registry.reload([id]);
    registry.apply(id, { type: 'report', report: { at: now, kind: 'done', code: 0, run: null } as never });
    return id;
  }

  /** Lets so much time pass, heard up to `heardMs` of it, and gives the judging its moment. */
  async function pass(ms: number, heardMs = ms): Promise<void> {
    await savePulse(store.db, T0 + heardMs);
    now = T0 + ms;
    monotonic += ms;
    calls = [];
    housekeeping.tick();
    await vi.waitFor(() => expect(calls).toContain('taken in'));
    await new Promise((resolve) => setTimeout(resolve, 20));
  }

  it('calls a job missing once its leeway is over, from what was taken in by then', async () => {
    const id = await makeJob();
    await pass(69_000);
    expect(stateOf(id)).toBe('overdue');
    await pass(71_000);
    expect(stateOf(id)).toBe('down');
    await registry.flush();
    expect(await fetchOutages(store.db, { watchId: id })).toMatchObject([{ began: T0 + 70_000 }]);
  });

  it('judges nobody for time in which nothing was heard', async () => {
    const id = await makeJob();
    await pass(10 * MINUTE_MS, 30_000);
    expect(stateOf(id)).toBe('up');
    await pass(10 * MINUTE_MS);
    expect(stateOf(id)).toBe('down');
  });

  it('judges nobody while this machine cannot reach out', async () => {
    const id = await makeJob();
    blind = true;
    await pass(10 * MINUTE_MS);
    expect(stateOf(id)).toBe('up');
    blind = false;
    await pass(10 * MINUTE_MS);
    expect(stateOf(id)).toBe('down');
  });

  it('judges nobody for three seconds after the clock was set', async () => {
    const id = await makeJob();
    housekeeping.clockJumped();
    now = T0 + 10 * MINUTE_MS;
    await savePulse(store.db, now);
    const judged = async (laterMs: number) => {
      monotonic += laterMs;
      calls = [];
      housekeeping.tick();
      await vi.waitFor(() => expect(calls).toContain('taken in'));
      await new Promise((resolve) => setTimeout(resolve, 20));
      return stateOf(id);
    };
    expect(await judged(2999)).toBe('up');
    expect(await judged(1)).toBe('down');
  });

  it('rests during a window and no longer, and has probes looked at after it', async () => {
    const probe = await makeWatch(store.db, webConfig('http://site.test/', { every: 3600 }), {
      createdAt: T0,
    });
    const job = await makeJob();
    await registry.reload([probe]);
    await saveNewWindow(store.db, {
      title: 'New mast',
      watchIds: [probe, job],
      begins: T0 + MINUTE_MS,
      ends: T0 + 3 * MINUTE_MS,
    });
    await housekeeping.loadWindows();
    await pass(MINUTE_MS - 1);
    expect(stateOf(probe)).not.toBe('maintenance');
    await pass(MINUTE_MS);
    expect([stateOf(probe), stateOf(job)]).toEqual(['maintenance', 'maintenance']);
    await pass(3 * MINUTE_MS - 1);
    expect(stateOf(job)).toBe('maintenance');
    await pass(3 * MINUTE_MS);
    expect(stateOf(probe)).not.toBe('maintenance');
    expect(calls).toContain(`look at ${probe}`);
    await registry.flush();
    expect(await fetchOutages(store.db, { watchId: job })).toEqual([]);
  });

  it('takes what was not looked at in time for unobserved', async () => {
    const probe = await makeWatch(store.db, webConfig('http://site.test/', { every: 60 }), { createdAt: T0 });
    await registry.reload([probe]);
    registry.apply(probe, { type: 'finding', finding: { at: T0, ms: 1, verdict: 'fine' } });
    await pass(30 * MINUTE_MS);
    expect(registry.get(probe)!.status).toMatchObject({
      state: 'waiting',
      since: registry.get(probe)!.status.coveredUntil,
    });
    expect(registry.get(probe)!.status.since).toBeLessThan(T0 + 5 * MINUTE_MS);
  });

  it('rolls up whole hours a while after their end, and lets findings go only after that', async () => {
    const probe = await makeWatch(store.db, webConfig('http://site.test/', { every: 60 }), { createdAt: T0 });
    await registry.reload([probe]);
    const look = (at: number) =>
      registry.apply(probe, { type: 'finding', finding: { at, ms: 1, verdict: 'fine' } });
    look(T0 + 1);
    now = T0 + HOUR_MS + 4 * MINUTE_MS;
    await housekeeping.sweep();
    expect(await fetchHours(store.db, probe, T0, T0 + DAY_MS)).toEqual([]);
    look(T0 + HOUR_MS - 1);
    now = T0 + HOUR_MS + 5 * MINUTE_MS;
    await housekeeping.sweep();
    expect(await fetchHours(store.db, probe, T0, T0 + DAY_MS)).toMatchObject([{ hour: T0, fine: 2 }]);
    now = T0 + 2 * DAY_MS;
    monotonic += 2 * DAY_MS;
    look(T0 + 2 * DAY_MS - 1);
    await housekeeping.sweep();
    expect((await fetchFindings(store.db, probe, { limit: 9 })).map((one) => one.at - T0)).toEqual([
      2 * DAY_MS - 1,
    ]);
    expect(await fetchHours(store.db, probe, T0, T0 + DAY_MS)).toMatchObject([{ hour: T0, fine: 2 }]);
    // What the file took is noted, once a day.
    const sizes = await fetchFileSizes(store.db, now);
    expect(sizes.map(({ day }) => (day - T0) / DAY_MS)).toEqual([-0.25, 1.75]);
    expect(sizes.every(({ bytes }) => bytes > 100_000)).toBe(true);
  });

  it('tells once that a window begins and once that it is over, however the rounds overlap', async () => {
    await saveNewWindow(store.db, { title: 'Card readers', watchIds: [], begins: T0, ends: T0 + 5000 });
    const told = async () =>
      (await store.db('happenings').orderBy('id').pluck('happening')).map(
        (text) => (JSON.parse(text) as { happening: { event: { stage: string } } }).happening.event.stage,
      );
    for (let i = 0; i < 5; i += 1) housekeeping.tick();
    await vi.waitFor(async () => expect(await told()).toEqual(['begins']));
    now = T0 + 5000;
    for (let i = 0; i < 5; i += 1) housekeeping.tick();
    await vi.waitFor(async () => expect(await told()).toEqual(['begins', 'ends']));
    await new Promise((resolve) => setTimeout(resolve, 50));
    expect(await told()).toHaveLength(2);
  });

  it('ends a drill whose time is over, once', async () => {
    const watch = { id: 7, name: 'Kiosk', kind: 'web', section: null, tags: [], urgency: 'soon' as const };
    const drill = { watches: [watch], happening: 'down' as const, began: T0, until: T0 + 1000, by: 'Ines' };
    await saveNewDrill(store.db, drill);
    housekeeping.tick();
    await new Promise((resolve) => setTimeout(resolve, 30));
    expect(await store.db('happenings')).toEqual([]);
    now = T0 + 1000;
    for (let i = 0; i < 5; i += 1) housekeeping.tick();
    await vi.waitFor(() => expect(calls).toContain('something happened'));
    await new Promise((resolve) => setTimeout(resolve, 50));
    expect(await store.db('happenings').pluck('thread')).toEqual(['d1.7']);
  });
});
