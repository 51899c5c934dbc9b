import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { NO_FILTER } from '@/core/settings/watch-filter';
import type { WatchConfig } from '@/core/settings/watch-config';
import { digestOf, lastOf } from '@/engine/state/digest';
import { saveNewChannel } from '@/store/messages/channels';
import { saveDigests } from '@/store/watches/digests';
import { fetchWatches } from '@/store/watches/watches';
import { fetchAll } from '@/views/overview/all-watches';
import { fetchCards } from '@/views/overview/cards';
import { fetchLinesOf } from '@/views/overview/lines';
import { fetchOverview, fetchOverviewHead } from '@/views/overview/overview';
import { makeWatch, periodConfig, tempStore, webConfig, type TempStore } from '../helpers';
import { NOW, troubled } from './troubled';

const MINUTE = 60_000;

describe.each([
  ['from what the engine keeps', true],
  ['from the watches themselves', false],
])('what wants a hand, read %s', (_, engineAnswers) => {
  let store: TempStore;
  let place: { now: number; zone: string; engineAnswers: boolean };
  let [mast, camera, stock, tide] = [0, 0, 0, 0];
  let kiosks: number[] = [];
  let jobs: number[] = [];

  const web = (name: string, restsOn: number[] = []): WatchConfig =>
    webConfig(`http://${name.replace(/\W/g, '-').toLowerCase()}.test/`, { restsOn });

  beforeAll(async () => {
    store = await tempStore();
    place = { now: NOW, zone: 'UTC', engineAnswers };
    const { db } = store;
    const { stand, outage, said, take } = troubled(db);
    // A mast, and twelve kiosks that rest on it; the camera follows from it too, and rests on nothing.
    mast = await stand('Mast', web('Mast'), 'down', 40);
    kiosks = [];
    for (let i = 0; i < 12; i += 1) {
      kiosks.push(await stand(`Kiosk ${i}`, web(`Kiosk ${i}`, [mast]), 'down', 39));
    }
    for (const id of [mast, ...kiosks]) await outage(id, id === mast ? 40 : 39);
    camera = await stand('Camera', web('Camera'), 'down', 30);
    const followed = await outage(camera, 35, { follows: mast });
    const channels = [];
    for (const name of ['Office', 'Crew', 'Gone']) {
      const channel = { kind: 'desk', name, settings: {}, enabled: true, createdAt: NOW };
      channels.push(await saveNewChannel(db, channel));
    }
    await said(followed, channels[0]!, 'delivered');
    await said(followed, channels[1]!, 'delivered');
    await said(followed, channels[2]!, 'waiting');
    // Slow is no trouble by itself; over a limit of its own it wants a hand.
    stock = await stand('Store', web('Store'), 'slow', 20, { warned: 'tls.expires-soon' as never });
    await stand('Lamp', web('Lamp'), 'slow', 20);
    tide = await stand('Tide gauge', web('Tide gauge'), 'up', 60);
    jobs = [];
    for (let i = 0; i < 25; i += 1)
      jobs.push(await stand(`Job ${i}`, periodConfig(3600, 600), 'overdue', 100 - i));
    await take(camera, 'ines@ternferry.test');
    await take(kiosks[0]!, 'jonas@ternferry.test');
    await take(kiosks[1]!, 'nobody any more', false);
    if (engineAnswers) {
      const watches = await fetchWatches(db);
      await saveDigests(
        db,
        watches.map((watch) => digestOf({ watch, status: watch.status, last: lastOf(watch.lastFinding) })),
      );
    }
  });
  afterAll(() => store.close());

  it('is told the worst and oldest first, as many as can be read, and the others counted', async () => {
    const { cards, moreCards, sentence, all } = await fetchOverviewHead(store.db, place);
    expect(all).toBe(42);
    expect(sentence).toBe('40 of 42 watches need you.');
    expect(cards.map(({ id }) => id)).toEqual([camera, ...jobs.slice(0, 19)]);
    expect(moreCards).toBe(40 - 20 - 13);
  });

  it('is told once where it comes from one thing, with the first of them by name', async () => {
    const { together } = await fetchOverviewHead(store.db, place);
    expect(together).toEqual([
      expect.objectContaining({ sentence: 'Mast is in trouble, and twelve watches rest on it.', more: 3 }),
    ]);
    expect(together[0]!.cards.map(({ id }) => id)).toEqual([mast, ...kiosks.slice(0, 9)]);
    expect(together[0]!.cards.map(({ takenBy }) => takenBy)).toEqual([
      null,
      'jonas@ternferry.test',
      ...Array.from({ length: 8 }, () => null),
    ]);
  });

  it('says that it looked at the first five hundred only, where there are more', async () => {
    const all = await fetchAll(store.db, NOW, engineAnswers);
    const first = all.wanting.filter(({ state }) => state === 'down');
    const more = (n: number) =>
      Array.from({ length: n }, (_u, i) => ({ id: 10_000 + i, state: 'down' as const, since: NOW }));
    const sentence = async (n: number) => {
      const { together, moreCards } = await fetchCards(store.db, all, [...first, ...more(n)], place);
      return [together[0]!.sentence, moreCards];
    };
    expect(await sentence(486)).toEqual(['Mast is in trouble, and twelve watches rest on it.', 486]);
    expect(await sentence(487)).toEqual([
      'Of the 500 that failed first: Mast is in trouble, and twelve watches rest on it.',
      487,
    ]);
  });

  it('says who was told, who has it, since when, and what it follows from', async () => {
    const { cards } = await fetchOverviewHead(store.db, place);
    expect(cards[0]).toMatchObject({
      ...{ name: 'Camera', state: 'down', probe: true, warned: false, told: ['Crew', 'Office'] },
      ...{ since: NOW - 35 * MINUTE, takenBy: 'ines@ternferry.test', follows: { id: mast, name: 'Mast' } },
    });
    expect(cards[1]).toMatchObject({
      ...{ name: 'Job 0', state: 'overdue', probe: false, warned: false, told: [] },
      ...{ since: NOW - 100 * MINUTE, takenBy: null, follows: null },
    });
    // A watch that is gone is nothing to follow from.
    await store.db('outages').where({ watch_id: camera }).update({ follows: 9_999 });
    const [gone] = (await fetchOverviewHead(store.db, place)).cards;
    expect(gone!.follows).toBeNull();
    await store.db('outages').where({ watch_id: camera }).update({ follows: mast });
  });

  it('counts each state, and says of which kinds there are any', async () => {
    const all = await fetchAll(store.db, NOW, engineAnswers);
    expect(Object.fromEntries(all.states)).toEqual({ down: 14, slow: 2, up: 1, overdue: 25 });
    expect([[...all.kinds].sort(), all.loose]).toEqual([['checkin', 'web'], true]);
    expect([...(await all.restsOn())].filter(([, below]) => below.length > 0)).toEqual(
      kiosks.map((id) => [id, [mast]]),
    );
    expect((await all.read([tide, 9_999, stock])).map(({ id }) => id)).toEqual([tide, stock]);
    expect(await all.well(['tide-gauge.test', 'lamp.test', 'camera.test'], [])).toEqual(
      expect.arrayContaining([
        { host: 'tide-gauge.test', address: null },
        { host: 'lamp.test', address: null },
      ]),
    );
    expect(await all.well(['camera.test'], ['192.0.2.1'])).toEqual([]);
  });

  it('shows a slow one that is over a limit of its own as warned, among the others that are asked for', async () => {
    const lines = await fetchLinesOf(store.db, [tide, stock, camera], '24h', place);
    expect(lines.map(({ name, state, warned }) => [name, state, warned])).toEqual([
      ['Tide gauge', 'up', false],
      ['Store', 'slow', true],
      ['Camera', 'down', false],
    ]);
  });

  it('puts the worst first, and among those the one that was in trouble the longest', async () => {
    const wish = { range: '24h', worstFirst: true, filter: NO_FILTER } as const;
    const { rows, shown, range } = await fetchOverview(store.db, wish, place);
    expect([shown, range.to - range.from]).toEqual([42, 86_400_000]);
    expect(rows.slice(0, 14).every(({ state }) => state === 'down')).toBe(true);
    expect(rows.at(-1)).toMatchObject({ name: 'Tide gauge', section: '' });
  });
});

describe('an overview on which nothing wants a hand', () => {
  it('is calm since the last outage ended, and for no longer than a month', async () => {
    const store = await tempStore();
    const head = () => fetchOverviewHead(store.db, { now: NOW, zone: 'UTC' });
    expect((await head()).below).not.toContain('Calm');
    const id = await makeWatch(store.db, webConfig('http://tide.test/'), {
      createdAt: NOW - 90 * 86_400_000,
    });
    expect((await head()).below).not.toContain('Calm');
    const ended = async (ago: number) => {
      await store.db('outages').delete();
      await store.db('outages').insert({
        ...{ watch_id: id, began: NOW - ago - MINUTE, noticed: NOW - ago, ended: NOW - ago },
        ...{ cause: 'port.refused', causes: '[]', detail: '{}' },
      });
      return (await head()).below;
    };
    expect(await ended(3 * 3_600_000)).toContain('Calm for 3 h.');
    expect(await ended(31 * 86_400_000)).not.toContain('Calm');
    await store.close();
  });
});
