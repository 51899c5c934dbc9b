import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { HOUR_MS, MINUTE_MS } from '@/core/time/units';
import { saveReports } from '@/store/history/reports';
import { saveRollups } from '@/store/history/rollups';
import { fetchWatch } from '@/store/watches/watches';
import { fetchReadings } from '@/views/history/readings';
import { fetchRunsView } from '@/views/history/runs';
import { makeWatch, periodConfig, tempStore, webConfig, type TempStore } from '../helpers';

const T0 = Date.parse('2026-11-26T06:00:00Z');

let store: TempStore;
beforeEach(async () => {
  store = await tempStore();
});
afterEach(() => store.close());

describe('readings in the columns of a chart', () => {
  /** One every ten minutes over three hours: 0, 1, 2 and so on. */
  async function sounding(): Promise<number> {
    const id = await makeWatch(store.db, webConfig('http://tides.ternferry.test/'), { createdAt: T0 });
    await store.db('findings').insert(
      Array.from({ length: 18 }, (_, i) => ({
        ...{ watch_id: id, at: T0 + i * 10 * MINUTE_MS, verdict: 0, us: 1000, value: i },
      })),
    );
    return id;
  }
  const whole = { from: T0, to: T0 + 3 * HOUR_MS };
  const hours = [
    { at: T0 + 0.5 * HOUR_MS, least: 0, mean: 2.5, most: 5 },
    { at: T0 + 1.5 * HOUR_MS, least: 6, mean: 8.5, most: 11 },
    { at: T0 + 2.5 * HOUR_MS, least: 12, mean: 14.5, most: 17 },
  ];

  it('stand in the middle of theirs, and are the same from what was rolled up', async () => {
    const id = await sounding();
    expect(await fetchReadings(store.db, id, whole, HOUR_MS)).toEqual(hours);
    await saveRollups(store.db, T0 + 2 * HOUR_MS);
    expect(await fetchReadings(store.db, id, whole, HOUR_MS)).toEqual(hours);
    await store
      .db('findings')
      .where('at', '<', T0 + HOUR_MS)
      .delete();
    expect(await fetchReadings(store.db, id, whole, HOUR_MS)).toEqual(hours);
    const all = { at: T0 + 1.5 * HOUR_MS, least: 0, mean: 8.5, most: 17 };
    expect(await fetchReadings(store.db, id, whole, 3 * HOUR_MS)).toEqual([all]);
  });

  it('are read one by one where columns are narrower than what is rolled up', async () => {
    const id = await sounding();
    const thirds = Array.from({ length: 9 }, (_, i) => ({
      ...{ at: T0 + (20 * i + 10) * MINUTE_MS, least: 2 * i, mean: 2 * i + 0.5, most: 2 * i + 1 },
    }));
    expect(await fetchReadings(store.db, id, whole, 20 * MINUTE_MS)).toEqual(thirds);
    await saveRollups(store.db, T0 + 2 * HOUR_MS);
    expect(await fetchReadings(store.db, id, whole, 20 * MINUTE_MS)).toEqual(thirds);
    // Columns begin where the chart does; what lies before it is in none.
    const later = { from: T0 + 10 * MINUTE_MS, to: T0 + 50 * MINUTE_MS };
    expect(await fetchReadings(store.db, id, later, 20 * MINUTE_MS)).toEqual([
      { at: T0 + 20 * MINUTE_MS, least: 1, mean: 1.5, most: 2 },
      { at: T0 + 40 * MINUTE_MS, least: 3, mean: 3.5, most: 4 },
    ]);
  });

  it('are none where nothing was read', async () => {
    const id = await makeWatch(store.db, webConfig('http://tides.ternferry.test/'), { createdAt: T0 });
    expect(await fetchReadings(store.db, id, whole, HOUR_MS)).toEqual([]);
  });
});

describe('the runs of a job in its chart', () => {
  const RUNS = 700;
  /** Runs a minute apart that took a second, but for one that took half a minute, and one a bit less just behind it. */
  async function manyRuns(number: number): Promise<number> {
    const id = await makeWatch(store.db, periodConfig(60, 10), { createdAt: T0 });
    const tookMs = (i: number) => ({ 300: 30_000, 301: 29_000 })[i] ?? 1000;
    await saveReports(
      store.db,
      Array.from({ length: number }, (_, i) => i).flatMap((i) =>
        (['begun', 'done'] as const).map((kind) => ({
          ...{ watchId: id, at: T0 + i * MINUTE_MS + (kind === 'done' ? tookMs(i) : 0), kind, code: null },
          ...{ run: `r${i}`, method: 'GET', address: '127.0.0.1', output: null },
        })),
      ),
    );
    return id;
  }
  const view = async (id: number) =>
    fetchRunsView(store.db, (await fetchWatch(store.db, id))!, T0 + RUNS * MINUTE_MS);

  it('are all there as long as they can be told apart', async () => {
    const { points, arrivals, lastGood } = await view(await manyRuns(600));
    expect(points).toHaveLength(600);
    // One that is waited for by a period is due at no certain time.
    expect(arrivals).toEqual([]);
    expect(lastGood?.due ?? null).toBeNull();
  });

  it('are the longest of those that would lie on each other, where they are more', async () => {
    const { points } = await view(await manyRuns(RUNS));
    expect(points.length).toBeLessThanOrEqual(600);
    expect(points.length).toBeGreaterThan(550);
    expect(Math.max(...points.map(({ ms }) => ms))).toBe(30_000);
    expect(points[0]!.at).toBe(T0 + 1000);
    const times = points.map(({ at }) => at);
    expect(times).toEqual(times.toSorted((a, b) => a - b));
  });
});
