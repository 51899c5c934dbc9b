import { afterEach, beforeEach, expect, it } from 'vitest';
import { PageIndex } from '@/server/site/page-index';
import { saveNewPage } from '@/store/pages/pages';
import { restoreWatches } from '@/store/watches/deleted-watches';
import { deleteWatches } from '@/store/watches/watches';
import { makeWatch, periodConfig, tempStore, type TempStore } from '../helpers';
import { line, pageContent } from '../pages';

let store: TempStore;
let clock = 1_000_000;
let index: PageIndex;

beforeEach(async () => {
  store = await tempStore();
  clock = 1_000_000;
  index = new PageIndex(store.db, () => clock);
});
afterEach(() => store.close());

const changedAt = async () => index.changedAtOf((await index.byName('ferries'))!);

it('tells that a page changed when a watch of a section it follows leaves it, comes back, or comes new', async () => {
  const make = (section: string) => makeWatch(store.db, periodConfig(60, 10), { name: section, section });
  const id = await make('Piers');
  const { section_id: sectionId } = (await store.db('watches').where({ id }).first()) as {
    section_id: number;
  };
  const follows = { sectionId, tagId: null };
  await saveNewPage(
    store.db,
    pageContent([], { sections: [{ title: '', items: [line(id, 'One')], follows }] }),
  );
  const second = await make('Piers');
  expect(await changedAt()).toBe(1_000_000);
  const later = async (change: () => unknown) => {
    clock += 20_000;
    await change();
    return changedAt();
  };
  expect(await later(() => undefined)).toBe(1_000_000);
  expect(await later(() => deleteWatches(store.db, [second], clock))).toBe(clock);
  const left = clock;
  // Back a moment later: by what is told of it, not by the next time pages are read.
  clock += 500;
  await restoreWatches(store.db, [second]);
  expect(await changedAt()).toBe(left);
  await index.watchesChanged([second + 99]);
  expect(await changedAt()).toBe(left);
  await index.watchesChanged([second]);
  expect(await changedAt()).toBe(clock);
  expect(await later(() => make('Piers'))).toBe(clock);
  const before = clock;
  expect(await later(() => make('Office'))).toBe(before);
});
