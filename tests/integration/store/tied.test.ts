import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { saveShared } from '@/store/watches/cascade';
import { fetchByWords, fetchNamed, fetchNamesFrom, fetchTied } from '@/store/watches/tied';
import { fetchWatches, saveNewWatch } from '@/store/watches/watches';
import { partsOf } from '@/probes/diagnosis/watch-target';
import { makeWatch, probeConfig, tempStore, webConfig, type TempStore } from '../helpers';

describe('watches that are tied to others', () => {
  let store: TempStore;
  let ids: Record<string, number>;
  beforeAll(async () => {
    store = await tempStore();
    const make = (name: string, restsOn?: number[]) =>
      makeWatch(store.db, webConfig('http://site.test/', restsOn ? { restsOn } : {}), { name });
    const router = await make('Router');
    const site = await make('Booking site', [router]);
    const plain = await make('Tide tables');
    const whole = await saveNewWatch(store.db, {
      ...{ kind: 'combined', name: 'Both', section: 'Piers', checkinKey: null, createdAt: 0 },
      config: probeConfig({ parts: [site, plain], rule: 'all' }),
    });
    ids = { router, site, plain, whole };
  });
  afterAll(() => store.close());

  const names = async () => (await fetchTied(store.db)).map(({ name }) => name);

  it('are those that rest on something or are made of something, and no others are read', async () => {
    expect(await names()).toEqual(['Booking site', 'Both']);
    const [site, whole] = await fetchTied(store.db);
    expect([site!.config.restsOn, partsOf(whole!), site!.state]).toEqual([
      [ids.router],
      [ids.site, ids.plain],
      'waiting',
    ]);
  });

  it('are what the whole of them says, wherever it is set', async () => {
    const all = async () =>
      (await fetchWatches(store.db))
        .filter((watch) => (watch.config.restsOn?.length ?? 0) + partsOf(watch).length > 0)
        .map(({ name }) => name)
        .sort();
    const agree = async () => expect((await names()).sort()).toEqual(expect.arrayContaining(await all()));
    await agree();
    await saveShared(store.db, { level: 'section', section: 'Piers' }, { restsOn: [ids.router!] });
    await agree();
    await saveShared(store.db, { level: 'kind', kind: 'web' }, { restsOn: [ids.router!] });
    await agree();
    expect(await names()).toContain('Tide tables');
    await saveShared(store.db, { level: 'kind', kind: 'web' }, {});
    await saveShared(store.db, { level: 'instance' }, { restsOn: [ids.router!] });
    await agree();
    await saveShared(store.db, { level: 'instance' }, {});
  });

  it('are found by name and by id', async () => {
    expect(await fetchNamed(store.db, [ids.plain!, 99_999, ids.plain!])).toEqual([
      { id: ids.plain, name: 'Tide tables', state: 'waiting' },
    ]);
    const found = async (words: string, most = 9) =>
      (await fetchByWords(store.db, words, most)).map(({ name }) => name);
    // Those that begin with it come first; capitals and marks of the query language count for nothing.
    expect(await found('bo')).toEqual(['Booking site', 'Both']);
    expect(await found('o')).toEqual(['Booking site', 'Both', 'Router']);
    expect(await found('R')).toEqual(['Router']);
    expect(await found('o', 1)).toEqual(['Booking site']);
    expect([await found('%'), await found('_'), await found('\\')]).toEqual([[], [], []]);
    expect(await fetchNamesFrom(store.db, 'both')).toEqual(['Both']);
    expect(await fetchNamesFrom(store.db, '%')).toEqual([]);
  });
});
