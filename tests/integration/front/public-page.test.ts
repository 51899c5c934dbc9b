import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { State } from '@/core/lifecycle/state';
import { newStatus } from '@/core/lifecycle/status';
import { DAY_MS, HOUR_MS } from '@/core/time/units';
import { saveNewIncident } from '@/store/pages/incidents';
import { fetchPage, saveNewPage } from '@/store/pages/pages';
import { saveNewWindow } from '@/store/pages/windows';
import { fetchPublicPage } from '@/views/pages/public-page';
import { makeWatch, tempStore, webConfig, type TempStore } from '../helpers';

const now = Date.parse('2026-11-20T12:00:00Z');

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
  async function pageOf(...names: string[]) {
    made += 1;
    const items = names.map((name) => ({ watchId: ids[name]!, label: `Public ${name}` }));
    const page = {
      slug: `page-${made}`,
      title: 'Ferries',
      intro: '',
      sections: [{ title: '', items }],
      createdAt: now,
    };
    const id = await saveNewPage(store.db, page);
    return { id, draw: async () => fetchPublicPage(store.db, (await fetchPage(store.db, id))!, now) };
  }
  const rowOf = async (name: string) => (await (await pageOf(name)).draw()).sections[0]!.rows[0]!;

  it.each([
    ['Up', 'up'],
    ['Doubtful', 'up'],
    ['Overdue', 'up'],
    ['Warned', 'up'],
    ['Slow', 'slow'],
    ['Down', 'down'],
    ['Resting', 'paused'],
  ])('%s is %s', async (name, state) => expect((await rowOf(name)).state).toBe(state));

  it('is no doubt and no limit of ours in any line', async () => {
    const up = await rowOf('Up');
    for (const name of ['Doubtful', 'Overdue', 'Warned']) {
      expect((await rowOf(name)).line, name).toEqual(up.line);
      expect((await rowOf(name)).words, name).toBe(up.words);
    }
    expect((await rowOf('Slow')).line).not.toEqual(up.line);
    expect((await rowOf('Resting')).line).not.toEqual(up.line);
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
    const incident = {
      title: 'Quay under water',
      stage: 'looking' as const,
      body: 'We look.',
      at: now - HOUR_MS,
    };
    await saveNewIncident(store.db, { ...incident, pageId: other.id });
    const drawn = await page.draw();
    expect(drawn.coming).toMatchObject([{ title: 'Ours', labels: ['Public Up'] }]);
    expect([drawn.open, drawn.past]).toEqual([[], []]);
    expect((await other.draw()).open).toMatchObject([{ title: 'Quay under water' }]);
    const told = JSON.stringify(drawn);
    for (const inside of ['Secret', 'site.test', 'web']) expect(told).not.toContain(inside);
  });

  it('counts no time before a watch was made', async () => {
    const { uptime, since } = await rowOf('Down');
    // An hour up, an hour down; not ninety days of which one hour is known.
    expect(uptime).toBe('50 %');
    expect(since).not.toBeNull();
    const id = ids.Up!;
    await store
      .db('watches')
      .where({ id })
      .update({ created_at: now - 100 * DAY_MS });
    expect((await rowOf('Up')).since).toBeNull();
  });
});
