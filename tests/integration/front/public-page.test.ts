import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { State } from '@/core/lifecycle/state';
import { newStatus } from '@/core/lifecycle/status';
import { DAY_MS, HOUR_MS } from '@/core/time/units';
import type { PageItem } from '@/core/pages/page';
import { saveLeftOut } from '@/store/history/outages';
import { saveNewIncident } from '@/store/pages/incidents';
import { fetchPage, saveNewPage } from '@/store/pages/pages';
import { saveNewWindow } from '@/store/maintenance/windows';
import {
  fetchPublicDay,
  fetchPublicDiary,
  fetchPublicPage,
  fetchPublicStory,
} from '@/views/pages/public-page';
import { renderPage } from '@/site/render';
import { incidentFacts, line, pageContent } from '../pages';
import { makeWatch, tempStore, webConfig, type TempStore } from '../helpers';

const now = Date.parse('2026-11-20T12:00:00Z');

const DRAWING: Parameters<typeof renderPage>[1] = {
  language: 'en',
  place: { root: './', chosen: null, filed: false, live: true },
  assets: (name) => name,
  lookFile: null,
  whole: null,
  madeAt: null,
};

describe('what the public sees', () => {
  let store: TempStore;
  const ids: Record<string, number> = {};

  /** A watch that stands like this since an hour ago, and was up for the hour before. */
  async function stand(name: string, state: State, rest: { warned?: boolean; slowAfter?: number } = {}) {
    const config = webConfig('http://site.test/', { slowAfter: rest.slowAfter ?? null });
    const id = await makeWatch(store.db, config, { name, createdAt: now - 2 * HOUR_MS });
    ids[name] = id;
    const since = now - HOUR_MS;
    const status = {
      ...newStatus(now - 2 * HOUR_MS),
      state,
      since,
      lastAt: now,
      coveredUntil: now + HOUR_MS,
    };
    await store
      .db('watch_status')
      .where({ watch_id: id })
      .update({ state, since, status: JSON.stringify({ ...status, warned: rest.warned ?? false }) });
    await store.db('stretches').where({ watch_id: id }).delete();
    await store.db('stretches').insert([
      { watch_id: id, began: now - 2 * HOUR_MS, kind: 'up', ended: since },
      { watch_id: id, began: since, kind: state, ended: null },
    ]);
    if (state !== 'down') return;
    const why = { cause: 'port.refused', causes: '["port.refused"]', detail: '{}' };
    await store.db('outages').insert({ watch_id: id, began: since, noticed: since, ...why });
  }

  beforeAll(async () => {
    store = await tempStore();
    await stand('Up', 'up');
    await stand('Doubtful', 'doubtful');
    await stand('Overdue', 'overdue');
    await stand('Warned', 'slow', { warned: true });
    await stand('Slow', 'slow', { slowAfter: 500 });
    await stand('Down', 'down');
    await stand('Resting', 'paused');
    await stand('Secret', 'down');
  });
  afterAll(() => store.close());

  let made = 0;
  const at = { now, zone: 'UTC' };

  async function pageWith(items: PageItem[]) {
    made += 1;
    const id = await saveNewPage(store.db, pageContent(items, { slug: `page-${made}` }));
    const page = (await fetchPage(store.db, id))!;
    return { id, page, draw: () => fetchPublicPage(store.db, page, at) };
  }
  const pageOf = (...names: string[]) => pageWith(names.map((name) => line(ids[name]!, `Public ${name}`)));
  const rowOf = async (name: string) => (await (await pageOf(name)).draw()).sections[0]!.rows[0]!;

  it.each([
    ['Up', 'running'],
    ['Doubtful', 'running'],
    ['Overdue', 'running'],
    ['Warned', 'running'],
    ['Slow', 'slow'],
    ['Down', 'out'],
    ['Resting', 'unknown'],
  ])('%s is %s', async (name, state) => expect((await rowOf(name)).state).toBe(state));

  it('is no doubt and no limit of ours in any line', async () => {
    const up = await rowOf('Up');
    for (const name of ['Doubtful', 'Overdue', 'Warned']) {
      expect((await rowOf(name)).line, name).toEqual(up.line);
    }
    expect((await rowOf('Slow')).line).not.toEqual(up.line);
    expect((await rowOf('Resting')).line).not.toEqual(up.line);
  });

  it('is no outage that was left out of the figures, and why; the line shows it all the same', async () => {
    await stand('Also down', 'down');
    const [one, other] = [ids.Down!, ids['Also down']!];
    const both = [line([one, other], 'Both'), line([other], 'Alone')];
    const rows = async () => (await (await pageWith(both)).draw()).sections[0]!.rows;
    const before = await rows();
    expect(before.map(({ figure }) => figure.uptime)).toEqual([0.5, 0.5]);
    const { id } = (await store.db('outages').where({ watch_id: other }).first())!;
    await saveLeftOut(store.db, id, 'A <storm> took the island off the net', now);
    const [together, alone] = await rows();
    expect(alone!.figure).toEqual({ uptime: 1, observedMs: HOUR_MS });
    expect(alone!.leftOut).toMatchObject([{ from: now - HOUR_MS, to: now }]);
    expect(alone!.line).toEqual(before[1]!.line);
    // The other of the two was out as well, and that counts.
    expect([together!.figure.uptime, together!.leftOut]).toEqual([0.5, []]);
    const html = renderPage(await (await pageWith(both)).draw(), DRAWING);
    expect(html).toContain('without 1 h on Fri 20 Nov: A &lt;storm&gt; took the island off the net');
    await saveLeftOut(store.db, id, null, now);
    expect((await rows()).map(({ figure }) => figure.uptime)).toEqual([0.5, 0.5]);
  });

  it('is only what stands on its page', async () => {
    const page = await pageOf('Up');
    const other = await pageOf('Down');
    await saveNewWindow(store.db, {
      title: 'Ours',
      watchIds: [ids.Up!, ids.Secret!],
      begins: now + HOUR_MS,
      ends: now + 2 * HOUR_MS,
    });
    await saveNewWindow(store.db, {
      title: 'Not ours',
      watchIds: [ids.Secret!],
      begins: now + HOUR_MS,
      ends: now + 2 * HOUR_MS,
    });
    await saveNewWindow(store.db, {
      title: 'Over',
      watchIds: [ids.Up!],
      begins: now - 2 * HOUR_MS,
      ends: now - HOUR_MS,
    });
    const affected = [
      { watchId: ids.Down!, how: 'partly' as const },
      { watchId: ids.Secret!, how: 'out' as const },
    ];
    await saveNewIncident(
      store.db,
      incidentFacts(other.id, 'Quay under water', now - HOUR_MS, { affected, outageId: 1 }),
    );
    const drawn = await page.draw();
    expect(drawn.coming).toMatchObject([{ title: 'Ours', labels: ['Public Up'] }]);
    expect([drawn.open, drawn.past]).toEqual([[], []]);
    const told = (await other.draw()).open;
    expect(told).toMatchObject([
      { title: 'Quay under water', affected: [{ label: 'Public Down', how: 'partly' }] },
    ]);
    expect(JSON.stringify(told)).not.toContain('outage');
    const { page: _settings, ...shown } = drawn;
    for (const inside of ['Secret', 'site.test', 'web']) expect(JSON.stringify(shown)).not.toContain(inside);
  });

  it('counts no time before a watch was made', async () => {
    const { figure, since } = await rowOf('Down');
    // An hour up, an hour down; not ninety days of which one hour is known.
    expect(figure).toEqual({ uptime: 0.5, observedMs: 2 * HOUR_MS });
    expect(since).toBe(now - 2 * HOUR_MS);
    const id = ids.Up!;
    await store
      .db('watches')
      .where({ id })
      .update({ created_at: now - 100 * DAY_MS });
    expect((await rowOf('Up')).since).toBeNull();
  });

  it('says how old it is where nobody looks any more', async () => {
    const { page } = await pageOf('Up');
    const draw = (later: number) =>
      fetchPublicPage(store.db, page, { now: now + later, zone: 'UTC' }).then((view) =>
        renderPage(view, DRAWING),
      );
    expect(await draw(0)).toContain('Looked at <time dateTime="2026-11-20T12:00:00.000Z"');
    const late = await draw(3 * HOUR_MS);
    expect(late).toContain('These lines stand as they were <time');
    expect(late).toContain('nobody has looked since.');
    expect(late).toContain('Nothing is known yet.');
  });

  it('counts several as one, by any or by all', async () => {
    const both = [ids.Up!, ids.Down!];
    const { draw } = await pageWith([
      line(both, 'Either pier', { counting: 'any' }),
      line(both, 'Both piers', { counting: 'all' }),
      line([ids.Down!, 999_999], 'Half deleted'),
      line([999_999], 'Deleted'),
    ]);
    const { rows } = (await draw()).sections[0]!;
    expect(rows.map(({ label, state }) => [label, state])).toEqual([
      ['Either pier', 'out'],
      ['Both piers', 'partly'],
      ['Half deleted', 'out'],
    ]);
    // The second hour of two is out for one, and only partly out for the other.
    expect(rows[0]!.figure.uptime).toBe(0.5);
    expect(rows[1]!.figure.uptime).toBe(1);
    expect(rows[1]!.line.at(-1)).toMatchObject({ kind: 'partly', from: now - HOUR_MS, to: now });
  });

  it('shows of a line no more than was chosen', async () => {
    const shown = ['state', 'history', 'times'] as const;
    const { draw } = await pageWith(shown.map((shows) => line(ids.Up!, shows, { shows })));
    const [state, history, times] = (await draw()).sections[0]!.rows;
    expect(state!.line).toEqual([]);
    expect(history!.line.length).toBeGreaterThan(0);
    expect(history!.times).toBeNull();
    // Nothing has answered yet, so nothing is said of how fast.
    expect(times!.times).toBeNull();
    await store.db('findings').insert({ watch_id: ids.Up!, at: now - 1000, verdict: 0, us: 140_000 });
    expect((await draw()).sections[0]!.rows[2]!.times).toMatchObject({ medianMs: 140, mostMs: 140 });
  });

  it('is filled by a section or a tag, without what was chosen already', async () => {
    const [tagId] = await store.db('tags').insert({ name: 'public', colour: 'teal' });
    await store
      .db('watch_tags')
      .insert(['Up', 'Slow', 'Down'].map((name) => ({ watch_id: ids[name]!, tag_id: tagId! })));
    const { draw, page } = await pageWith([line(ids.Up!, 'Chosen')]);
    page.sections[0]!.follows = { sectionId: null, tagId: tagId! };
    const { rows } = (await draw()).sections[0]!;
    expect(rows.map((row) => row.label)).toEqual(['Chosen', 'Slow', 'Down']);
    page.sections[0]!.follows = { sectionId: 12, tagId: tagId! };
    expect((await draw()).sections[0]!.rows).toHaveLength(1);
  });

  it('tells a day from midnight to midnight, and nothing of days there is no history of', async () => {
    const { page, id } = await pageOf('Down');
    const began = now - HOUR_MS;
    await saveNewIncident(store.db, incidentFacts(id, 'Today', began));
    await saveNewIncident(store.db, {
      ...incidentFacts(id, 'Long ago', now - 5 * DAY_MS),
      ended: now - 5 * DAY_MS + HOUR_MS,
    });
    const day = (await fetchPublicDay(store.db, page, '2026-11-20', at))!;
    expect(day.whole).toEqual({ from: Date.parse('2026-11-20'), to: Date.parse('2026-11-21') });
    expect(day.range.to).toBe(now);
    const kinds = day.sections[0]!.rows[0]!.line.map(({ kind, to }) => [kind, to]);
    expect(kinds).toEqual([
      ['unknown', now - 2 * HOUR_MS],
      ['running', began],
      ['out', now],
    ]);
    expect(day.incidents.map(({ title }) => title)).toEqual(['Today']);
    const before = (await fetchPublicDay(store.db, page, '2026-11-15', at))!;
    expect(before.incidents.map(({ title }) => title)).toEqual(['Long ago']);
    for (const none of ['2026-11-21', '2026-08-01', '2026-02-30', 'x']) {
      expect(await fetchPublicDay(store.db, page, none, at), none).toBeNull();
    }
    // On the clocks of Auckland it is the day after already.
    const far = { now, zone: 'Pacific/Auckland' };
    expect(await fetchPublicDay(store.db, page, '2026-11-21', far)).not.toBeNull();
  });

  it('keeps a diary by month, that can be searched', async () => {
    const { page, id } = await pageOf('Up');
    const past = (title: string, when: string, body: string) => {
      const began = Date.parse(when);
      return saveNewIncident(store.db, {
        ...incidentFacts(id, title, began, { body }),
        ended: began + HOUR_MS,
      });
    };
    await past('Storm', '2026-09-30T23:30:00Z', 'The quay was 100% under water.');
    await past('Ice', '2026-10-02T10:00:00Z', 'Frozen ropes.');
    const story = await past('Fog', '2026-10-05T10:00:00Z', 'Nobody saw a thing.');
    const diary = (month: string | null, words: string | null) =>
      fetchPublicDiary(store.db, page, { month, words }, at);
    const titles = async (month: string | null, words: string | null) =>
      (await diary(month, words))?.incidents.map(({ title }) => title);
    expect(await titles(null, null)).toEqual(['Fog', 'Ice']);
    expect((await diary(null, null))!.months).toEqual(['2026-10', '2026-09']);
    expect(await titles('2026-09', null)).toEqual(['Storm']);
    expect(await titles('2026-13', null)).toBeUndefined();
    expect(await titles(null, 'frozen')).toEqual(['Ice']);
    expect(await titles(null, '100%')).toEqual(['Storm']);
    expect(await titles(null, '1__%')).toEqual([]);
    const other = await pageOf('Up');
    expect(await fetchPublicStory(store.db, page, story, at)).toMatchObject({ incident: { title: 'Fog' } });
    expect(await fetchPublicStory(store.db, other.page, story, at)).toBeNull();
  });

  it('shows a notice from and to its dates, and none before', async () => {
    const { page, id, draw } = await pageOf('Up');
    const notice = (title: string, from: number, to: number | null) =>
      saveNewIncident(store.db, {
        ...incidentFacts(id, title, from, { kind: 'notice' }),
        ended: to,
      });
    await notice('Past', now - 2 * HOUR_MS, now - HOUR_MS);
    await notice('Present', now - HOUR_MS, now + HOUR_MS);
    const coming = await notice('Coming', now + HOUR_MS, null);
    expect((await draw()).notices.map(({ title }) => title)).toEqual(['Present']);
    expect((await draw()).past).toEqual([]);
    expect(await fetchPublicStory(store.db, page, coming, at)).toBeNull();
  });
});
