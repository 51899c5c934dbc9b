import * as sections from '@/cases/sections/sections';
import * as tags from '@/cases/sections/tags';
import { sectionEndpointSchema } from '@/cases/schemas/jobs';
import { keptFilterSchema, orderSchema, sectionSchema, tagSchema } from '@/cases/schemas/shared';
import type { KeptFilter } from '@/store/watches/filters';
import type { Section } from '@/store/watches/sections';
import type { CountedTag } from '@/store/watches/tags';
import { filter, foundWatch, section, sectionAddress, tag } from '@/api/answers/watch';
import { route, type Route } from '@/api/route';
import * as rest from './resource';

const TAG = 'Sections, tags, filters';

const SECTION: rest.Resource<Section> = {
  path: '/sections',
  tag: TAG,
  what: 'section',
  shape: section,
  versioned: true,
  tell: (_, one) => ({ ...one, version: sections.sectionVersion(one) }),
};

const sectionRoutes: Route[] = [
  rest.listRoute(SECTION, {
    does: sections.listSections,
    answer: 'Sections in their order, with the number of their watches.',
  }),
  rest.createRoute(SECTION, {
    does: sections.createSection,
    summary: 'Make a section',
    answer: 'The section; it stands behind all others.',
    body: sectionSchema,
    example: { name: 'Piers' },
  }),
  rest.getRoute(SECTION, { does: sections.getSection }),
  rest.changeRoute(SECTION, {
    does: sections.changeSection,
    summary: 'Give a section another name',
    body: sectionSchema,
    example: { name: 'Both piers' },
  }),
  rest.deleteRoute(SECTION, {
    does: sections.deleteSection,
    summary: 'Delete a section with its settings',
    description: 'Its watches stay, without a section.',
  }),
  rest.actRoute(TAG, '/sections/order', {
    does: sections.orderSections,
    summary: 'Put the sections into another order',
    body: orderSchema,
    example: { ids: [2, 1] },
    answer: 'The sections in their order.',
    shape: { each: section },
    input: ({ body }) => ({ body }),
    tell: (call, all, db) => all.map((one) => SECTION.tell(call, one, db)),
  }),
  route({
    method: 'GET',
    path: '/sections/{id}/watches',
    tag: TAG,
    summary: 'The watches of a section',
    does: sections.listSectionWatches,
    list: { by: 'order' },
    status: 200,
    answer: 'Their names and how they stand, in the order of the section.',
    shape: { each: foundWatch },
    input: ({ ids }) => ({ id: ids.id! }),
  }),
  rest.actRoute(TAG, '/sections/{id}/checkin-address', {
    does: sections.openSectionAddress,
    summary: 'Open or close readable check-in addresses for a section, or give them another secret',
    body: sectionEndpointSchema,
    example: { open: true, mostNew: 10 },
    answer: 'Where the jobs of the section report, without the name at its end; null when closed.',
    shape: sectionAddress,
    input: ({ ids, body }) => ({ id: ids.id!, body }),
    tell: ({ base }, { secret, mostNew }) => ({
      address: secret === null ? null : `${base}/in/${secret}/`,
      mostNew,
    }),
  }),
];

const TAG_RESOURCE: rest.Resource<CountedTag> = {
  path: '/tags',
  tag: TAG,
  what: 'tag',
  shape: tag,
  versioned: true,
  tell: (_, one) => ({ ...one, version: tags.tagVersion(one) }),
};

const tagRoutes: Route[] = [
  rest.listRoute(TAG_RESOURCE, {
    does: tags.listTags,
    answer: 'Tags by name, with the number of watches that carry them.',
  }),
  rest.createRoute(TAG_RESOURCE, {
    does: tags.createTag,
    summary: 'Make a tag',
    body: tagSchema,
    example: { name: 'pier' },
  }),
  rest.getRoute(TAG_RESOURCE, { does: tags.getTag }),
  rest.changeRoute(TAG_RESOURCE, {
    does: tags.changeTag,
    summary: 'Give a tag another name or colour',
    body: tagSchema,
    example: { colour: 'sea' },
  }),
  rest.deleteRoute(TAG_RESOURCE, {
    does: tags.deleteTag,
    summary: 'Delete a tag',
    description: 'The watches that carry it stay.',
  }),
];

const FILTER: rest.Resource<KeptFilter> = {
  path: '/filters',
  tag: TAG,
  what: 'filter',
  shape: filter,
  still: true,
  tell: (_, one) => one,
};

const filterRoutes: Route[] = [
  rest.listRoute(FILTER, {
    does: tags.listFilters,
    summary: 'Filters that were kept under a name',
    answer: 'Filters by name.',
  }),
  rest.createRoute(FILTER, {
    does: tags.keepFilter,
    summary: 'Keep a filter under a name',
    description: 'One that had the name gives way.',
    body: keptFilterSchema,
    example: { name: 'Down at the piers', filter: { states: ['down'], sections: ['Piers'] } },
  }),
  rest.getRoute(FILTER, { does: tags.getFilter }),
  rest.deleteRoute(FILTER, { does: tags.deleteFilter, summary: 'Delete a filter' }),
];

export const sectionAndTagRoutes: Route[] = [...sectionRoutes, ...tagRoutes, ...filterRoutes];
