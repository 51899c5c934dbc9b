import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { newStatus, type Status } from '@/core/lifecycle/status';
import { SEVERITY, STATES, type State } from '@/core/lifecycle/state';
import { WATCH_SORTS, type WatchSort } from '@/core/settings/watch-order';
import { NO_FILTER, type WatchFilter } from '@/core/settings/watch-filter';
import { digestOf, lastOf } from '@/engine/state/digest';
import { WatchRegistry } from '@/engine/state/watch-registry';
import { areDigested, fetchDigests, saveDigests } from '@/store/watches/digests';
import { fetchWatches, saveWatchChange, saveWatchesPaused } from '@/store/watches/watches';
import { allFromDigests, allFromWatches, fetchAll, type AllWatches } from '@/views/overview/all-watches';
import { fetchOverview } from '@/views/overview/overview';
import { fetchWatchList } from '@/views/settings/watch-list';
import { makeWatch, periodConfig, tempStore, webConfig, type TempStore } from '../helpers';

const NOW = Date.parse('2026-11-20T12:00:00Z');
const HOUR = 3_600_000;
const SECTIONS = ['Piers', 'Office', null, 'Öffentliches', 'Crew house'];

/** Watches of all kinds of standing; which ones is worked out from their place. */
async function fill({ db }: TempStore, count: number): Promise<number[]> {
  await db.raw('PRAGMA synchronous = OFF');
  const ids: number[] = [];
  for (const name of ['night', 'Überfahrt']) await db('tags').insert({ name, colour: 'teal' });
  for (let i = 0; i < count; i += 1) {
    const config =
      i % 4 === 3 ? periodConfig(3600, 600) : webConfig(`http://site-${i % 7}.ternferry.test/${i}`);
    const id = await makeWatch(db, config, {
      name: i % 5 === 0 ? `Ärmel 100% ${i}` : `Pier_${i}`,
      section: SECTIONS[i % SECTIONS.length]!,
      createdAt: NOW - (i % 3) * 30 * HOUR - 60_000,
    });
    ids.push(id);
    const state: State = STATES[(i * 7) % STATES.length]!;
    const since = NOW - i * 60_000;
    const status: Status = {
      ...newStatus(since),
      ...{ state, since, due: since, lastAt: i % 2 ? since : null, coveredUntil: NOW },
      ...(i % 6 === 0 && { warned: 'tls.expires-soon' as never }),
    };
    const last =
      i % 4 === 3
        ? null
        : JSON.stringify({
            ...{ at: since, verdict: state === 'up' ? 'fine' : 'failed', ms: 5, detail: {} },
            cause: i % 9 === 0 ? 'look.no-ping' : state === 'up' ? undefined : 'port.refused',
            evidence: { address: `192.0.2.${i % 5}` },
          });
    await db('watch_status')
      .where({ watch_id: id })
      .update({ state, since, status: JSON.stringify(status), last_finding: last });
    await db('stretches').where({ watch_id: id }).delete();
    await db('stretches').insert([
      { watch_id: id, began: NOW - 50 * HOUR, kind: 'up', ended: NOW - 9 * HOUR },
      {
        watch_id: id,
        began: NOW - 9 * HOUR,
        kind: (['down', 'slow', 'overdue'] as const)[i % 3]!,
        ended: NOW - (9 - (i % 8)) * HOUR,
      },
      { watch_id: id, began: since, kind: state, ended: null },
    ]);
    if (i % 3 === 0) await db('watch_tags').insert({ watch_id: id, tag_id: 1 + (i % 2) });
  }
  return ids;
}

async function digest({ db }: TempStore): Promise<void> {
  const watches = await fetchWatches(db);
  await saveDigests(
    db,
    watches.map((watch) => digestOf({ watch, status: watch.status, last: lastOf(watch.lastFinding) })),
  );
}

