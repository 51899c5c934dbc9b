import { array, number, object, string } from 'yup';
import { STATES } from '@/core/lifecycle/state';
import type { WatchFilter } from '@/core/settings/watch-filter';
import { checkinSchema, probeSchema } from '@/cases/schemas/watch';
import { manySchema } from '@/cases/schemas/shared';
import * as cases from '@/cases/watches/watches';
import { changeMany, previewMany } from '@/cases/watches/many';
import { orderWatches } from '@/cases/sections/sections';
import { orderSchema } from '@/cases/schemas/shared';
import { probeKinds } from '@/probes/kinds/registry';
import { deletedWatch, manyChanged, watch } from '@/api/answers/watch';
import { route, type Call, type Route } from '@/api/route';
import { tellWatch, tellWatches } from './places';

const TAG = 'Watches';

/** The body that describes a watch: one shape for each kind. */
export const watchBody = {
  oneOf: () => [...probeKinds().map((kind) => probeSchema(kind.id)!), checkinSchema],
};

export const likeQuery = object({
  watch: number()
    .integer('Expected the id of a watch.')
    .typeError('Expected the id of a watch.')
    .optional()
    .meta({ description: 'The watch whose secrets are meant by {"kept": true}.' }),
});

export function likeOf({ query }: Call): { like?: number } {
  return query.watch === undefined ? {} : { like: Number(query.watch) };
}

const some = (what: string) =>
  array(string().defined().max(200))
    .default([])
    .meta({ description: `Any of these ${what}; may be given several times.` });

const filterQuery = object({
  state: array(
    string()
      .defined()
      .oneOf(
        STATES,
        ({ value }) => `Expected one of ${STATES.join(', ')}; got "${String(value).slice(0, 80)}".`,
      ),
  )
    .default([])
    .meta({ description: 'Any of these states; may be given several times.' }),
  kind: some('kinds'),
  section: some('sections'),
  tag: some('tags'),
  text: string()
    .default('')
    .max(200, 'Expected at most 200 characters.')
    .meta({ description: 'Pieces of text that must all be in name, target, section or tags.' }),
});

function filterOf({ query }: Call): WatchFilter {
  const { state, kind, section, tag, text } = query as Record<
    'state' | 'kind' | 'section' | 'tag',
    string[]
  > & {
    text: string;
  };
  return { states: state as WatchFilter['states'], kinds: kind, sections: section, tags: tag, text };
}

const one = ({ ids }: Call) => ({ id: ids.id! });

export const watchRoutes: Route[] = [
  route({
    method: 'GET',
    path: '/watches',
    tag: TAG,
    summary: 'Watches with their state',
    description: 'All of them, or those a filter lets through.',
    does: cases.listWatches,
    query: filterQuery,
    list: { by: 'order' },
    status: 200,
    answer: 'Watches, in the order of the desk.',
    shape: { each: watch },
    input: (call) => ({ filter: filterOf(call) }),
    tell: tellWatches,
  }),
  route({
    method: 'POST',
    path: '/watches',
    tag: TAG,
    summary: 'Make a watch',
    description: 'A probe takes its first look at once.',
    does: cases.createWatch,
    body: watchBody,
    query: likeQuery,
    status: 201,
    answer: 'The watch.',
    shape: watch,
    versioned: true,
    refusals: ['input.invalid'],
    location: ({ id }) => `/watches/${id}`,
    example: { kind: 'web', settings: { address: 'booking.ternferry.test' }, everySeconds: 60 },
    input: (call) => ({ body: call.body, ...likeOf(call) }),
    tell: tellWatch,
  }),
  route({
    method: 'GET',
    path: '/watches/{id}',
    tag: TAG,
    summary: 'One watch',
    does: cases.getWatch,
    status: 200,
    answer: 'The watch. Its ETag is of its settings: what is found out about it does not change it.',
    shape: watch,
    versioned: true,
    input: one,
    tell: tellWatch,
  }),
  route({
    method: 'PATCH',
    path: '/watches/{id}',
    tag: TAG,
    summary: 'Change a watch',
    description:
      'Fields that are left out stay as they are. What was read may be sent back whole: what comes from farther away and was left as it is stays there.',
    does: cases.changeWatch,
    body: watchBody,
    partial: true,
    status: 200,
    answer: 'The watch as it is now.',
    shape: watch,
    versioned: true,
    refusals: ['input.invalid', 'state.changed'],
    example: { name: 'Booking site', everySeconds: 30 },
    input: ({ ids, body, expected }) => ({ id: ids.id!, change: body as Record<string, unknown>, expected }),
    tell: tellWatch,
  }),
  route({
    method: 'DELETE',
    path: '/watches/{id}',
    tag: TAG,
    summary: 'Delete a watch',
    description: 'It can be brought back for seven days.',
    does: cases.deleteWatch,
    status: 204,
    answer: 'Nothing.',
    shape: null,
    refusals: ['state.changed'],
    input: ({ ids, expected }) => ({ id: ids.id!, expected }),
  }),
  route({
    method: 'POST',
    path: '/watches/order',
    tag: TAG,
    summary: 'Put watches of a section into another order',
    does: orderWatches,
    body: orderSchema,
    status: 204,
    answer: 'Nothing.',
    shape: null,
    refusals: ['input.invalid'],
    example: { ids: [3, 1, 2] },
    input: ({ body }) => ({ body }),
  }),
  route({
    method: 'POST',
    path: '/watches/changes',
    tag: TAG,
    summary: 'Change many watches at once',
    description:
      'Pause, move, tag, delete, set what is shared: all of them or none. With preview, nothing is changed.',
    does: changeMany,
    instead: { does: previewMany, when: ({ body }) => (body as { preview?: unknown }).preview === true },
    body: manySchema(),
    status: 200,
    answer: 'How many were meant, and each for which something changes, with what was and what is.',
    shape: manyChanged,
    refusals: ['input.invalid'],
    example: { filter: { tags: ['pier'] }, action: 'pause', preview: true },
    input: ({ body }) => ({ body }),
  }),
  route({
    method: 'POST',
    path: '/watches/{id}/pause',
    tag: TAG,
    summary: 'Pause a watch',
    does: cases.pauseWatch,
    status: 200,
    answer: 'The watch.',
    shape: watch,
    versioned: true,
    input: one,
    tell: tellWatch,
  }),
  route({
    method: 'POST',
    path: '/watches/{id}/resume',
    tag: TAG,
    summary: 'End a pause',
    does: cases.resumeWatch,
    status: 200,
    answer: 'The watch.',
    shape: watch,
    versioned: true,
    input: one,
    tell: tellWatch,
  }),
  route({
    method: 'GET',
    path: '/deleted-watches',
    tag: TAG,
    summary: 'Watches that were deleted in the last seven days',
    does: cases.listDeletedWatches,
    list: { by: 'order' },
    status: 200,
    answer: 'Watches that can be brought back, the last one first.',
    shape: { each: deletedWatch },
    input: () => ({}),
  }),
  route({
    method: 'POST',
    path: '/deleted-watches/{id}/restore',
    tag: TAG,
    summary: 'Bring a deleted watch back, with its history',
    does: cases.restoreDeletedWatch,
    status: 200,
    answer: 'The watch.',
    shape: watch,
    versioned: true,
    input: one,
    tell: tellWatch,
  }),
];
