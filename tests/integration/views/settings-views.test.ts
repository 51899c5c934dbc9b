import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { USUAL_ROUTE } from '@/core/telling/route-config';
import { newStatus } from '@/core/lifecycle/status';
import { NO_FILTER, type WatchFilter } from '@/core/settings/watch-filter';
import { shippedForKinds } from '@/probes/kinds/registry';
import { Recorder } from '@/store/history/recorder';
import { saveRollups } from '@/store/history/rollups';
import { saveNewChannel } from '@/store/messages/channels';
import { saveNewRoute } from '@/store/messages/routes';
import { saveNewSeries } from '@/store/maintenance/series';
import { saveNewWindow } from '@/store/maintenance/windows';
import { transaction } from '@/store/db/connection';
import { saveNewPage, fetchPages } from '@/store/pages/pages';
import { saveShared, saveShipped } from '@/store/watches/cascade';
import { saveSectionEndpoint } from '@/store/watches/checkin-endpoints';
import { fetchSections, saveNewSection } from '@/store/watches/sections';
import { fetchTags, setTagsOf } from '@/store/watches/tags';
import { fetchNamedInSection, fetchWatch } from '@/store/watches/watches';
import { line, pageContent } from '../pages';
import { fetchTimesIn } from '@/views/history/times';
import { fetchFormChoices } from '@/views/settings/form-choices';
import { fetchSectionsView } from '@/views/settings/sections';
import { fetchSharedView } from '@/views/settings/shared-settings';
import { fetchWatchList } from '@/views/settings/watch-list';
import { fetchTies } from '@/views/watch/ties';
import { goesWithSentence } from '@/views/troubles/goes-with';
import { makeWatch, periodConfig, probeConfig, tempStore, webConfig, type TempStore } from '../helpers';

const NOW = Date.parse('2026-11-26T12:00:00Z');
const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const AT = { base: 'https://watch.ternferry.test', now: NOW };

let store: TempStore;
let [booking, backup, camera] = [0, 0, 0];

beforeEach(async () => {
  store = await tempStore();
  await saveNewSection(store.db, 'Piers');
  const office = await saveNewSection(store.db, 'Office');
  await saveSectionEndpoint(store.db, office, { secret: 'a-secret', mostNew: 4 });
  const at = { createdAt: NOW - 3 * DAY };
  booking = await makeWatch(store.db, webConfig('http://booking.ternferry.test/'), {
    ...at,
    section: 'Piers',
  });
  backup = await makeWatch(store.db, periodConfig(3600, 60), {
    ...at,
    name: 'Manifest backup',
    section: 'Office',
  });
  const rests = probeConfig(
    { address: 'http://camera.ternferry.test/' },
    { restsOn: [booking], when: null, every: 300 },
  );
  camera = await makeWatch(store.db, rests, { ...at, name: 'Harbour camera' });
  await setTagsOf(store.db, [
    [camera, ['night']],
    [booking, ['night']],
  ]);
  await store
    .db('watches')
    .where({ id: camera })
    .update({ paused: 1 } as never);
  await saveNewChannel(store.db, {
    kind: 'webhook',
    name: 'Crew room',
    settings: {},
    enabled: true,
    createdAt: NOW,
  });
});
afterEach(() => store.close());

const watchOf = async (id: number) => (await fetchWatch(store.db, id))!;

describe('the list of watches', () => {
  const list = (filter: Partial<WatchFilter> = {}) =>
    fetchWatchList(store.db, { ...NO_FILTER, ...filter }, { now: NOW });

  it('says of each what it is, where it looks, how often, and what it carries', async () => {
    const { rows, all, ids } = await list();
    expect([all, ids.length]).toEqual([3, 3]);
    const byId = new Map(rows.map((row) => [row.id, row]));
    expect(byId.get(booking)).toMatchObject({
      name: 'Booking site',
      state: 'waiting',
      warned: false,
      section: 'Piers',
      pace: '1 min',
      paused: false,
    });
    expect(byId.get(booking)!.target).toContain('booking.ternferry.test');
    expect(byId.get(booking)!.tags.map(({ name }) => name)).toEqual(['night']);
    expect(byId.get(backup)).toMatchObject({ pace: '', section: 'Office', tags: [] });
    expect(byId.get(camera)).toMatchObject({ pace: '5 min', section: '', paused: true });
    expect(byId.get(booking)!.kind).not.toBe(byId.get(backup)!.kind);
  });

  it('is narrowed by what there is, and by nothing else', async () => {
    const { rows, all, ids, choices, kept } = await list({ tags: ['night'], sections: ['Piers'] });
    expect([all, ids, rows.map(({ id }) => id)]).toEqual([3, [booking], [booking]]);
    expect(choices.kinds.map(({ value }) => value).sort()).toEqual(['checkin', 'web']);
    expect(choices.tags).toEqual([{ value: 'night', text: 'night' }]);
    expect(choices.sections.map(({ text }) => text)).toEqual(['Piers', 'Office', 'in no section']);
    expect(choices.states.map(({ value }) => value)).toContain('maintenance');
    expect(choices.states.every(({ text }) => text.length > 1)).toBe(true);
    expect(kept).toEqual([]);
    await store.db('watches').where({ id: camera }).delete();
    expect((await list()).choices.sections.map(({ text }) => text)).toEqual(['Piers', 'Office']);
  });

  it('offers no section where there is none', async () => {
    await store.db('watches').update({ section_id: null } as never);
    await store.db('sections').delete();
    expect((await list()).choices.sections).toEqual([]);
  });
});

