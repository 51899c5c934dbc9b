import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Finding } from '@/core/causes/finding';
import type { WatchRegistry } from '@/engine/state/watch-registry';
import { Recorder } from '@/store/history/recorder';
import { fetchFindings } from '@/store/history/findings';
import { fetchOutages } from '@/store/history/outages';
import { makeWatch, periodConfig, tempStore, webConfig, type TempStore } from '../../integration/helpers';
import { faultyDb, sqliteError } from '../faulty-db';
import { registryOn } from './registry-on';

const T0 = Date.parse('2026-11-26T06:00:00Z');
const FULL = sqliteError('SQLITE_FULL');

describe('what the engine keeps in memory until it is written', () => {
  let store: TempStore;
  let faulty: ReturnType<typeof faultyDb>;
  let registry: WatchRegistry;
  let errors: unknown[];
  let refused: number;
  let isFull: boolean;
  let watchId: number;

  beforeEach(async () => {
    store = await tempStore();
    faulty = faultyDb(store.db);
    [errors, refused, isFull] = [[], 0, false];
    watchId = await makeWatch(store.db, webConfig('http://site.test/'), { createdAt: T0 });
    registry = registryOn(faulty.db, () => T0, {
      onError: (error) => errors.push(error),
      onRefused: () => (refused += 1),
      isFull: () => isFull,
    });
    await registry.load();
    await registry.catchUp();
  });
  afterEach(() => store.close());

  const finding = (at: number, verdict: 'fine' | 'failed' = 'fine') =>
    registry.apply(watchId, {
      type: 'finding',
      finding: (verdict === 'fine'
        ? { at: T0 + at, ms: 3, verdict }
        : { at: T0 + at, ms: 3, verdict, cause: 'port.refused', detail: { port: 443 } }) as Finding,
    });
  const kept = async () => (await fetchFindings(store.db, watchId, { limit: 100 })).map((one) => one.at - T0);

  it('outlasts a database that refuses, in the order in which it came', async () => {
    faulty.refuse(FULL);
    finding(1, 'failed');
    const writing = registry.flush();
    // It comes while the one before is being refused.
    finding(2);
    await writing;
    await registry.flush();
    expect(await kept()).toEqual([]);
    expect(refused).toBe(2);
    // It is said once, not at every try.
    expect(errors).toEqual([FULL]);
    faulty.refuse(null);
    await registry.flush();
    expect(await kept()).toEqual([2, 1]);
    // Written the other way round, the watch would be left in the outage it came back from.
    const [outage] = await fetchOutages(store.db, { watchId });
    expect(outage).toMatchObject({ began: T0 + 1, ended: T0 + 2 });
    expect(await store.db('watch_status').where({ watch_id: watchId }).first('state')).toEqual({
      state: 'up',
    });
  });

  it('is written by itself, a moment after it came', async () => {
    finding(1);
    await vi.waitFor(async () => expect(await kept()).toEqual([1]));
  });

  it('is written a part at a time, in the order in which it came, and goes on where one part was refused', async () => {
    const sizes: number[] = [];
    const save = Recorder.prototype.save;
    const spied = vi.spyOn(Recorder.prototype, 'save').mockImplementation(function (this: Recorder, some) {
      sizes.push(some.length);
      faulty.refuse(sizes.length === 3 ? FULL : null);
      return save.call(this, some);
    });
    for (let i = 1; i <= 1100; i += 1) finding(i, i % 2 ? 'failed' : 'fine');
    await registry.flush();
    expect(sizes).toEqual([250, 250, 250]);
    await registry.flush();
    spied.mockRestore();
    expect(Math.max(...sizes)).toBe(250);
    expect(sizes.reduce((sum, size) => sum + size)).toBe(1100 + 250);
    expect(await store.db('findings').count({ n: '*' })).toEqual([{ n: 1100 }]);
    // Each failed look was followed by a fine one: no outage is left open by one that was written too late.
    const outages = await fetchOutages(store.db, { watchId });
    expect(outages).toHaveLength(550);
    expect(outages.every(({ began, ended }) => ended === began + 1)).toBe(true);
  });

  it('is tried again by itself', async () => {
    faulty.refuse(sqliteError('SQLITE_BUSY'));
    finding(1);
    await registry.flush();
    const tries = faulty.tries();
    faulty.refuse(null);
    await vi.waitFor(async () => expect(await kept()).toEqual([1]), 5000);
    expect(faulty.tries()).toBeGreaterThan(tries);
  });

  it('is cut down to what happened while the disk is full', async () => {
    isFull = true;
    finding(1, 'failed');
    await registry.flush();
    expect(await kept()).toEqual([]);
    expect(await fetchOutages(store.db, { watchId })).toMatchObject([{ began: T0 + 1 }]);
    expect(await store.db('evidence').where({ watch_id: watchId })).toEqual([]);
    isFull = false;
    finding(2);
    await registry.flush();
    expect(await kept()).toEqual([2]);
  });

  it('does not grow without end: findings are let go of, what happened is not', async () => {
    faulty.refuse(FULL);
    const job = await makeWatch(store.db, periodConfig(86_400, 10), { createdAt: T0 });
    await registry.reload([job]);
    const note = { at: T0 + 1, kind: 'note', code: null, run: null } as never;
    registry.apply(job, { type: 'report', report: note }, { reportId: 7 });
    // That it came up is told to nobody, and is part of its history all the same.
    finding(1);
    for (let i = 2; i < 50_010; i += 1) finding(i);
    finding(50_010, 'failed');
    await registry.flush();
    const { pending } = registry as unknown as { pending: unknown[] };
    expect(pending).toHaveLength(3);
    faulty.refuse(null);
    await registry.flush();
    expect(await kept()).toEqual([]);
    expect(await fetchOutages(store.db, { watchId })).toHaveLength(1);
    const kinds = await store.db('stretches').where({ watch_id: watchId }).orderBy('began').pluck('kind');
    expect(kinds).toEqual(['waiting', 'up', 'down']);
    const cursor = await store.db('settings').where({ key: 'report_cursor' }).first('value');
    expect(cursor).toEqual({ value: '7' });
  }, 60_000);

  it('keeps of a job what it reported up to where, whatever is let go of', async () => {
    const job = await makeWatch(store.db, periodConfig(60, 10), {
      createdAt: T0,
      checkinKey: 'k'.repeat(32),
    });
    await registry.reload([job]);
    isFull = true;
    const report = { at: T0 + 5, kind: 'done', code: 0, run: null } as const;
    registry.apply(job, { type: 'report', report: { ...report } as never }, { reportId: 41 });
    await registry.flush();
    expect(await store.db('settings').where({ key: 'report_cursor' }).first('value')).toEqual({
      value: '41',
    });
  });
});
