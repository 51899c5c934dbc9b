import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Principal } from '@/cases/frame/principal';
import { changeRecurringWindow, deleteRecurringWindow } from '@/cases/maintenance/series';
import { changeWindow, deleteWindow } from '@/cases/maintenance/windows';
import { Housekeeping } from '@/engine/state/housekeeping';
import { DAY_MS, HOUR_MS } from '@/core/time/units';
import { transaction } from '@/store/db/connection';
import {
  AHEAD_MS,
  fetchOneSeries,
  saveComing,
  saveNewSeries,
  saveSeriesChange,
} from '@/store/maintenance/series';
import { fetchWindows, saveNewWindow, type MaintenanceWindow } from '@/store/maintenance/windows';
import { fetchComing, nextOfEach } from '@/views/pages/public-incidents';
import { testWorld } from '../../unit/test-world';
import { makeWatch, periodConfig, tempStore, type TempStore } from '../helpers';
import { saveWindowLetters } from '@/engine/followers/window-letters';
import { saveNewFollower } from '@/store/followers/followers';
import { fetchDueLetters, spreadLetter } from '@/store/followers/spreading';
import { deleteWatches } from '@/store/watches/watches';
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

  it('keeps the windows whose times stay as they are, and makes the others anew', async () => {
    const id = await transaction(store.db, (trx) => saveNewSeries(trx, DAILY, T0));
    const change = async (rest: Partial<typeof DAILY>) => {
      const dropped: number[] = [];
      await transaction(store.db, (trx) =>
        saveSeriesChange(trx, { ...DAILY, id, ...rest }, T0, (windowId) => {
          dropped.push(windowId);
          return Promise.resolve();
        }),
      );
      return dropped.toSorted((a, b) => a - b);
    };
    const all = () => fetchWindows(store.db, 0);
    const before = await all();
    const ids = before.map((one) => one.id);
    expect(await change({ title: 'Anew' })).toEqual([]);
    expect((await all()).map(({ title, ...one }) => [title, one.id])).toEqual(
      ids.map((one) => ['Anew', one]),
    );
    // On Saturdays only: those stay.
    const saturdays = before.filter(({ begins: at }) => new Date(at).getUTCDay() === 6).map((one) => one.id);
    expect(await change({ rule: 'FREQ=WEEKLY;BYDAY=SA' })).toEqual(
      ids.filter((one) => !saturdays.includes(one)),
    );
    expect((await all()).map((one) => one.id)).toEqual(saturdays);
    // They begin when they did, and end later.
    expect(await change({ rule: 'FREQ=WEEKLY;BYDAY=SA', lastsMinutes: 60 })).toEqual(saturdays);
    const later = await all();
    expect(later.map(({ begins: from, ends }) => ends - from)).toEqual(saturdays.map(() => HOUR_MS));
    // An hour later.
    const moved = { rule: 'FREQ=WEEKLY;BYDAY=SA', lastsMinutes: 60, first: '2026-11-28T03:00' };
    expect(await change(moved)).toEqual(later.map((one) => one.id));
    expect((await all()).map((one) => one.begins)).toEqual(later.map((one) => one.begins + HOUR_MS));
  });

  it('is for whatever its sections and tags hold when it is read, each watch once', async () => {
    const config = periodConfig(60, 10);
    const [one, two, three] = [
      await makeWatch(store.db, config, { name: 'North', section: 'Piers' }),
      await makeWatch(store.db, config, { name: 'South', section: 'Piers' }),
      await makeWatch(store.db, config, { name: 'Loose' }),
    ];
    await store.db('tags').insert({ name: 'night', colour: 'teal' });
    await store.db('watch_tags').insert([
      { watch_id: two, tag_id: 1 },
      { watch_id: three, tag_id: 1 },
    ]);
    const covers = async (rest: object) => {
      const id = await transaction(store.db, (trx) =>
        saveNewSeries(trx, { ...DAILY, watchIds: [], ...rest }, T0),
      );
      const found = (await fetchOneSeries(store.db, id))!.covers;
      const [window] = (await fetchWindows(store.db, 0)).filter(({ seriesId }) => seriesId === id);
      expect(window!.covers).toEqual(found);
      return found;
    };
    expect(await covers({})).toEqual([]);
    expect(await covers({ sectionIds: [1] })).toEqual([one, two]);
    expect(await covers({ tagIds: [1] })).toEqual([two, three]);
    expect(await covers({ watchIds: [two], sectionIds: [1], tagIds: [1] })).toEqual([two, one, three]);
    await deleteWatches(store.db, [two], T0);
    expect(await covers({ sectionIds: [1], tagIds: [1] })).toEqual([one, three]);
    expect(await fetchOneSeries(store.db, 999)).toBeNull();
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
    await makeWatch(store.db, periodConfig(3600, 60), { createdAt: T0 });
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
