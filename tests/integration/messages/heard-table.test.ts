import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { USUAL_ROUTE } from '@/core/telling/route-config';
import { NO_WATCHES } from '@/core/telling/route';
import { saveNewChannel } from '@/store/messages/channels';
import { fetchRoutes, saveNewRoute, saveRouteChange } from '@/store/messages/routes';
import { choosableKinds } from '@/views/messages/channel-kinds';
import { fetchHeardTable, readHeardQuery } from '@/views/messages/heard-table';
import { fetchDeliveries } from '@/store/messages/sent';
import { fetchSent, readSentQuery, sentQuery } from '@/views/messages/sent';
import { fetchRouteChoices } from '@/views/messages/route-choices';
import { fetchRouteScope } from '@/views/messages/route-scope';
import { fetchLeftUnheard, fetchUnheardOfAll, fetchWhoHears } from '@/views/messages/who-hears';
import { makeWatch, periodConfig, tempStore, webConfig, type TempStore } from '../helpers';
import { sayTo } from '../say-to';

/** A Thursday morning. */
const NOW = Date.parse('2026-11-26T10:00:00Z');

describe('who hears of what, watch by watch', () => {
  let store: TempStore;
  let crew: number;
  let office: number;
  beforeEach(async () => {
    store = await tempStore();
    const make = (name: string) =>
      saveNewChannel(store.db, { kind: 'webhook', name, settings: {}, enabled: true, createdAt: NOW });
    [crew, office] = [await make('Crew room'), await make('Desk mail')];
    const [first] = await fetchRoutes(store.db);
    const { id, ...usual } = first!;
    await saveRouteChange(store.db, id, {
      ...usual,
      watches: { all: false, ...NO_WATCHES, sections: ['Piers'], except: NO_WATCHES },
      steps: [
        { after: 0, channels: [crew] },
        { after: 300, channels: [office] },
      ],
    });
    await saveNewRoute(
      store.db,
      {
        ...USUAL_ROUTE,
        name: 'Office hours',
        enabled: true,
        watches: { all: false, ...NO_WATCHES, sections: ['Office'], except: NO_WATCHES },
        steps: [{ after: 0, channels: [office] }],
        hours: {
          zone: 'UTC',
          spans: [{ days: [1, 2, 3, 4, 5], from: '07:00', until: '18:00' }],
          daysOff: [],
          outside: 'drop',
        },
      },
      NOW,
    );
    const config = webConfig('http://pier.ternferry.test/');
    for (const [name, section] of [
      ['Kiosk', 'Piers'],
      ['Rota', 'Office'],
      ['Door bell', 'House'],
    ] as const) {
      await makeWatch(store.db, config, { name, section });
    }
  });
  afterEach(() => store.close());

  const table = (moment: 'now' | 'night' | 'weekend', page = 0) =>
    fetchHeardTable(store.db, { moment, page, now: NOW, zone: 'UTC' });

  it('says when each channel would hear, and which watch would tell nobody', async () => {
    const { channels, rows, all, at, moreChannels } = await table('now');
    expect(channels.map(({ name }) => name)).toEqual(['Crew room', 'Desk mail']);
    expect([all, at, moreChannels]).toEqual([3, NOW, 0]);
    expect(rows.map(({ name, cells, unheard }) => [name, cells, unheard])).toEqual([
      ['Door bell', [null, null], true],
      ['Kiosk', ['at once', '5 min'], false],
      ['Rota', [null, 'at once'], false],
    ]);
    expect(rows.map(({ words }) => words)).toEqual([
      'Nobody would be told.',
      'Crew room at once; Desk mail after 5 min.',
      'Desk mail at once.',
    ]);
  });

  it('shows the gap of a night, which by day is none', async () => {
    const night = await table('night');
    expect(new Date(night.at).toISOString()).toBe('2026-11-27T03:00:00.000Z');
    expect(night.rows.filter(({ unheard }) => unheard).map(({ name }) => name)).toEqual([
      'Door bell',
      'Rota',
    ]);
    expect((await table('weekend')).rows.filter(({ unheard }) => unheard)).toHaveLength(2);
  });

  it('reads one page of watches, and counts all of them', async () => {
    for (let i = 0; i < 120; i += 1) {
      await makeWatch(store.db, webConfig('http://pier.ternferry.test/'), {
        name: `Berth ${String(i).padStart(3, '0')}`,
        section: 'Piers',
      });
    }
    const [one, two] = [await table('now'), await table('now', 1)];
    expect([one.rows.length, two.rows.length, one.all]).toEqual([100, 23, 123]);
    const names = [...one.rows, ...two.rows].map(({ name }) => name);
    expect(new Set(names).size).toBe(123);
    expect((await table('now', 2)).rows).toEqual([]);
  });

  it.each([
    ['', { moment: 'now', page: 0 }],
    ['at=night&page=3', { moment: 'night', page: 3 }],
    ['at=yesterday&page=-1', { moment: 'now', page: 0 }],
    ['page=99999', { moment: 'now', page: 0 }],
  ])('reads %j from an address', (query, asked) => {
    expect(readHeardQuery(new URLSearchParams(query))).toEqual(asked);
  });

  describe('what was sent', () => {
    const ask = (query: string) => fetchSent(store.db, readSentQuery(new URLSearchParams(query)), 'UTC');

    it('goes on behind its first page, nothing twice and nothing left out', async () => {
      const event = { kind: 'unsteady', turns: 6, withinMs: 1000 } as const;
      for (let i = 0; i < 30; i += 1) {
        const at = NOW + Math.floor(i / 7);
        await sayTo(store.db, { event, name: `Kiosk ${i}`, channels: [crew, office], at });
      }
      const first = await ask('');
      expect(first.deliveries).toHaveLength(50);
      const rest = await fetchDeliveries(store.db, { limit: 50, after: first.behind! });
      const ids = [...first.deliveries, ...rest].map(({ id }) => id);
      expect(ids).toHaveLength(60);
      expect(new Set(ids).size).toBe(60);
      const toCrew = await ask(`channel=${crew}`);
      expect([toCrew.deliveries.length, toCrew.behind]).toEqual([30, null]);
      expect((await ask('says=unsteady')).deliveries).toHaveLength(50);
      expect((await ask('says=down')).deliveries).toEqual([]);
    });

    it.each([
      ['', 'all that was sent.'],
      ['outcome=waiting', 'messages that are on their way.'],
      ['outcome=given-up&watch=1', 'messages that were given up about Kiosk.'],
      ['outcome=delivered&watch=999', 'messages that were delivered.'],
    ])('says of %j what it is', async (query, sentence) => {
      expect((await ask(query)).sentence).toBe(sentence);
    });

    it('is narrowed to days of the desk’s own zone, the last one with all of it', async () => {
      const day = (query: string) =>
        fetchSent(store.db, readSentQuery(new URLSearchParams(query)), 'Pacific/Auckland');
      const today = new Intl.DateTimeFormat('sv-SE', { timeZone: 'Pacific/Auckland' }).format(NOW);
      const before = new Date(Date.parse(today) - 86_400_000).toISOString().slice(0, 10);
      const event = { kind: 'steady', since: NOW } as const;
      await sayTo(store.db, { event, name: 'Kiosk', channels: [crew], at: NOW });
      const shown = await day(`since=${today}&until=${today}`);
      expect(shown.deliveries.length).toBeGreaterThan(0);
      const { since, until } = Object.fromEntries(new URLSearchParams(shown.exportQuery));
      expect(Date.parse(until!) - Date.parse(since!)).toBe(86_400_000);
      expect(Date.parse(since!)).toBeLessThanOrEqual(NOW);
      expect(Date.parse(until!)).toBeGreaterThan(NOW);
      expect((await day(`until=${before}`)).deliveries).toEqual([]);
      expect((await day('since=2026-11-20&until=2026-11-21')).sentence).toBe(
        'messages from 20 Nov 2026 until 21 Nov 2026.',
      );
    });

    it('says to whom', async () => {
      expect((await ask(`channel=${office}`)).sentence).toBe('messages to Desk mail.');
    });

    it.each([
      ['outcome=lost&says=hello&channel=x&watch=-1&since=2026-02-30', { isNarrowed: false }],
      ['since=2026-11-20', { since: '2026-11-20' }],
      ['until=2026-11-20', { until: '2026-11-20' }],
      [
        'channel=2&watch=3&outcome=waiting&says=down',
        { filter: { channelId: 2, watchId: 3, state: 'waiting', says: 'down' } },
      ],
    ])('reads %j from an address, and writes it again', (query, asked) => {
      const read = readSentQuery(new URLSearchParams(query));
      const all = { filter: {}, since: null, until: null, isNarrowed: true, ...asked };
      expect(read).toEqual(all);
      expect(readSentQuery(new URLSearchParams(sentQuery(read)))).toEqual(all);
    });
  });

  it('a route is about whatever its groups hold today, with the first by name; it chooses from what there is', async () => {
    const about = (rest: object) => ({ all: false, ...NO_WATCHES, except: NO_WATCHES, ...rest });
    const scope = async (rest: object) => {
      const { watches, example } = await fetchRouteScope(store.db, about(rest));
      return [watches, example?.name ?? null];
    };
    expect(await scope({ all: true })).toEqual([3, 'Door bell']);
    expect(await scope({ sections: ['Piers', 'Office'] })).toEqual([2, 'Kiosk']);
    expect(await scope({ all: true, except: { ...NO_WATCHES, sections: ['House'] } })).toEqual([2, 'Kiosk']);
    expect(await scope({})).toEqual([0, null]);
    await makeWatch(store.db, periodConfig(3600, 600), { name: 'Backup', section: 'House' });
    await store.db('tags').insert({ name: 'night', colour: 'teal' });
    const choices = await fetchRouteChoices(store.db, about({ sections: ['House'] }));
    expect(choices).toMatchObject({
      channels: [
        { id: crew, name: 'Crew room' },
        { id: office, name: 'Desk mail' },
      ],
      ...{ sections: ['Piers', 'Office', 'House'], tags: ['night'] },
      kinds: [
        { id: 'checkin', title: 'check-in' },
        { id: 'web', title: 'web page' },
      ],
      scope: { watches: 2, example: { name: 'Backup' } },
    });
    expect(choices.watches.map(({ name }) => name).toSorted()).toEqual([
      'Backup',
      'Door bell',
      'Kiosk',
      'Rota',
    ]);
  });

  it('what only one channel hears of would tell nobody without it', async () => {
    const { watches, unheard, leaves, routes } = await fetchWhoHears(store.db);
    expect([watches, unheard.count, unheard.first.map(({ name }) => name)]).toEqual([3, 1, ['Door bell']]);
    // The kiosk is heard of by both.
    expect([...leaves].map(([id, { count, first }]) => [id, count, first[0]!.name])).toEqual([
      [office, 1, 'Rota'],
    ]);
    expect(routes.map(({ watches: about }) => about)).toEqual([1, 1]);
    expect(routes[0]!.sentence).toContain('Crew room');
    expect((await fetchLeftUnheard(store.db, office)).map(({ name }) => name)).toEqual(['Rota']);
    expect(await fetchLeftUnheard(store.db, crew)).toEqual([]);
    expect(await fetchUnheardOfAll(store.db)).toMatchObject({ count: 1, first: [{ name: 'Door bell' }] });
    // A route about all: only what says for itself that nobody is told is left.
    await saveNewRoute(
      store.db,
      { ...USUAL_ROUTE, name: 'All', enabled: true, steps: [{ after: 0, channels: [crew] }] },
      NOW,
    );
    expect((await fetchUnheardOfAll(store.db)).count).toBe(0);
    await store.db('channels').where({ id: crew }).delete();
    const [first] = (await fetchWhoHears(store.db)).routes;
    expect(first!.sentence).toContain('a channel that has gone');
  });

  it('kinds of channel come with what holds where nothing is typed; scripts only where they are allowed', () => {
    const kinds = choosableKinds(true);
    expect(choosableKinds(false).map(({ id }) => id)).toEqual(
      kinds.map(({ id }) => id).filter((id) => id !== 'script'),
    );
    const irc = kinds.find(({ id }) => id === 'irc')!;
    expect(irc.defaults).toMatchObject({ port: '6697', tls: true, nick: 'lantern', key: '' });
    expect(kinds.filter(({ byDevice }) => byDevice).map(({ id }) => id)).toEqual(['push']);
    for (const { fields, defaults } of kinds) {
      for (const { name } of fields) expect(defaults).toHaveProperty(name);
    }
  });
});
