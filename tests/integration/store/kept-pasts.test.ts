import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { StretchKind } from '@/core/lifecycle/state';
import { WatchHistory } from '@/core/history/past';
import { DAY_MS, HOUR_MS } from '@/core/time/units';
import { fetchOutageSpans, saveLeftOut } from '@/store/history/outages';
import { fetchStretches } from '@/store/history/stretches';
import { fetchWatch } from '@/store/watches/watches';
import { fetchHistory, fetchHistoryIn, lastDays } from '@/views/history/history';
import { keptPasts, pastOutages } from '@/views/history/kept-pasts';
import { makeWatch, periodConfig, tempStore, type TempStore } from '../helpers';

const NOW = Date.parse('2026-11-20T12:00:00Z');
const BEGAN = NOW - 20 * DAY_MS;
const TURNS = 1500;
const STEP = Math.floor((19 * DAY_MS) / TURNS);

describe('the past of a restless watch', () => {
  let store: TempStore;
  let id: number;
  const range = lastDays(NOW, 90);

  beforeEach(async () => {
    store = await tempStore();
    const { db } = store;
    id = await makeWatch(db, periodConfig(3600, 600), {
      createdAt: BEGAN,
      checkinKey: 'key-of-a-restless-job',
    });
    await db('stretches').delete();
    const turns = Array.from({ length: TURNS }, (_, i) => ({
      from: BEGAN + i * STEP,
      down: BEGAN + i * STEP + 60_000,
    }));
    await db.batchInsert(
      'stretches',
      turns.flatMap(({ from, down }) => [
        { watch_id: id, began: from, kind: 'down', ended: down },
        { watch_id: id, began: down, kind: 'up', ended: from + STEP },
      ]),
      100,
    );
    await db.batchInsert(
      'outages',
      turns.map(({ from, down }) => ({
        ...{ watch_id: id, began: from, noticed: from, ended: down },
        ...{ cause: 'checkin.missed', causes: '["checkin.missed"]', detail: '{}' },
      })),
      50,
    );
    const last = BEGAN + TURNS * STEP;
    await db('stretches').insert({ watch_id: id, began: last, kind: 'up', ended: null });
  });
  afterEach(() => store.close());

  /** Figures and line as they are asked for, and as they are read anew. */
  async function both(now = NOW) {
    const span = lastDays(now, 90);
    const asked = (await fetchHistory(store.db, [(await fetchWatch(store.db, id))!], 90, now)).get(id)!;
    const stretches = (await fetchStretches(store.db, [id], span.from, now)).get(id)!;
    const outages = pastOutages(await fetchOutageSpans(store.db, [id], span.from), now);
    const anew = new WatchHistory(span, { stretches, outages });
    const told = (history: WatchHistory) => ({
      line: history.line(span),
      figures: history.availability(span),
      outages: history.outages,
      leftOut: history.leftOut,
    });
    return [told(asked), told(anew)] as const;
  }
  const past = async (from = range.from) =>
    (await keptPasts.fetch(store.db, [id], { from, to: NOW }, NOW)).get(id);

  it('is worked out once, and again where a longer time is asked for', async () => {
    const first = await past(NOW - 17 * DAY_MS);
    expect(await past(NOW - 17 * DAY_MS)).toBe(first);
    expect(await past(NOW - 16 * DAY_MS)).toBe(first);
    expect(await past()).not.toBe(first);
    const [asked, anew] = await both();
    expect(asked).toEqual(anew);
    expect(asked.outages).toHaveLength(TURNS);
  });

  it('is not kept for a watch that is calm within the time', async () => {
    expect(await past(NOW - DAY_MS)).toBeUndefined();
    const calm = await makeWatch(store.db, periodConfig(3600, 600), { checkinKey: 'key-of-a-calm-job' });
    expect([...(await keptPasts.fetch(store.db, [calm, id], range, NOW)).keys()]).toEqual([id]);
  });

  it('stays while only what is open goes on, and lines still tell what came since', async () => {
    const first = await past();
    const { db } = store;
    const at = NOW - 90_000;
    await db('stretches').where({ watch_id: id, ended: null }).update({ ended: at });
    await db('stretches').insert({ watch_id: id, began: at, kind: 'down', ended: null });
    await db('outages').insert({
      ...{ watch_id: id, began: at, noticed: at, ended: null },
      ...{ cause: 'checkin.missed', causes: '["checkin.missed"]', detail: '{}' },
    });
    expect(await past()).toBe(first);
    for (const now of [NOW, NOW + HOUR_MS]) {
      const [asked, anew] = await both(now);
      expect(asked).toEqual(anew);
      expect(asked.line.at(-1)).toMatchObject({ kind: 'down', from: at, to: now });
    }
  });

  it.each<[string, () => Promise<unknown>]>([
    [
      'an outage is left out',
      async () => saveLeftOut(store.db, (await someOutage()).id, 'our own cable', NOW),
    ],
    ['a stretch goes', () => store.db('stretches').where({ watch_id: id, began: BEGAN }).delete()],
    [
      'one ends later',
      () =>
        store
          .db('stretches')
          .where({ watch_id: id, began: BEGAN })
          .update({ ended: BEGAN + 90_000 }),
    ],
    [
      'one is of another kind',
      () => store.db('stretches').where({ watch_id: id, began: BEGAN }).update({ kind: 'paused' }),
    ],
    ['two change their kinds', () => swapKinds()],
    ['nobody looked for a while', () => addGap(BEGAN + DAY_MS, BEGAN + 2 * DAY_MS)],
    ['nobody looked up to now', () => addGap(NOW - 3 * DAY_MS, NOW)],
    [
      'an outage goes',
      async () =>
        store
          .db('outages')
          .where({ id: (await someOutage()).id })
          .delete(),
    ],
    [
      'an outage ends later',
      async () =>
        store
          .db('outages')
          .where({ id: (await someOutage()).id })
          .increment('ended', 5000),
    ],
  ])('is worked out anew where %s', async (_what, change) => {
    const first = await past();
    await change();
    expect(await past()).not.toBe(first);
    const [asked, anew] = await both();
    expect(asked).toEqual(anew);
  });

  it('tells why an outage was left out as it was said last', async () => {
    const { id: outage } = await someOutage();
    for (const [i, reason] of ['our own cable', 'the pier cable'].entries()) {
      await saveLeftOut(store.db, outage, reason, NOW + i);
      expect((await both())[0].leftOut).toMatchObject([{ reason }]);
    }
  });

  it('answers for a time that is over, and for no more than that', async () => {
    await past();
    const span = { from: BEGAN + DAY_MS, to: BEGAN + 18 * DAY_MS };
    const watch = (await fetchWatch(store.db, id))!;
    const history = (await fetchHistoryIn(store.db, [watch], span, NOW)).get(id)!;
    const within = await store.db('outages').where('began', '<', span.to).andWhere('ended', '>', span.from);
    expect(history.outages).toHaveLength(within.length);
    const { downMs, observedMs } = history.availability(span);
    expect(observedMs).toBe(span.to - span.from);
    const down = within.reduce((sum: number, { began, ended }: { began: number; ended: number | null }) => {
      return sum + Math.min(ended!, span.to) - Math.max(began, span.from);
    }, 0);
    expect(downMs).toBe(down);
  });

  const someOutage = async (): Promise<{ id: number }> =>
    (await store.db('outages').where({ watch_id: id }).offset(700).first())!;

  const addGap = (began: number, ended: number) =>
    store.db('stretches').insert({ watch_id: id, began, kind: 'unobserved', ended });

  /** Counts and sums of times stay what they were. */
  async function swapKinds(): Promise<void> {
    const change = (began: number, kind: StretchKind) =>
      store.db('stretches').where({ watch_id: id, began }).update({ kind });
    await change(BEGAN, 'up');
    await change(BEGAN + 60_000, 'down');
  }
});