describe('sections and tags', () => {
  it('are shown with what is in them, their own address, and what rests', async () => {
    await store.db('watches').where({ id: backup }).update({ paused: true });
    await makeWatch(store.db, periodConfig(60, 60), { name: 'Rota', section: 'Office', createdAt: NOW });
    const { sections, loose, tags } = await fetchSectionsView(store.db, AT);
    expect(loose).toBe(1);
    expect(sections.map(({ name, watches, paused }) => [name, watches, paused])).toEqual([
      ['Piers', 1, 0],
      ['Office', 2, 1],
    ]);
    expect(sections.map(({ door }) => door)).toEqual([
      { address: null, mostNew: 0 },
      { address: 'https://watch.ternferry.test/in/a-secret/', mostNew: 4 },
    ]);
    expect(await fetchNamedInSection(store.db, sections[0]!.id)).toEqual([
      { id: booking, name: 'Booking site', state: 'waiting' },
    ]);
    expect(tags).toMatchObject([{ name: 'night', paused: 1 }]);
    expect((await fetchNamedInSection(store.db, sections[1]!.id)).map(({ name }) => name)).toEqual([
      ...['Manifest backup', 'Rota'],
    ]);
  });

  it('are shown with what chooses by them: routes, and maintenance that is not over, each once', async () => {
    const { db } = store;
    const [piers, office] = await fetchSections(db);
    const [night] = await fetchTags(db);
    const all = USUAL_ROUTE.watches;
    const saveRoute = (name: string, watches: object) =>
      saveNewRoute(db, { ...USUAL_ROUTE, name, enabled: true, watches: { ...all, ...watches } }, NOW);
    await saveRoute('Water', { all: false, sections: ['Piers'] });
    await saveRoute('Day', { except: { ...all.except, tags: ['night'] } });
    const plan = { text: '', announceDays: 7, watchIds: [], tagIds: [], sectionIds: [office!.id] };
    const window = { ...plan, begins: NOW - HOUR, ends: NOW + HOUR, madeAt: NOW };
    await saveNewWindow(db, { ...window, title: 'New desk' });
    await saveNewWindow(db, { ...window, title: 'Old desk', ends: NOW });
    const often = { rule: 'FREQ=DAILY', zone: 'UTC', first: '2026-11-26T13:00', lastsMinutes: 45 };
    const repeated = {
      ...plan,
      ...often,
      title: 'Nightly rest',
      sectionIds: [piers!.id],
      tagIds: [night!.id],
    };
    await transaction(db, (trx) => saveNewSeries(trx, repeated, NOW));
    const { sections, tags } = await fetchSectionsView(db, AT);
    expect([...sections, ...tags].map(({ name, chosenBy }) => [name, chosenBy])).toEqual([
      ['Piers', { routes: ['Water'], maintenance: ['Nightly rest'] }],
      ['Office', { routes: [], maintenance: ['New desk'] }],
      ['night', { routes: ['Day'], maintenance: ['Nightly rest'] }],
    ]);
  });
});

describe('shared settings', () => {
  beforeEach(async () => {
    await saveShipped(store.db, shippedForKinds(), {});
    await saveShared(store.db, { level: 'section', section: 'Piers' }, { timeout: 7 });
  });

  it('say what holds for all, how many they reach, and what may be set', async () => {
    const view = (await fetchSharedView(store.db, { level: 'instance' }))!;
    expect(view).toMatchObject({
      place: { level: 'instance' },
      values: {},
      reach: 3,
      sections: ['Piers', 'Office'],
    });
    expect(view.channels.map(({ name }) => name)).toEqual(['Crew room']);
    expect(view.watches.map(({ id }) => id).sort()).toEqual([booking, backup, camera].sort());
    const names = view.fields.map(({ name }) => name);
    expect(new Set(names).size).toBe(names.length);
    expect(view.fields.every(({ shared }) => shared)).toBe(true);
    expect(view.kinds.map(({ id }) => id)).toContain('port');
    expect(view.held.varying).toContain('every');
    expect(view.held.values.timeout).toBe(10);
  });

  it('say what holds for a kind and for a section, and that there is no such place', async () => {
    const web = (await fetchSharedView(store.db, { level: 'kind', kind: 'web' }))!;
    expect(web.reach).toBe(2);
    const all = (await fetchSharedView(store.db, { level: 'instance' }))!;
    expect(web.fields.length).toBeGreaterThan(0);
    expect(web.fields.length).toBeLessThan(all.fields.length);
    const piers = (await fetchSharedView(store.db, { level: 'section', section: 'Piers' }))!;
    expect(piers).toMatchObject({ reach: 1, values: { timeout: 7 } });
    expect(piers.fields).toEqual(all.fields);
    expect(await fetchSharedView(store.db, { level: 'kind', kind: 'tea' })).toBeNull();
    expect(await fetchSharedView(store.db, { level: 'section', section: 'Tea' })).toBeNull();
    expect(await fetchSharedView(store.db, { level: 'section', section: 'toString' })).toBeNull();
  });

  it('and the form of a watch offer what there is, but for the watch itself', async () => {
    const { watches, sections, tags, channels, kinds } = await fetchFormChoices(
      store.db,
      await watchOf(booking),
    );
    expect(watches.map(({ name }) => name).sort()).toEqual(['Harbour camera', 'Manifest backup']);
    expect((await fetchFormChoices(store.db, null)).watches).toHaveLength(3);
    expect([sections, tags.map(({ name }) => name), channels.map(({ name }) => name)]).toEqual([
      ['Piers', 'Office'],
      ['night'],
      ['Crew room'],
    ]);
    expect(kinds.map(({ id }) => id)).toContain('checkin');
  });
});

