import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { Housekeeping } from '@/engine/state/housekeeping';
import { DAY_MS, HOUR_MS } from '@/core/time/units';
import { transaction } from '@/store/db/connection';
import { AHEAD_MS, saveComing, saveNewSeries } from '@/store/maintenance/series';
import { fetchWindows, saveNewWindow } from '@/store/maintenance/windows';
import { fetchComing, nextOfEach } from '@/views/pages/public-incidents';
import { makeWatch, periodConfig, tempStore, type TempStore } from '../helpers';
import { registryOn } from '../../unit/engine/registry-on';

const T0 = Date.parse('2026-11-27T12:00:00Z');

const DAILY = {
  ...{ title: 'Kiosks start anew', text: '', watchIds: [1], sectionIds: [], tagIds: [], announceDays: 7 },
  ...{ rule: 'FREQ=DAILY', zone: 'UTC', first: '2026-11-28T02:00', lastsMinutes: 45 },
};

describe('what comes again', () => {
  let store: TempStore;
  beforeEach(async () => {
    store = await tempStore();
  });
  afterEach(() => store.close());

  const come = (now: number) => transaction(store.db, (trx) => saveComing(trx, now));
  const begins = async () => (await fetchWindows(store.db, 0)).map((one) => one.begins);

  it('is made so far ahead, and further as time goes by: each time once, whatever the clock does', async () => {
    await transaction(store.db, (trx) => saveNewSeries(trx, DAILY, T0));
    const first = await begins();
    expect(first).toHaveLength(92);
    expect(first.at(-1)).toBeLessThan(T0 + AHEAD_MS);
    expect(await come(T0 + DAY_MS / 2)).toBe(false);
    expect(await come(T0 + 10 * DAY_MS)).toBe(true);
    expect(await begins()).toHaveLength(102);
    // Set back, and put right again.
    await come(T0 - 5 * DAY_MS);
    await come(T0 + 20 * DAY_MS);
    const later = await begins();
    expect(later).toHaveLength(112);
    expect(later.map((at, i) => at - later[0]! - i * DAY_MS).every((off) => off === 0)).toBe(true);
  });

  it('is made by the engine, which was away for half a year: only what is not over', async () => {
    await transaction(store.db, (trx) => saveNewSeries(trx, DAILY, T0));
    await store.db('windows').delete();
    const now = T0 + 180 * DAY_MS;
    const id = await makeWatch(store.db, periodConfig(60, 10), { createdAt: now });
    const registry = registryOn(store.db, () => now);
    await registry.reload([id]);
    const housekeeping = new Housekeeping({
      ...{ db: store.db, registry, now: () => now, monotonic: () => 1_000_000, keepFindingsDays: 1 },
      ...{ isBlind: () => false, takeIn: async () => undefined, onHappened: () => undefined },
      onWindowClosed: () => undefined,
      onError: (error) => {
        throw error;
      },
    });
    await housekeeping.sweep();
    const made = await begins();
    expect(made).toHaveLength(92);
    expect(made[0]).toBeGreaterThan(now - HOUR_MS);
  });

  it('is announced so many days ahead, the next time for all, and never after it began', async () => {
    await transaction(store.db, (trx) => saveNewSeries(trx, { ...DAILY, announceDays: 3 }, T0));
    const late = { title: 'Late', watchIds: [1], begins: T0 + HOUR_MS, ends: T0 + 2 * HOUR_MS, madeAt: T0 };
    await saveNewWindow(store.db, { ...late, announceDays: 0 });
    const coming = (now: number, watch = 1) =>
      fetchComing(store.db, { since: now, now }, new Map([[watch, 'Ticket kiosks']]));
    const first = await coming(T0);
    expect(first.map(({ title }) => title)).toEqual([DAILY.title, DAILY.title, DAILY.title]);
    expect(nextOfEach(first)).toHaveLength(1);
    // What is announced no day ahead is there from when it begins.
    expect((await coming(T0 + HOUR_MS - 1)).map(({ title }) => title)).not.toContain('Late');
    const begun = (await coming(T0 + HOUR_MS)).find(({ title }) => title === 'Late')!;
    expect(begun).toMatchObject({ announcedAt: T0 + HOUR_MS, labels: ['Ticket kiosks'] });
    expect(await coming(T0, 2)).toEqual([]);
  });
});