describe('what the engine keeps of each watch', () => {
  let store: TempStore;
  let kept: AllWatches;
  let whole: AllWatches;
  let ids: number[];

  beforeAll(async () => {
    store = await tempStore();
    ids = await fill(store, 120);
    await digest(store);
    kept = await allFromDigests(store.db, NOW);
    whole = await allFromWatches(store.db, NOW);
  });
  afterAll(() => store.close());

  it('counts as reading all of them does', () => {
    expect(Object.fromEntries(kept.states)).toEqual(Object.fromEntries(whole.states));
    expect(kept.states.size).toBe(STATES.length);
    expect([kept.kinds, kept.loose]).toEqual([whole.kinds, whole.loose]);
  });

  it('finds those that want a hand as reading all of them does', () => {
    const wanting = (all: AllWatches) => all.wanting.map(({ id }) => id).sort((a, b) => a - b);
    expect(wanting(kept)).toEqual(wanting(whole));
    expect(kept.wanting.length).toBeGreaterThan(20);
    expect(kept.wanting.length).toBeLessThan(ids.length);
  });

  it.each<Partial<WatchFilter>>([
    {},
    { states: ['down', 'slow'] },
    { kinds: ['checkin'] },
    { sections: ['Piers', ''] },
    { sections: [''] },
    { tags: ['night'] },
    { tags: ['night', 'Überfahrt'], states: ['up', 'waiting'] },
    { text: 'PIER_1' },
    { text: 'pier%' },
    { text: '100% ärmel' },
    { text: 'ÜBER' },
    { text: 'öffent site-3' },
    { text: 'every' },
    { text: "o'clock" },
    { text: 'no such thing' },
    { tags: ['gone'] },
  ])('narrows by %j as reading all of them does, in either order', async (part) => {
    const filter = { ...NO_FILTER, ...part };
    expect(await kept.matching(filter)).toEqual(await whole.matching(filter));
    const span = { from: NOW - 24 * HOUR, to: NOW };
    for (const order of [{ worstIn: span }, ...WATCH_SORTS.map((sort) => ({ sort }))])
      expect(await kept.matching(filter, order), JSON.stringify(order)).toEqual(
        await whole.matching(filter, order),
      );
  });

  it('orders by trouble, and not by places', async () => {
    const span = { from: NOW - 24 * HOUR, to: NOW };
    const worst = await kept.matching(NO_FILTER, { worstIn: span });
    expect(worst).not.toEqual(await kept.matching(NO_FILTER));
    expect([...worst].sort((a, b) => a - b)).toEqual(ids);
  });

  it('orders by name, kind and state, and not by places', async () => {
    const named = new Map((await fetchWatches(store.db)).map((watch) => [watch.id, watch]));
    const inOrder = async (sort: WatchSort) =>
      (await kept.matching(NO_FILTER, { sort })).map((id) => named.get(id)!);
    const names = (await inOrder('name')).map(({ name }) => name.toLowerCase());
    expect(names).toEqual([...names].sort());
    const kinds = (await inOrder('kind')).map(({ kind }) => kind);
    expect(kinds).toEqual([...kinds].sort());
    const weights = (await inOrder('state')).map(({ status }) => SEVERITY[status.state]);
    expect(weights).toEqual([...weights].sort((a, b) => b - a));
    expect(new Set(weights).size).toBeGreaterThan(2);
  });

  it('knows who is well at a host and an address', async () => {
    const asked = [['site-2.ternferry.test'], ['192.0.2.4']] as const;
    const sorted = (rows: object[]) => rows.map((row) => JSON.stringify(row)).sort();
    const found = sorted(await kept.well(...asked));
    expect(found).toEqual(sorted(await whole.well(...asked)));
    expect(found.length).toBeGreaterThan(3);
  });

  it('gives way to the watches themselves where one has none, or the engine is away', async () => {
    const { db } = store;
    expect(await areDigested(db)).toBe(true);
    await db('watch_digests').where({ watch_id: ids[0]! }).update({ words: 'made up' });
    const named = async (engineAnswers: boolean) =>
      (await (await fetchAll(db, NOW, engineAnswers)).matching({ ...NO_FILTER, text: 'made up' })).length;
    expect([await named(true), await named(false)]).toEqual([1, 0]);
    await saveWatchesPaused(db, [ids[0]!], true);
    expect(await areDigested(db)).toBe(false);
    expect(await named(true)).toBe(0);
    await digest(store);
    expect(await named(true)).toBe(0);
    expect(await areDigested(db)).toBe(true);
  });
});

