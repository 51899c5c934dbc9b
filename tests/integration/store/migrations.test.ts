import { factsOf } from '@/core/telling/happen';
import { fetchDueDeliveries } from '@/store/messages/deliveries';
import { saveHappening } from '@/store/messages/happenings';
import { tellerOn } from '../engine-on';
import { existsSync, readdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import knex, { type Knex } from 'knex';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { encodeHistogram, addToHistogram, emptyHistogram } from '@/core/history/histogram';
import { newStatus } from '@/core/lifecycle/status';
import { defaultsOfKinds, probeKinds, shippedForKinds } from '@/probes/kinds/registry';
import { saveShipped } from '@/store/watches/cascade';
import { openStore } from '@/store/db/open';
import { migrationSource, STEP_NAMES } from '@/store/migrations';
import { fetchWatch, fetchWatches } from '@/store/watches/watches';
import { fetchOverview } from '@/views/overview/overview';
import { fetchPublicPage } from '@/views/pages/public-page';
import { fetchPageBySlug } from '@/store/pages/pages';
import { fetchWatchView, type ChartRange } from '@/views/watch/watch';
import { NO_FILTER } from '@/core/settings/watch-filter';
import { line, pageContent } from '../pages';
import { tempFolder, webConfig } from '../helpers';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const NOW = Date.parse('2026-11-25T12:00:00Z');
const MADE = NOW - 300 * DAY;

/** A database as the steps up to `last` leave it. */
async function databaseAt(folder: string, last: string): Promise<Knex> {
  const db = knex({
    client: 'better-sqlite3',
    connection: { filename: join(folder, 'lantern.db') },
    useNullAsDefault: true,
  });
  for (const name of STEP_NAMES) {
    await db.migrate.up({ migrationSource, name } as never);
    if (name === last) return db;
  }
  throw new Error(`There is no step ${last}`);
}

const hasTable = (db: Knex, table: string) => db.schema.hasTable(table);
const status = {
  ...newStatus(MADE),
  state: 'up',
  since: MADE + 1000,
  lastAt: NOW - 1000,
  lastFine: true,
  coveredUntil: NOW + 59_000,
};

/** Fills whatever tables there are with a year of one watch: an outage of an hour each month, looks each hour. */
async function fill(db: Knex): Promise<void> {
  if (await hasTable(db, 'accounts')) {
    await db('accounts').insert({ email: 'ines@ternferry.test', password_hash: 'x', created_at: MADE });
    await db('api_tokens').insert({ name: 'Clerk', token_hash: 'y', created_at: MADE });
  }
  if (!(await hasTable(db, 'watches'))) return;
  const config = webConfig('http://site.ternferry.test/', { secondLooks: 2 });
  await db('sections').insert({ name: 'On the water', position: 1 });
  await db('watches').insert({
    kind: 'web',
    name: 'Booking site',
    section_id: 1,
    config: JSON.stringify(config),
    position: 1,
    created_at: MADE,
  });
  const last = { at: NOW - 1000, verdict: 'fine', ms: 120, evidence: { status: 200 } };
  await db('watch_status').insert({
    watch_id: 1,
    state: 'up',
    since: MADE + 1000,
    status: JSON.stringify(status),
    last_finding: JSON.stringify(last),
  });
  if (!(await hasTable(db, 'findings'))) return;
  const looks = [];
  for (let at = NOW - 10 * DAY; at < NOW; at += HOUR)
    looks.push({ watch_id: 1, at: at + 60_000, verdict: 0, us: 120_000 });
  await db.batchInsert('findings', looks, 100);
  const histogram = emptyHistogram();
  for (let i = 0; i < 60; i += 1) addToHistogram(histogram, 100 + i);
  const row = { watch_id: 1, fine: 60, failed: 0, histogram: encodeHistogram(histogram) };
  const hours = [];
  for (let at = MADE; at < NOW - 10 * DAY; at += HOUR)
    hours.push({ ...row, hour: Math.floor(at / HOUR) * HOUR });
  await db.batchInsert('rollups', hours, 100);
  await db('settings').insert({ key: 'rollup_until', value: String(Math.floor((NOW - HOUR) / HOUR) * HOUR) });
  await db('stretches').insert([
    { watch_id: 1, began: MADE, kind: 'waiting', ended: MADE + 1000 },
    { watch_id: 1, began: MADE + 1000, kind: 'up', ended: null },
  ]);
  for (let month = 1; month <= 9; month += 1) {
    const began = NOW - month * 30 * DAY + 6 * HOUR;
    await db('outages').insert({
      watch_id: 1,
      began,
      noticed: began + 60_000,
      ended: began + HOUR,
      cause: 'reply.status',
      causes: '["reply.status"]',
      detail: '{"status":503}',
    });
  }
  await db('reports').insert({
    watch_id: 1,
    at: NOW - DAY,
    kind: 'done',
    method: 'GET',
    address: '127.0.0.1',
    output: 'fine',
  });
  if (await hasTable(db, 'channels')) {
    await db('channels').insert({
      kind: 'webhook',
      name: 'Crew room',
      settings: '{"address":"http://room.test/"}',
      created_at: MADE,
    });
    await db('messages').insert({
      kind: 'down',
      watch_id: 1,
      ...((await db.schema.hasColumn('messages', 'outage_id')) && ({ outage_id: 1 } as object)),
      text: '{"title":"x","lines":[],"link":""}',
      created_at: NOW - DAY,
    });
    await db('deliveries').insert({
      message_id: 1,
      channel_id: 1,
      state: 'delivered',
      attempts: 1,
      next_at: NOW,
    });
  }
  if (await hasTable(db, 'pages')) {
    const sections = (await db.schema.hasColumn('pages', 'settings'))
      ? pageContent([line(1, 'Booking')]).sections
      : [{ title: '', items: [{ watchId: 1, label: 'Booking' }] }];
    await db('pages').insert({
      slug: 'ferries',
      title: 'The ferries',
      sections: JSON.stringify(sections),
      created_at: MADE,
    });
  }
}

/** Every figure and chart that is shown of it. */
async function shown(db: Knex) {
  const watch = (await fetchWatch(db, 1))!;
  const view = (range: ChartRange) => fetchWatchView(db, watch, { range, now: NOW, zone: 'UTC' });
  const year = await view('1y');
  const quarter = await view('90d');
  const page = await fetchPageBySlug(db, 'ferries');
  return {
    figures: year.uptimes,
    outages: year.outages.length,
    year: year.chart.points,
    quarter: quarter.chart.points,
    week: (await view('7d')).chart.points,
    public: page && (await fetchPublicPage(db, page, { now: NOW, zone: 'UTC' })).sections[0]!.rows[0]!.figure,
  };
}

describe('bringing a database up to date', () => {
  let folder: string;
  beforeEach(() => (folder = tempFolder()));
  afterEach(() => rmSync(folder, { recursive: true, force: true }));

  // What the newest state shows of the same data is what all have to show after their steps.
  const reference = async () => {
    const place = tempFolder();
    const db = await databaseAt(place, '20261105-pages');
    await fill(db);
    await db.destroy();
    const now = await openStore(place);
    await saveShipped(now, shippedForKinds(), defaultsOfKinds());
    const seen = await shown(now);
    await now.destroy();
    rmSync(place, { recursive: true });
    return seen;
  };

  it.each(STEP_NAMES.filter((name) => name >= '20261105-pages' && name < '20261126-days'))(
    'loses no figure and no chart from %s on, and keeps a copy of what was',
    async (name) => {
      const before = await databaseAt(folder, name);
      await fill(before);
      await before.destroy();
      const said: string[] = [];
      const db = await openStore(folder, { say: (text) => said.push(text) });
      await saveShipped(db, shippedForKinds(), defaultsOfKinds());
      const seen = await shown(db);
      expect(seen).toEqual(await reference());
      // Ten months of hours, two days a column: every one of them has its point.
      expect(seen.year.length).toBeGreaterThan(140);
      expect(seen.figures.find((one) => one.label.includes('90'))?.text).toMatch(/^99\.8\d? %$/);
      await db.destroy();
      const copy = readdirSync(folder).find((file) => file.startsWith('lantern-before-'));
      expect(said.join()).toContain(join(folder, copy!));
      // The copy is the database as it was: the old version starts from it.
      rmSync(join(folder, 'lantern.db'));
      const again = knex({
        client: 'better-sqlite3',
        connection: { filename: join(folder, copy!) },
        useNullAsDefault: true,
      });
      expect(await again('knex_migrations').orderBy('id', 'desc').first()).toMatchObject({ name });
      expect(await again('findings').count({ n: '*' }).first()).toEqual({ n: 240 });
      await again.destroy();
    },
  );

  it.each(STEP_NAMES.filter((name) => name < '20261105-pages'))(
    'brings up what %s left, with rows in it',
    async (name) => {
      const before = await databaseAt(folder, name);
      await fill(before);
      await before.destroy();
      const db = await openStore(folder);
      await saveShipped(db, shippedForKinds(), defaultsOfKinds());
      expect(await db('accounts').pluck('email')).toEqual(['ines@ternferry.test']);
      const watches = await fetchWatches(db);
      if (name >= '20261102') {
        // What was as it ships is no setting of its own any more; what differed is.
        expect(watches[0]).toMatchObject({
          name: 'Booking site',
          config: webConfig('http://site.ternferry.test/', { secondLooks: 2 }),
          from: {
            every: 'product',
            secondLooks: 'product',
            timeout: 'watch',
            'settings.accepted': 'product',
          },
        });
        expect(watches[0]!.own).not.toHaveProperty('every');
      } else expect(watches).toEqual([]);
      await db.destroy();
    },
  );

  it('lets a file of earlier become smaller again', async () => {
    const before = await databaseAt(folder, STEP_NAMES.at(-2)!);
    await fill(before);
    expect(await before.raw('PRAGMA auto_vacuum')).toEqual([{ auto_vacuum: 0 }]);
    await before.destroy();
    const after = await openStore(folder);
    expect(await after.raw('PRAGMA auto_vacuum')).toEqual([{ auto_vacuum: 2 }]);
    expect(await after('watches').count({ n: '*' }).first()).toEqual({ n: 1 });
    await after.destroy();
  });

  it('makes no copy where there was nothing, and none where all is up to date', async () => {
    const db = await openStore(folder);
    await db.destroy();
    const again = await openStore(folder);
    await again.destroy();
    expect(readdirSync(folder).filter((file) => file.startsWith('lantern-before-'))).toEqual([]);
  });

  it('goes no step back that would lose something', async () => {
    const before = await databaseAt(folder, '20261105-pages');
    await fill(before);
    await before.destroy();
    const db = await openStore(folder);
    const done = async () => ((await db.migrate.list({ migrationSource })) as [{ name: string }[]])[0].length;
    let last = await done();
    const refusal = await (async () => {
      for (;;) {
        const error = await db.migrate.down({ migrationSource }).then(
          () => null,
          (e: Error) => e.message,
        );
        if (error !== null) return error;
        last = await done();
      }
    })();
    expect(refusal).toContain('Going back would lose what is kept in watches. Put back the copy');
    expect(await done()).toBe(last);
    expect((await db('watches').first())!.name).toBe('Booking site');
    // What can be made again is made again.
    await db.destroy();
    const up = await openStore(folder);
    await saveShipped(up, shippedForKinds(), defaultsOfKinds());
    expect((await shown(up)).year.length).toBeGreaterThan(140);
    await up.destroy();
    expect(existsSync(join(folder, 'lantern.db'))).toBe(true);
  });
});

describe('watches that were kept before a setting was there', () => {
  it('have all that their kind has, on every screen', async () => {
    const folder = tempFolder();
    const db = await openStore(folder);
    await saveShipped(db, shippedForKinds(), defaultsOfKinds());
    const least: Record<string, object> = {
      journey: { steps: [{ address: 'booking.ternferry.test/' }] },
      combined: { parts: [1] },
      web: { address: 'http://site.ternferry.test/', jsonTests: [{ what: '$.x' }] },
    };
    const kinds = probeKinds().map(({ id }) => id);
    for (const [i, kind] of kinds.entries()) {
      const settings = least[kind] ?? { host: 'site.ternferry.test', address: 'http://site.ternferry.test/' };
      await db('watches').insert({
        kind,
        name: kind,
        config: JSON.stringify({ type: 'probe', settings }),
        position: i,
        created_at: NOW - DAY,
      });
      const kept = JSON.stringify(newStatus(NOW - DAY));
      await db('watch_status').insert({ watch_id: i + 1, state: 'waiting', since: NOW - DAY, status: kept });
    }
    for (const watch of await fetchWatches(db)) {
      const settings = watch.config.type === 'probe' ? watch.config.settings : {};
      const { defaults } = probeKinds().find(({ id }) => id === watch.kind)!;
      const missing = Object.entries(defaults).filter(
        ([name, value]) => value !== undefined && !(name in settings),
      );
      expect(missing).toEqual([]);
      await expect(fetchWatchView(db, watch, { range: '7d', now: NOW, zone: 'UTC' })).resolves.toBeTruthy();
    }
    const wish = { range: '24h' as const, worstFirst: false, filter: NO_FILTER };
    expect((await fetchOverview(db, wish, { now: NOW, zone: 'UTC' })).shown).toBe(kinds.length);
    await db.destroy();
    rmSync(folder, { recursive: true });
  });

  it('gives settings of kinds the names that say their unit, on watches and where they are shared, and back', async () => {
    const folder = tempFolder();
    const db = await databaseAt(folder, '20261127-deeds');
    const configs = {
      web: { settings: { address: 'https://a.test/', smallest: 10, largest: null } },
      ping: { settings: { host: 'a.test', mostLoss: 20 } },
      broker: { settings: { host: 'a.test', topic: 'largest', mostAge: 60 } },
      port: { settings: { host: 'a.test', largest: 'of no kind of ours' } },
    };
    for (const [kind, config] of Object.entries(configs)) {
      await db('watches').insert({
        kind,
        name: kind,
        config: JSON.stringify({ type: 'probe', ...config }),
        created_at: 0,
      });
    }
    const shared = { 'settings.mostLoss': 30, timeout: 5 };
    await db('sections').insert({ name: 'Piers', settings: JSON.stringify(shared) });
    await db('settings').insert({ key: 'shared_by_kind', value: JSON.stringify({ ping: shared }) });
    const seen = async () => ({
      watches: (await db('watches').orderBy('id').pluck('config')).map(
        (config) => (JSON.parse(config) as { settings: object }).settings,
      ),
      section: JSON.parse((await db('sections').pluck('settings'))[0]!) as object,
      kinds: JSON.parse((await db('settings').where({ key: 'shared_by_kind' }).pluck('value'))[0]!) as object,
    });
    const before = await seen();
    await db.migrate.latest({ migrationSource });
    const renamed = { 'settings.mostLossPercent': 30, timeout: 5 };
    expect(await seen()).toEqual({
      watches: [
        { address: 'https://a.test/', smallestBytes: 10, largestBytes: null },
        { host: 'a.test', mostLossPercent: 20 },
        { host: 'a.test', topic: 'largest', mostAgeSeconds: 60 },
        { host: 'a.test', largest: 'of no kind of ours' },
      ],
      section: renamed,
      kinds: { ping: renamed },
    });
    await db.migrate.down({ migrationSource, name: '20261128-units' } as never);
    expect(await seen()).toEqual(before);
    await db.destroy();
    rmSync(folder, { recursive: true });
  });

  it('says of rooms that were there before whether they are listened to, and back', async () => {
    const folder = tempFolder();
    const db = await databaseAt(folder, '20261206-runs');
    const settings: Record<string, object> = {
      irc: { room: '#crew' },
      xmpp: { to: 'crew@rooms.test' },
      matrix: { room: '!crew' },
      bot: { chat: '7' },
      webhook: { address: 'x' },
    };
    for (const [kind, set] of Object.entries(settings))
      await db('channels').insert({ kind, name: kind, settings: JSON.stringify(set), created_at: 0 });
    const seen = async () =>
      Object.fromEntries((await db('channels')).map((row) => [row.kind, JSON.parse(row.settings) as object]));
    await db.migrate.up({ migrationSource, name: '20261207-listening' } as never);
    expect(await seen()).toEqual({
      irc: { room: '#crew', listens: true },
      xmpp: { to: 'crew@rooms.test', listens: true, authority: '' },
      matrix: { room: '!crew', listens: true },
      bot: { chat: '7', listens: false },
      webhook: { address: 'x' },
    });
    await db.migrate.down({ migrationSource, name: '20261207-listening' } as never);
    expect(await seen()).toEqual(settings);
    await db.destroy();
    rmSync(folder, { recursive: true });
  });

  it('gives what was told before routes a conversation, so that its end is told too, and loses no delivery', async () => {
    const folder = tempFolder();
    const db = await databaseAt(folder, '20261128-units');
    await db('watches').insert({
      kind: 'port',
      name: 'North pier',
      config: JSON.stringify({ type: 'probe', settings: { host: 'a.test', port: 80 } }),
      created_at: 0,
    });
    const outage = {
      watch_id: 1,
      noticed: 60,
      cause: 'port.refused',
      causes: '["port.refused"]',
      detail: '{}',
    };
    await db('outages').insert([
      { ...outage, began: 10, ended: 20 },
      { ...outage, began: 50, ended: null },
    ]);
    await db('channels').insert({ kind: 'webhook', name: 'Crew room', settings: '{}', created_at: 0 });
    for (const id of [1, 2]) {
      const old = {
        kind: 'down',
        watch_id: 1,
        outage_id: id,
        text: '{"title":"x","lines":[],"link":""}',
        created_at: 0,
      };
      await db('messages').insert(old as never);
      await db('deliveries').insert({ message_id: id, channel_id: 1, state: 'delivered', next_at: 0 });
    }
    await db('own_troubles').insert({ code: 'disk.full', subject: '', detail: '{}', began: 5, ended: null });
    await db.migrate.latest({ migrationSource });
    expect(await db('deliveries').count({ n: '*' })).toEqual([{ n: 2 }]);
    expect(await db('message_outages').orderBy('outage_id')).toEqual([
      { message_id: 1, outage_id: 1 },
      { message_id: 2, outage_id: 2 },
    ]);
    const event = { kind: 'recovered' as const, began: 50, ended: 90 };
    const watch = factsOf({ id: 1, name: 'North pier', kind: 'port', section: null, tags: [] });
    await saveHappening(db, { thread: 'w1', phase: 'closes', watch, event }, 90);
    const own = { kind: 'own' as const, code: 'disk.full' as const, detail: {}, began: 5, ended: 95 };
    await saveHappening(db, { thread: 'own disk.full ', phase: 'closes', watch: null, event: own }, 95);
    const teller = tellerOn(db, () => 100);
    await teller.work();
    const said = await fetchDueDeliveries(db, 1, 1000, 10);
    expect(said.map(({ message }) => message!.event.kind)).toEqual(['recovered', 'own']);
    await db.destroy();
    rmSync(folder, { recursive: true });
  });
});
