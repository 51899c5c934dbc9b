import type { TagColour } from '@/core/settings/tag';
import type { WatchFilter } from '@/core/settings/watch-filter';
import type { Db } from '@/store/db/connection';
import {
  deleteFilter as deleteKeptFilter,
  fetchFilters,
  saveFilter,
  type KeptFilter,
} from '@/store/watches/filters';
import {
  deleteTag as deleteKeptTag,
  fetchIdsWithTag,
  fetchTags,
  saveNewTag,
  saveTag,
  type CountedTag,
} from '@/store/watches/tags';
import { saveRenamed } from '@/store/watches/renamed';
import { byId } from '@/cases/frame/find';
import { withoutReadOnly } from '@/cases/frame/read-only';
import { refuseTwice } from '@/cases/frame/unique';
import { asIs, asks, changes } from '@/cases/frame/use-case';
import { validateBody } from '@/cases/frame/validate';
import { refuseChanged, versionOf, type Expected } from '@/cases/frame/version';
import { keptFilterSchema, tagSchema } from '@/cases/schemas/shared';
import { deletes } from '@/cases/frame/deletes';
import { tellEngine } from '@/cases/watches/around';

interface TagBody {
  name: string;
  colour?: TagColour;
}

async function foundTag(db: Db, id: number): Promise<CountedTag> {
  return byId(await fetchTags(db), id, 'tag');
}

export function tagVersion({ name, colour }: CountedTag): string {
  return versionOf([name, colour]);
}

export const listTags = asks('listTags', 'look', ({ db }): Promise<CountedTag[]> => fetchTags(db));

export const getTag = asks('getTag', 'look', ({ db }, { id }: { id: number }) => foundTag(db, id));

export const createTag = changes(
  'createTag',
  'operate',
  ({ body }: { body: unknown }) => validateBody<TagBody>(tagSchema, body),
  async ({ trx, about }, { name, colour }): Promise<CountedTag> => {
    refuseTwice(name, await fetchTags(trx));
    const id = await saveNewTag(trx, name);
    if (colour) await saveTag(trx, id, { name, colour });
    about({ kind: 'tag', id, name });
    return foundTag(trx, id);
  },
);

export const changeTag = changes(
  'changeTag',
  'operate',
  asIs<{ id: number; body: object; expected: Expected }>,
  async ({ trx, about, afterwards, world }, { id, body, expected }): Promise<CountedTag> => {
    const tag = await foundTag(trx, id);
    refuseChanged(expected, tagVersion(tag), 'this tag');
    const { name, colour } = tag;
    const change = await validateBody<TagBody>(tagSchema, {
      name,
      colour,
      ...withoutReadOnly(body, ['watches']),
    });
    refuseTwice(change.name, await fetchTags(trx), id);
    await saveTag(trx, id, { name: change.name, colour: change.colour ?? colour });
    about({ kind: 'tag', id, name: change.name });
    if (change.name !== name) {
      await saveRenamed(trx, 'tags', name, change.name);
      const ids = await fetchIdsWithTag(trx, id);
      afterwards(() => tellEngine(world, ids, { renamed: true }));
    }
    return foundTag(trx, id);
  },
);

export const deleteTag = deletes('deleteTag', 'operate', {
  find: foundTag,
  version: tagVersion,
  called: () => 'this tag',
  remove: deleteKeptTag,
  touched: ({ about, afterwards, world }, { id, name }, ids) => {
    about({ kind: 'tag', id, name });
    afterwards(() => tellEngine(world, ids));
  },
});

export const listFilters = asks('listFilters', 'look', ({ db }): Promise<KeptFilter[]> => fetchFilters(db));

export const getFilter = asks(
  'getFilter',
  'look',
  async ({ db }, { id }: { id: number }): Promise<KeptFilter> => byId(await fetchFilters(db), id, 'filter'),
);

export const keepFilter = changes(
  'keepFilter',
  'look',
  ({ body }: { body: unknown }) =>
    validateBody<{ name: string; filter: WatchFilter }>(keptFilterSchema, body),
  async ({ trx, about }, { name, filter }): Promise<KeptFilter> => {
    const id = await saveFilter(trx, name, filter);
    about({ kind: 'filter', id, name });
    return { id, name, filter };
  },
);

export const deleteFilter = changes(
  'deleteFilter',
  'look',
  asIs<{ id: number }>,
  async ({ trx, about }, { id }): Promise<void> => {
    const { name } = byId(await fetchFilters(trx), id, 'filter');
    await deleteKeptFilter(trx, id);
    about({ kind: 'filter', id, name });
  },
);