describe('what goes with a watch that is deleted', () => {
  const goes = async (id: number, outages = 0, others: number[] = []) => {
    const watch = await watchOf(id);
    const ties = await fetchTies(store.db, watch, null);
    const carries = ties.carries.filter((one) => others.includes(one.id));
    return goesWithSentence(watch, { ...ties, carries }, await fetchPages(store.db), outages);
  };

  it('is its looks or its address, and nothing else where nothing else is', async () => {
    expect(await goes(booking)).toBe('Its looks stop.');
    expect(await goes(backup, 0, [booking])).toBe('Its check-in address stops working.');
  });

  it('is named: pages, what rests on it, what it is a part of, and its outages', async () => {
    const page = (title: string, watchId: number) =>
      saveNewPage(store.db, {
        ...pageContent([line(watchId, 'x')], { slug: title.toLowerCase(), title }),
        createdAt: NOW,
      });
    await page('Ferries', booking);
    await page('Crew', backup);
    expect(await goes(booking, 1, [camera, backup])).toBe(
      'Its looks stop. It leaves the public page “Ferries”. “Harbour camera” no longer rests on it. One outage of the last 90 days would go with it.',
    );
    for (const title of ['Piers', 'Office', 'House']) await page(title, booking);
    const whole = probeConfig({ parts: [booking], rule: 'all' });
    const combined = await makeWatch(store.db, whole, { name: 'Both' });
    await store
      .db('watches')
      .where({ id: combined })
      .update({ kind: 'combined' } as never);
    const second = await makeWatch(store.db, probeConfig({}, { restsOn: [booking] }), { name: 'Kiosk' });
    expect(await goes(booking, 12, [camera, second, combined])).toBe(
      'Its looks stop. It leaves the public page “Ferries”, “Piers”, “Office” and 1 more. “Harbour camera”, “Kiosk” no longer rest on it. “Both” loses a part. 12 outages of the last 90 days would go with it.',
    );
  });
});

describe('the response times of a span', () => {
  it('are those of the looks in it, whether by days, by hours or one by one', async () => {
    const midnight = Date.parse('2026-11-22T00:00:00Z');
    const looks = Array.from({ length: 24 * 4 * 3 }, (_, i) => midnight + i * 15 * 60_000);
    await new Recorder(store.db).save(
      looks.map((at, i) => ({
        ...{ watchId: booking, status: newStatus(NOW), events: [] },
        finding: { at, ms: i + 1, verdict: 'fine' as const },
      })),
    );
    const within = (from: number, to: number) => looks.filter((at) => at >= from && at < to).length;
    const spans = [
      [midnight, midnight + 3 * DAY],
      [midnight + 20 * 60_000, midnight + 2.5 * DAY + 7 * 60_000],
      [midnight + 10 * 60_000, midnight + 50 * 60_000],
      [midnight + HOUR, midnight + 5 * HOUR],
      [midnight + 30 * 60_000, midnight + 2 * HOUR + 30 * 60_000],
      [midnight + 5 * HOUR, midnight + 5 * HOUR],
      [midnight - DAY, midnight + 4 * DAY],
    ] as const;
    const counts = async () => {
      const all: number[] = [];
      for (const [from, to] of spans) all.push((await fetchTimesIn(store.db, booking, from, to)).count);
      return all;
    };
    const expected = spans.map(([from, to]) => within(from, to));
    expect(await counts()).toEqual(expected);
    await saveRollups(store.db, midnight + 2.6 * DAY);
    expect(await counts()).toEqual(expected);
    // What was rolled up is taken from there: the looks themselves may be let go of.
    await store
      .db('findings')
      .where('at', '<', midnight + DAY)
      .delete();
    const [whole, , inAnHour, , across] = await counts();
    expect([whole, inAnHour, across]).toEqual([expected[0], 0, 4 + 0]);
  });
});
