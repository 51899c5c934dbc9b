import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Principal } from '@/cases/frame/principal';
import { changeRecurringWindow, deleteRecurringWindow } from '@/cases/maintenance/series';
import { changeWindow, deleteWindow } from '@/cases/maintenance/windows';
import { Housekeeping } from '@/engine/state/housekeeping';
import { DAY_MS, HOUR_MS } from '@/core/time/units';
import { transaction } from '@/store/db/connection';
import { AHEAD_MS, saveComing, saveNewSeries } from '@/store/maintenance/series';
import { fetchWindows, saveNewWindow, type MaintenanceWindow } from '@/store/maintenance/windows';
import { fetchComing, nextOfEach } from '@/views/pages/public-incidents';
import { testWorld } from '../../unit/test-world';
import { makeWatch, periodConfig, tempStore, type TempStore } from '../helpers';
import { saveWindowLetters } from '@/engine/followers/window-letters';
import { saveNewFollower } from '@/store/followers/followers';
import { fetchDueLetters, spreadLetter } from '@/store/followers/spreading';
import { saveNewPage } from '@/store/pages/pages';
import { line, pageContent, mailFollower } from '../pages';
import { registryOn } from '../../unit/engine/registry-on';

const T0 = Date.parse('2026-11-27T12:00:00Z');

const DAILY = {
  ...{ title: 'Kiosks start anew', text: '', watchIds: [1], sectionIds: [], tagIds: [], announceDays: 7 },
  ...{ rule: 'FREQ=DAILY', zone: 'UTC', first: '2026-11-28T02:00', lastsMinutes: 45 },
};

const OPERATOR: Principal = { type: 'link', name: 'a test', rights: new Set(['operate']) };

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

  it('is told to who was told ahead when it is moved or called off, and not again where it stays', async () => {
    const watch = await makeWatch(store.db, periodConfig(60, 10), { createdAt: T0 });
    const pageId = await saveNewPage(store.db, pageContent([line(watch, 'Kiosks')]));
    await saveNewFollower(store.db, mailFollower(pageId, T0));
    let now = T0;
    const world = testWorld({ db: store.db, now: () => now });
    const plan = { ...DAILY, watchIds: [watch], announceDays: 2 };
    const id = await transaction(store.db, (trx) => saveNewSeries(trx, plan, T0));
    /** What is due goes out; the stages that were told since. */
    const told = async () => {
      await saveWindowLetters(store.db, now);
      const due = await fetchDueLetters(store.db, now);
      for (const letter of due) await spreadLetter(store.db, letter, new Set(), now);
      return due.map(({ facts }) => (facts.kind === 'maintenance' ? facts.stage : facts.kind));
    };
    expect(await told()).toEqual(['ahead', 'ahead']);
    const all = async () => (await fetchWindows(store.db, 0)).filter(({ seriesId }) => seriesId === id);
    const [first, second, third] = (await all()) as [MaintenanceWindow, MaintenanceWindow, MaintenanceWindow];
    // Other words are no other time.
    now += 1000;
    await changeRecurringWindow(OPERATOR, { id, body: { title: 'Anew' }, expected: null }, world);
    expect(await told()).toEqual([]);
    expect((await all())[0]).toMatchObject({ id: first.id, title: 'Anew' });
    const until = new Date(first.ends + HOUR_MS).toISOString();
    await changeWindow(OPERATOR, { id: first.id, body: { until }, expected: null }, world);
    expect(await told()).toEqual(['moved']);
    await deleteWindow(OPERATOR, { id: second.id, expected: null }, world);
    expect(await told()).toEqual(['off']);
    // Nobody was told of the third yet.
    await deleteWindow(OPERATOR, { id: third.id, expected: null }, world);
    expect(await told()).toEqual([]);
    now += 1000;
    await deleteRecurringWindow(OPERATOR, { id, expected: null }, world);
    expect(await told()).toEqual(['off']);
  });

  it('stays as a person made it: what was called off, moved, or is under way', async () => {
    const id = await transaction(store.db, (trx) => saveNewSeries(trx, DAILY, T0));
    let now = T0;
    const world = testWorld({ db: store.db, now: () => now });
    await makeWatch(store.db, periodConfig(60, 10), { createdAt: T0 });
    const all = async () => (await fetchWindows(store.db, 0)).filter(({ seriesId }) => seriesId === id);
    const [first, second] = (await all()) as [MaintenanceWindow, MaintenanceWindow];
    await deleteWindow(OPERATOR, { id: first.id, expected: null }, world);
    const later = new Date(second.ends + HOUR_MS).toISOString();
    await changeWindow(OPERATOR, { id: second.id, body: { until: later }, expected: null }, world);
    await changeRecurringWindow(OPERATOR, { id, body: { title: 'Anew' }, expected: null }, world);
    const after = await all();
    expect(after.map(({ wall }) => wall)).not.toContain(first.wall);
    expect(new Set(after.map(({ wall }) => wall)).size).toBe(after.length);
    expect(after.find(({ wall }) => wall === second.wall)).toMatchObject({
      ...{ id: second.id, title: DAILY.title, ends: second.ends + HOUR_MS },
    });
    expect(after.filter(({ title }) => title === 'Anew')).toHaveLength(after.length - 1);
    // The next round finds what it made.
    now = T0 + 10 * DAY_MS;
    await come(now);
    expect((await all()).map(({ wall }) => wall)).not.toContain(first.wall);
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
