import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { newStatus } from '@/core/lifecycle/status';
import { NO_FILTER } from '@/core/settings/watch-filter';
import { fetchLatestEvidence } from '@/store/history/evidence';
import { fetchPageBySlug, saveNewPage } from '@/store/pages/pages';
import { Recorder } from '@/store/history/recorder';
import { fetchWatch } from '@/store/watches/watches';
import { coarsePublic } from '@/core/pages/public-line';
import { line, pageContent } from '../pages';
import { fetchPublicPage } from '@/views/pages/public-page';
import { fetchWatchList, MOST_ROWS } from '@/views/settings/watch-list';
import { fetchWatchView } from '@/views/watch/watch';
import { makeWatch, tempStore, webConfig, type TempStore } from '../helpers';
import { fetchMoreLines } from '@/views/overview/lines';
import { overviewOf } from './overview-of';

const WATCHES = MOST_ROWS + 130;
const DAY_MS = 86_400_000;
const now = Date.parse('2026-11-20T12:00:00Z');

describe('screens of a large desk', () => {
  let store: TempStore;
  const ids: number[] = [];

  beforeAll(async () => {
    store = await tempStore();
    await store.db.raw('PRAGMA synchronous = OFF');
    for (let i = 0; i < WATCHES; i += 1) {
      const config = webConfig(`http://site-${i % 60}.ternferry.test/`);
      ids.push(await makeWatch(store.db, config, { name: `Pier ${i}`, createdAt: now - 90 * DAY_MS }));
    }
    // Everything is down: each has failed twice, in two ways.
    const recorder = new Recorder(store.db);
    for (const cause of ['reply.timeout', 'port.timeout'] as const) {
      const at = now - (cause === 'reply.timeout' ? 2000 : 1000);
      const failed = { at, verdict: 'failed' as const, ms: 5, cause, detail: { port: 443, limit: '5 s' } };
      await recorder.save(
        ids.map((watchId) => ({
          watchId,
          finding: failed,
          keepEvidence: { ...failed, evidence: { facts: [{ label: 'watch', value: String(watchId) }] } },
          status: { ...newStatus(now), state: 'down' as const, since: at },
          events: [],
        })),
      );
    }
  });
  afterAll(() => store.close());

  const overview = (rest: object = {}) => overviewOf(store.db, now, rest);

  it('draw the first rows, count all, and the others piece by piece', async () => {
    const some = await overview();
    expect(some.rows).toHaveLength(MOST_ROWS);
    expect(some).toMatchObject({ all: WATCHES, shown: WATCHES });
    const wish = { range: '24h', worstFirst: false, filter: NO_FILTER } as const;
    const place = { now, zone: 'UTC' };
    const behind = (after: readonly [number, number], limit: number) =>
      fetchMoreLines(store.db, wish, { after, limit, ascending: true }, place);
    const last = await behind([MOST_ROWS, 0], 500);
    expect([...some.rows, ...last].map(({ id }) => id)).toEqual(ids);
    // By the last that was shown, wherever it stands by now; by its place where it is gone.
    expect((await behind([7, ids[40]!], 2)).map(({ id }) => id)).toEqual([ids[41], ids[42]]);
    expect((await behind([7, 999_999], 1)).map(({ id }) => id)).toEqual([ids[7]]);
    expect(last[0]).toMatchObject({ target: 'http://site-40.ternferry.test/', pace: '1 min', paused: false });
    const narrow = await overview({ filter: { ...NO_FILTER, text: 'Pier 7' } });
    expect(narrow.rows.length).toBe(Math.min(MOST_ROWS, narrow.shown));
    const list = await fetchWatchList(store.db, NO_FILTER, { now });
    expect([list.rows.length, list.ids]).toEqual([MOST_ROWS, ids]);
  });

  it('put the worst first before they leave any out', async () => {
    const well = ids.slice(0, 100);
    await store
      .db('watch_status')
      .whereIn('watch_id', well)
      .update({ status: JSON.stringify({ ...newStatus(now), state: 'up' }) });
    const { rows } = await overview({ worstFirst: true });
    expect(rows.every((row) => row.state === 'down')).toBe(true);
    const wish = { range: '24h', worstFirst: true, filter: NO_FILTER } as const;
    const page = { after: [MOST_ROWS, 0] as const, limit: WATCHES, ascending: true };
    const rest = await fetchMoreLines(store.db, wish, page, { now, zone: 'UTC' });
    expect([...rows, ...rest].map((row) => row.state)).toEqual([
      ...ids.slice(well.length).map(() => 'down'),
      ...well.map(() => 'up'),
    ]);
  });

  it('tell the first troubles one by one, and say how many more there are', async () => {
    const { cards, moreCards, together, sentence } = await overview();
    const down = WATCHES - 100;
    const told = cards.length + together.reduce((sum, group) => sum + group.cards.length + group.more, 0);
    expect(told + moreCards).toBe(down);
    expect(cards.length).toBeLessThanOrEqual(20);
    expect(together.length).toBe(20);
    expect(sentence).toContain(String(down));
  });

  it('read the newest evidence of all at once', async () => {
    const latest = await fetchLatestEvidence(store.db, ids);
    expect(latest.size).toBe(WATCHES);
    for (const [watchId, kept] of latest) {
      expect(kept).toMatchObject({
        cause: 'port.timeout',
        evidence: { facts: [{ value: String(watchId) }] },
      });
    }
  });

  it('draw a watch that never rests in few pieces, counting every outage and listing the newest', async () => {
    const id = ids[0]!;
    const outages = 12_000;
    const step = Math.floor((80 * DAY_MS) / outages);
    const rows = Array.from({ length: outages }, (_, i) => now - 80 * DAY_MS + i * step);
    await store.db.transaction(async (trx) => {
      await trx('stretches').where({ watch_id: id }).delete();
      for (const began of rows) {
        const middle = began + step / 2;
        await trx('stretches').insert([
          { watch_id: id, began, kind: 'up', ended: middle },
          { watch_id: id, began: middle, kind: 'down', ended: began + step },
        ]);
        await trx('outages').insert({
          watch_id: id,
          began: middle,
          noticed: middle,
          ended: began + step,
          cause: 'reply.status',
          causes: '["reply.status"]',
          detail: '{"status":500}',
        });
      }
    });
    const watch = (await fetchWatch(store.db, id))!;
    const view = await fetchWatchView(store.db, watch, { range: '90d', now, zone: 'UTC' });
    expect(view.history.line.length).toBeLessThanOrEqual(401);
    expect(view.history.words).toContain('down 40 d');
    expect(view.outages).toHaveLength(50);
    expect(view.moreOutages).toBe(outages - 50);
    expect(view.outageSummary).toContain('12000 in 90 days, 40 d in all');
    expect(view.uptimes.at(-1)!.text).toBe('50 %');
    await saveNewPage(store.db, pageContent([line(id, 'Pier')]));
    const at = { now, zone: 'UTC' };
    const page = await fetchPublicPage(store.db, (await fetchPageBySlug(store.db, 'ferries'))!, at);
    const [row] = page.sections[0]!.rows;
    expect(coarsePublic(row!.line, page.range, 400).length).toBeLessThanOrEqual(401);
    expect(row!.figure.uptime).toBe(0.5);
  });
});
