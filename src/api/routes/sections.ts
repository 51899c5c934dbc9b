import type { TagColour } from '@/core/settings/tag';
import { deleteFilter, fetchFilters, saveFilter } from '@/store/watches/filters';
import {
  deleteSection,
  fetchSections,
  saveNewSection,
  saveSectionName,
  saveSectionOrder,
  saveWatchOrder,
  type Section,
} from '@/store/watches/sections';
import { deleteTag, fetchTags, saveNewTag, saveTag, type CountedTag } from '@/store/watches/tags';
import { fetchWatches } from '@/store/watches/watches';
import type { WatchFilter } from '@/core/settings/watch-filter';
import { notFound, refused } from '@/api/problem';
import { idOf, type Call, type Route } from '@/api/route';
import { keptFilterSchema, orderSchema, sectionSchema, tagSchema } from '@/api/schemas/shared';
import { validateBody } from '@/api/validate';
import { tellEngine } from './watch-calls';

async function foundSection(call: Call): Promise<Section> {
  const section = (await fetchSections(call.context.db)).find((one) => one.id === idOf(call));
  if (!section) throw notFound(`section ${call.params.id}`);
  return section;
}

async function foundTag(call: Call): Promise<CountedTag> {
  const tag = (await fetchTags(call.context.db)).find((one) => one.id === idOf(call));
  if (!tag) throw notFound(`tag ${call.params.id}`);
  return tag;
}

/** Names of sections, tags and filters are told apart by every letter. */
function refuseTwice(name: string, others: readonly { id: number; name: string }[], id?: number): void {
  if (!others.some((other) => other.name === name && other.id !== id)) return;
  throw refused([{ field: 'name', message: `Expected a name of its own; there is one called “${name}”.` }]);
}

const TAG = 'Sections, tags, filters';

export const sectionRoutes: Route[] = [
  {
    method: 'GET',
    path: '/sections',
    tag: TAG,
    summary: 'The sections in their order, with the number of their watches',
    status: 200,
    answer: 'An array of sections.',
    handle: async ({ context: { db } }) => fetchSections(db),
  },
  {
    method: 'POST',
    path: '/sections',
    tag: TAG,
    summary: 'Make a section',
    body: sectionSchema,
    status: 201,
    answer: 'The section; it stands behind all others.',
    handle: async (call) => {
      const { db } = call.context;
      const { name } = await validateBody<{ name: string }>(sectionSchema, call.body);
      refuseTwice(name, await fetchSections(db));
      const id = await saveNewSection(db, name);
      return (await fetchSections(db)).find((section) => section.id === id);
    },
  },
  {
    method: 'PATCH',
    path: '/sections/{id}',
    tag: TAG,
    summary: 'Give a section another name',
    body: sectionSchema,
    status: 200,
    answer: 'The section.',
    handle: async (call) => {
      const { db } = call.context;
      const { id } = await foundSection(call);
      const { name } = await validateBody<{ name: string }>(sectionSchema, call.body);
      refuseTwice(name, await fetchSections(db), id);
      await saveSectionName(db, id, name);
      return foundSection(call);
    },
  },
  {
    method: 'DELETE',
    path: '/sections/{id}',
    tag: TAG,
    summary: 'Delete a section with its settings; its watches stay, without a section',
    status: 204,
    answer: 'Nothing.',
    handle: async (call) => {
      const { id, name } = await foundSection(call);
      const watches = (await fetchWatches(call.context.db)).filter((watch) => watch.section === name);
      await deleteSection(call.context.db, id);
      await tellEngine(
        call,
        watches.map((watch) => watch.id),
      );
    },
  },
  {
    method: 'POST',
    path: '/sections/order',
    tag: TAG,
    summary: 'Put the sections into another order',
    body: orderSchema,
    status: 200,
    answer: 'The sections in their order.',
    handle: async ({ context: { db }, body }) => {
      const { ids } = await validateBody<{ ids: number[] }>(orderSchema, body);
      await saveSectionOrder(db, ids);
      return fetchSections(db);
    },
  },
  {
    method: 'POST',
    path: '/watches/order',
    tag: TAG,
    summary: 'Put watches of a section into another order',
    body: orderSchema,
    status: 204,
    answer: 'Nothing.',
    handle: async ({ context: { db }, body }) => {
      const { ids } = await validateBody<{ ids: number[] }>(orderSchema, body);
      await saveWatchOrder(db, ids);
    },
  },
];

export const tagRoutes: Route[] = [
  {
    method: 'GET',
    path: '/tags',
    tag: TAG,
    summary: 'The tags by name, with the number of watches that carry them',
    status: 200,
    answer: 'An array of tags.',
    handle: async ({ context: { db } }) => fetchTags(db),
  },
  {
    method: 'POST',
    path: '/tags',
    tag: TAG,
    summary: 'Make a tag',
    body: tagSchema,
    status: 201,
    answer: 'The tag.',
    handle: async (call) => {
      const { db } = call.context;
      const { name, colour } = await validateBody<{ name: string; colour?: TagColour }>(tagSchema, call.body);
      refuseTwice(name, await fetchTags(db));
      const id = await saveNewTag(db, name);
      if (colour) await saveTag(db, id, { name, colour });
      return (await fetchTags(db)).find((tag) => tag.id === id);
    },
  },
  {
    method: 'PATCH',
    path: '/tags/{id}',
    tag: TAG,
    summary: 'Give a tag another name or colour',
    body: tagSchema,
    status: 200,
    answer: 'The tag.',
    handle: async (call) => {
      const { db } = call.context;
      const tag = await foundTag(call);
      const change = await validateBody<{ name: string; colour?: TagColour }>(tagSchema, {
        name: tag.name,
        ...(call.body as object),
      });
      refuseTwice(change.name, await fetchTags(db), tag.id);
      await saveTag(db, tag.id, { name: change.name, colour: change.colour ?? tag.colour });
      return foundTag(call);
    },
  },
  {
    method: 'DELETE',
    path: '/tags/{id}',
    tag: TAG,
    summary: 'Delete a tag; the watches that carry it stay',
    status: 204,
    answer: 'Nothing.',
    handle: async (call) => deleteTag(call.context.db, (await foundTag(call)).id),
  },
];

export const filterRoutes: Route[] = [
  {
    method: 'GET',
    path: '/filters',
    tag: TAG,
    summary: 'Filters that were kept under a name',
    status: 200,
    answer: 'An array of filters.',
    handle: async ({ context: { db } }) => fetchFilters(db),
  },
  {
    method: 'POST',
    path: '/filters',
    tag: TAG,
    summary: 'Keep a filter under a name; one that had the name gives way',
    body: keptFilterSchema,
    status: 201,
    answer: 'The filter.',
    handle: async ({ context: { db }, body }) => {
      const { name, filter } = await validateBody<{ name: string; filter: WatchFilter }>(
        keptFilterSchema,
        body,
      );
      return { id: await saveFilter(db, name, filter), name, filter };
    },
  },
  {
    method: 'DELETE',
    path: '/filters/{id}',
    tag: TAG,
    summary: 'Delete a filter',
    status: 204,
    answer: 'Nothing.',
    handle: async (call) => {
      if (!(await deleteFilter(call.context.db, idOf(call)))) throw notFound(`filter ${call.params.id}`);
    },
  },
];
