import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { HOUR_MS, MINUTE_MS } from '@/core/time/units';
import { transaction } from '@/store/db/connection';
import { saveNewSeries } from '@/store/maintenance/series';
import { saveNewWindow, type NewWindow } from '@/store/maintenance/windows';
import { fetchCoverageChoices, fetchMaintenance } from '@/views/maintenance/planned';
import { makeWatch, tempStore, webConfig, type TempStore } from '../helpers';

const NOW = Date.parse('2026-11-20T12:00:00Z');

describe('maintenance on its screen', () => {
  let store: TempStore;
  let ids: number[];
  beforeEach(async () => {
    store = await tempStore();
    ids = [];
    for (let i = 1; i <= 8; i += 1) {
      const section = i === 8 ? 'Piers' : null;
      ids.push(await makeWatch(store.db, webConfig('http://pier.test/'), { name: `Pier ${i}`, section }));
    }
    await store.db('tags').insert({ name: 'night', colour: 'teal' });
  });
  afterEach(() => store.close());

  const plan = (title: string, begins: number, ends: number, rest: Partial<NewWindow> = {}) =>
    saveNewWindow(store.db, {
      ...{ title, watchIds: [ids[0]!], begins: NOW + begins * HOUR_MS, ends: NOW + ends * HOUR_MS },
      ...rest,
    });
  const view = (month = '2026-11') => fetchMaintenance(store.db, { now: NOW, month, zone: 'UTC' });
  const titles = (all: readonly { title: string }[]) => all.map(({ title }) => title);

  it('is parted into what is under way and what comes; what is over stands in its month only', async () => {
    await plan('Over', -5, -4);
    await plan('Now', -1, 1);
    await plan('At this moment', 0, 1);
    await plan('Soon', 1, 2);
    await plan('Next month', 24 * 20, 24 * 20 + 1);
    const november = await view();
    expect(titles(november.running)).toEqual(['Now', 'At this moment']);
    expect([titles(november.coming), november.more]).toEqual([['Soon', 'Next month'], 0]);
    expect(titles(november.inMonth)).toEqual(['Over', 'Now', 'At this moment', 'Soon']);
    expect(november.coming[0]).toMatchObject({
      begins: NOW + HOUR_MS,
      ends: NOW + 2 * HOUR_MS,
      seriesId: null,
    });
    expect(titles((await view('2026-12')).inMonth)).toEqual(['Next month']);
    expect(november.grid.month).toBe('2026-11');
  });

  it('says what it is for: sections, tags, and as many names as one reads', async () => {
    await plan('Some', 1, 2, { watchIds: ids.slice(0, 2) });
    await plan('Five', 2, 3, { watchIds: ids.slice(0, 5) });
    await plan('Many', 3, 4, { watchIds: ids });
    await plan('All kinds', 4, 5, { watchIds: [ids[0]!], sectionIds: [1, 99], tagIds: [1, 99] });
    await plan('None', 5, 6, { watchIds: [] });
    expect((await view()).coming.map(({ title, about }) => [title, about])).toEqual([
      ['Some', 'Pier 1, Pier 2'],
      ['Five', 'Pier 1, Pier 2, Pier 3, Pier 4, Pier 5'],
      ['Many', 'Pier 1, Pier 2, Pier 3, Pier 4, Pier 5, 3 more'],
      [
        'All kinds',
        'all of Piers, all of a section that has gone, all tagged night, all tagged with a tag that has gone, Pier 1',
      ],
      ['None', 'no watch any more'],
    ]);
  });

  it('stands once where it comes again, with its next time, and once in its list', async () => {
    const series = {
      ...{ title: 'Kiosks start anew', text: '', watchIds: [ids[1]!], sectionIds: [], tagIds: [] },
      ...{ rule: 'FREQ=DAILY', zone: 'Europe/Lisbon', first: '2026-11-21T02:00', lastsMinutes: 45 },
      announceDays: 7,
    };
    const id = await transaction(store.db, (trx) => saveNewSeries(trx, series, NOW));
    await plan('Apart', 1, 2);
    const shown = await view();
    const first = Date.parse('2026-11-21T02:00:00Z');
    expect(shown.coming.map(({ title, begins, seriesId }) => [title, begins, seriesId])).toEqual([
      ['Apart', NOW + HOUR_MS, null],
      ['Kiosks start anew', first, id],
    ]);
    expect(shown.series).toEqual([
      {
        ...{ id, title: 'Kiosks start anew', inWords: 'every day', zone: 'Europe/Lisbon' },
        ...{ first: '2026-11-21T02:00', lastsMinutes: 45, about: 'Pier 2', nextAt: first },
      },
    ]);
    // A month is shown in whole weeks: until the sixth of December.
    expect(shown.inMonth).toHaveLength(1 + 16);
    // While one of its times is under way, the next is the one after.
    const during = { now: first + MINUTE_MS, month: '2026-11', zone: 'UTC' };
    const { running, series: again } = await fetchMaintenance(store.db, during);
    expect([titles(running), again[0]!.nextAt]).toEqual([['Kiosks start anew'], first + 24 * HOUR_MS]);
    await store.db('windows').where({ series_id: id }).delete();
    expect((await view()).series[0]!.nextAt).toBeNull();
  });

  it('lists sixty of what is planned, and counts the others', async () => {
    for (let i = 0; i < 62; i += 1) await plan(`Window ${i}`, i + 1, i + 2);
    const { coming, more } = await view();
    expect([coming.length, coming[0]!.title, coming.at(-1)!.title, more]).toEqual([
      60,
      'Window 0',
      'Window 59',
      2,
    ]);
  });

  it('can be planned for watches, sections and tags', async () => {
    expect(await fetchCoverageChoices(store.db)).toMatchObject({
      // As they stand on the desk: those in a section first.
      watches: [7, 0, 1, 2, 3, 4, 5, 6].map((i) => ({ id: ids[i], name: `Pier ${i + 1}` })),
      sections: [{ id: 1, name: 'Piers' }],
      tags: [{ id: 1, name: 'night' }],
    });
  });
});