describe('who keeps it', () => {
  let store: TempStore;
  let registry: WatchRegistry;
  let id: number;
  const errors: string[] = [];

  beforeAll(async () => {
    store = await tempStore();
    id = await makeWatch(store.db, webConfig('http://booking.ternferry.test/'), { name: 'Booking site' });
    registry = new WatchRegistry({
      ...{ db: store.db, now: () => NOW, zone: 'UTC' },
      ...{ onNews: () => undefined, onHappenings: () => undefined, onState: () => undefined },
      onError: (error) => errors.push(String(error)),
    });
  });
  afterAll(() => store.close());
  const kept = async () => (await fetchDigests(store.db)).get(id);

  it('writes it at a start where there is none', async () => {
    expect(await areDigested(store.db)).toBe(false);
    await registry.load();
    await registry.catchUp();
    expect(await kept()).toEqual({
      ...{ watchId: id, state: 'waiting', words: 'booking site\nhttp://booking.ternferry.test/' },
      ...{ host: 'booking.ternferry.test', address: null, wantsFrom: null },
    });
  });

  it('writes it with what a look came to, and only where that changes it', async () => {
    const failed = { at: NOW, verdict: 'failed' as const, ms: 5, cause: 'port.refused' as const, detail: {} };
    const finding = { ...failed, evidence: { address: '192.0.2.7' } };
    registry.apply(id, { type: 'finding', finding });
    await registry.flush();
    const after = await kept();
    expect(after).toMatchObject({ address: '192.0.2.7', wantsFrom: 0 });
    expect(['doubtful', 'down']).toContain(after!.state);
    await store.db('watch_digests').update({ words: 'touched by nobody' });
    registry.apply(id, { type: 'finding', finding: { ...finding, at: NOW + 1 } });
    await registry.flush();
    expect((await kept())!.words).toBe('touched by nobody');
  });

  it('writes it anew after a change, whatever that was', async () => {
    const { config, own } = (await fetchWatches(store.db, [id]))[0]!;
    expect(config.type).toBe('probe');
    await saveWatchChange(store.db, id, { name: 'Sailings', section: null, config: own });
    expect(await kept()).toBeUndefined();
    await registry.reload([id]);
    expect((await kept())!.words).toMatch(/^sailings\n/);
    // Nothing that stands in it has changed, and it is there again all the same.
    await saveWatchChange(store.db, id, { name: 'Sailings', section: 'Piers', config: own });
    await registry.reload([id]);
    expect((await kept())!.words).toMatch(/^sailings\n/);
    expect(errors).toEqual([]);
  });

  it('keeps nobody from a start or a change where it cannot be written, and writes it later', async () => {
    await store.db.raw(
      `CREATE TRIGGER no_room BEFORE INSERT ON watch_digests BEGIN SELECT RAISE(ABORT, 'no room'); END`,
    );
    expect(await registry.reload([id])).toHaveLength(1);
    await store.db('watch_digests').delete();
    await registry.load();
    await registry.catchUp();
    expect(errors).toEqual([expect.stringContaining('no room')]);
    await store.db.raw('DROP TRIGGER no_room');
    const fine = { at: NOW + 5, verdict: 'fine' as const, ms: 5 };
    registry.apply(id, { type: 'finding', finding: fine });
    await registry.flush();
    expect((await kept())!.words).toMatch(/^sailings\n/);
  });
});

describe('what a screen reads', () => {
  /** How many questions are asked of the database, and how much comes back, in characters. */
  async function readBy(store: TempStore, work: () => Promise<unknown>) {
    let questions = 0;
    let characters = 0;
    const count = (rows: unknown) => {
      questions += 1;
      characters += JSON.stringify(rows ?? null).length;
    };
    store.db.on('query-response', count);
    await work();
    store.db.removeListener('query-response', count);
    return { questions, characters };
  }

  it('is what it shows, and not what there is', async () => {
    const read: Record<string, { questions: number; characters: number }[]> = {};
    for (const count of [250, 2000]) {
      const store = await tempStore();
      await fill(store, 250);
      // All others are calm: they add nothing to be shown.
      const first = 250;
      for (let i = first; i < count; i += 1) {
        await makeWatch(store.db, webConfig(`http://calm.ternferry.test/${i}`), {
          name: `Calm ${i}`,
          createdAt: NOW,
        });
      }
      await digest(store);
      const { db } = store;
      const place = { now: NOW, zone: 'UTC' };
      const screens: Record<string, () => Promise<unknown>> = {
        overview: () => fetchOverview(db, { range: '90d', worstFirst: false, filter: NO_FILTER }, place),
        'overview, worst first': () =>
          fetchOverview(db, { range: '90d', worstFirst: true, filter: NO_FILTER }, place),
        'overview, narrowed': () =>
          fetchOverview(
            db,
            { range: '24h', worstFirst: false, filter: { ...NO_FILTER, text: 'pier_1' } },
            place,
          ),
        'all watches': () => fetchWatchList(db, NO_FILTER, { now: NOW }),
      };
      for (const [screen, work] of Object.entries(screens)) {
        (read[screen] ??= []).push(await readBy(store, work));
      }
      await store.close();
    }
    for (const [screen, [few, many]] of Object.entries(read)) {
      expect.soft(many!.questions, screen).toBeLessThanOrEqual(few!.questions);
      expect.soft(many!.characters / few!.characters, screen).toBeLessThan(1.25);
    }
  }, 120_000);
});
