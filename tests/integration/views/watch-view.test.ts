import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Stretch } from '@/core/history/availability';
import type { WatchConfig } from '@/core/settings/watch-config';
import { DAY_MS, MINUTE_MS } from '@/core/time/units';
import { VERDICTS } from '@/store/history/recorder';
import { saveRollups } from '@/store/history/rollups';
import { saveNewChannel } from '@/store/messages/channels';
import { saveNewIncident } from '@/store/pages/incidents';
import { saveNewPage } from '@/store/pages/pages';
import { fetchWatch } from '@/store/watches/watches';
import { fetchWatchView, type ChartRange } from '@/views/watch/watch';
import { makeWatch, periodConfig, tempStore, webConfig, type TempStore } from '../helpers';
import { incidentFacts, pageContent } from '../pages';
import { NOW, troubled } from './troubled';

describe('the screen of one watch', () => {
  let store: TempStore;
  const make = (name: string, config: WatchConfig, rest: { daysOld?: number; section?: string } = {}) =>
    makeWatch(store.db, config, {
      ...{ name, section: rest.section ?? null },
      createdAt: NOW - (rest.daysOld ?? 100) * DAY_MS,
    });
  const view = async (id: number, range: ChartRange = '24h') =>
    fetchWatchView(store.db, (await fetchWatch(store.db, id))!, { range, now: NOW, zone: 'UTC' });
  const web = (rest: object = {}) => webConfig('http://tide.test/', { timeout: 5, ...rest });
  /** Looks of a watch, each so many minutes ago, as quick as it says. */
  const look = (watchId: number, looks: readonly [minutesAgo: number, ms: number][]) =>
    store.db('findings').insert(
      looks.map(([ago, ms]) => ({
        ...{ watch_id: watchId, at: NOW - ago * MINUTE_MS, verdict: VERDICTS.indexOf('fine'), us: ms * 1000 },
        ...{ cause: null, detail: null, value: null },
      })),
    );

  beforeAll(async () => {
    store = await tempStore();
  });
  afterAll(() => store.close());

  it.each([
    [{}, 'The first failed look counts.'],
    [{ secondLooks: 1, secondLookGap: 90 }, '1 second look, 1 min 30 s apart.'],
    [{ secondLooks: 3, secondLookGap: 20, slowAfter: 900 }, '3 second looks, 20 s apart. Slow over 900 ms.'],
  ])('says what decides over a page that is looked at with %j', async (rest, end) => {
    const { decides, knowWithin } = await view(await make('Tide', web(rest)));
    expect(decides).toBe(
      `Fails when there is no complete reply within 5 s, when the status is not 200-299. ${end}`,
    );
    expect(knowWithin).toMatch(/^You would know within /);
  });

  it('says of a job when it is due, how late it may be and how long it may take', async () => {
    const usual = await make('Backup', periodConfig(3600, 600));
    const long = await make('Export', { ...periodConfig(3600, 90), longestRun: 1800 } as WatchConfig);
    expect((await view(usual)).decides).toBe('A check-in may be 10 min late. A failed run counts at once.');
    const { decides, jobs, runs, readings } = await view(long);
    expect(decides).toBe(
      'A check-in may be 1 min 30 s late. A run may take 30 min. A failed run counts at once.',
    );
    expect([jobs === null, runs, readings]).toEqual([false, [], null]);
    const site = await view(await make('Site', web()));
    expect([site.dues, site.jobs, site.runs]).toEqual([[], null, []]);
  });

  it('says when a job is due next, the time it is waited for first', async () => {
    const minutes = async (id: number) => (await view(id)).dues.map((due) => (due - NOW) / MINUTE_MS);
    const heard = async (id: number, due: number) => {
      const row = await store.db('watch_status').where({ watch_id: id }).first();
      const status = { ...(JSON.parse(row!.status) as object), due: NOW + due * MINUTE_MS };
      await store
        .db('watch_status')
        .where({ watch_id: id })
        .update({ status: JSON.stringify(status) });
    };
    const hourly = await make('Sync', periodConfig(3600, 600));
    // Nobody knows before it was heard of.
    expect(await minutes(hourly)).toEqual([]);
    await heard(hourly, 7);
    expect(await minutes(hourly)).toEqual([7, 67, 127, 187, 247]);
    const schedule = { type: 'cron', expression: '30 * * * *', zone: 'UTC', dialect: 'usual' };
    const nightly = await make('Manifest', { ...periodConfig(1, 600), schedule } as WatchConfig);
    expect(await minutes(nightly)).toEqual([30, 90, 150, 210, 270]);
    await heard(nightly, -30);
    expect(await minutes(nightly)).toEqual([-30, 30, 90, 150, 210]);
  });

  it('calls a job silent that was never heard of when it should have been', async () => {
    const old = await make('Old job', periodConfig(3600, 600));
    const young = await make('Young job', periodConfig(3600, 600), { daysOld: 0.01 });
    expect([(await view(old)).silent, (await view(young)).silent]).toEqual([true, false]);
    expect((await view(old)).trouble).not.toBeNull();
    expect((await view(young)).trouble).toBeNull();
  });

  it('tells since when there is one only while that is within its line', async () => {
    expect((await view(await make('Young', web(), { daysOld: 2 }))).since).toBe('18 Nov');
    expect((await view(await make('Grown', web(), { daysOld: 90 }))).since).toBeNull();
    const waiting = await view(await make('Waiting', web(), { daysOld: 1 }));
    expect([waiting.unseen, waiting.outageSummary]).toEqual(['', 'none in 1 d']);
  });

  it('lists its outages with what each followed from, who was told, and what the public read', async () => {
    const { outage, said, take } = troubled(store.db);
    const mast = await make('Mast', web());
    const camera = await make('Camera', web({ runbook: 'http://house.test/mast', runbookNote: 'Ask Ines.' }));
    const channel = { kind: 'desk', settings: {}, enabled: false, createdAt: NOW };
    const crew = await saveNewChannel(store.db, { ...channel, name: 'Crew' });
    const gone = await outage(camera, 300, { ended: 240, follows: 9_999 });
    const past = await outage(camera, 120, { ended: 60, follows: mast });
    await said(past, crew, 'delivered');
    const pageId = await saveNewPage(store.db, pageContent([]));
    await saveNewIncident(store.db, incidentFacts(pageId, 'No picture', NOW, { outageId: past }));
    await store.db('outages').where({ id: gone }).update({ left_out: 'a storm', left_out_at: NOW });
    const { outages, moreOutages, taken, runbook, outageSummary } = await view(camera);
    expect(
      outages.map(({ id, follows, leftOut, told, incident }) => [
        id,
        follows,
        leftOut,
        told,
        incident?.title,
      ]),
    ).toEqual([
      [past, 'Mast', null, ['Crew'], 'No picture'],
      [gone, null, 'a storm', [], undefined],
    ]);
    expect([moreOutages, taken]).toEqual([0, null]);
    expect(runbook).toEqual({ link: 'http://house.test/mast', note: 'Ask Ines.' });
    expect(outageSummary).toMatch(/^1 in 90 days, 1 h in all/);
    await take(camera, 'ines@ternferry.test');
    expect((await view(camera)).taken).toEqual({ by: { by: 'ines@ternferry.test', at: NOW } });
    expect((await view(mast)).runbook).toEqual({ link: '', note: '' });
  });

  it('counts no downtime that was planned or not observed, and says how much that was', async () => {
    const id = await make('Lamp', web());
    const { outage } = troubled(store.db);
    await outage(id, 240, { ended: 120 });
    const stretch = (began: number, kind: Stretch['kind'], ended: number | null) => ({
      ...{ watch_id: id, began: NOW - began * MINUTE_MS, kind },
      ended: ended === null ? null : NOW - ended * MINUTE_MS,
    });
    await store.db('stretches').where({ watch_id: id }).delete();
    await store
      .db('stretches')
      .insert([
        stretch(600, 'up', 240),
        stretch(240, 'down', 180),
        stretch(180, 'maintenance', 120),
        stretch(120, 'up', null),
      ]);
    const { outageSummary, chart } = await view(id);
    expect(outageSummary).toBe(
      '1 in 90 days, 2 h in all, 1 h of it planned or not observed, which does not count',
    );
    expect(chart.bands.map(({ kind }) => kind)).toEqual(['down', 'maintenance']);
  });

  it('names the secret of its section where that has an address of its own', async () => {
    const job = await make('Log rotation', periodConfig(3600, 600), { section: 'House' });
    expect((await view(job)).sectionSecret).toBeNull();
    await store.db('sections').where({ name: 'House' }).update({ checkin_secret: 'gulls' });
    expect((await view(job)).sectionSecret).toBe('gulls');
    expect((await view(await make('Loose', periodConfig(3600, 600)))).sectionSecret).toBeNull();
  });

  it('draws short ranges from single looks, and long ones from what was added up where there is that', async () => {
    const id = await make('Booking', web());
    const day = DAY_MS / MINUTE_MS;
    await look(id, [
      [6 * day, 100],
      [6 * day - 1, 300],
      [30, 50],
      [10, 70],
    ]);
    const drawn = async (range: ChartRange) =>
      (await view(id, range)).chart.points.map(({ count }) => count).filter((count) => count > 0);
    expect(await drawn('24h')).toEqual([1, 1]);
    expect(await drawn('7d')).toEqual([2, 2]);
    await saveRollups(store.db, NOW - DAY_MS);
    // What was added up is not counted once more, and what was not is not left out.
    await store
      .db('findings')
      .where({ watch_id: id })
      .where('at', '<', NOW - DAY_MS)
      .delete();
    expect(await drawn('7d')).toEqual([2, 2]);
    expect(await drawn('30d')).toEqual([2, 2]);
    expect(await drawn('24h')).toEqual([1, 1]);
  });

  it('tells who would be told, and what was read by a watch that reads a number', async () => {
    const id = await make('Heating', web());
    expect(await view(id)).toMatchObject({ unheard: true, readings: null, unit: '' });
    await store.db('watches').where({ id }).update({ kind: 'reading' });
    const last = {
      at: NOW,
      verdict: 'fine',
      ms: 5,
      detail: {},
      evidence: { reading: { value: 21, unit: '°C' } },
    };
    await store
      .db('watch_status')
      .where({ watch_id: id })
      .update({ last_finding: JSON.stringify(last) });
    const { readings, unit } = await view(id);
    expect([Array.isArray(readings), unit]).toEqual([true, '°C']);
  });
});
