import { array, number, object, string } from 'yup';
import type { LivedOutage } from '@/core/lifecycle/relive';
import { STATES } from '@/core/lifecycle/state';
import type { WatchFilter } from '@/core/settings/watch-filter';
import { checkinSchema, probeSchema } from '@/cases/schemas/watch';
import { manySchema } from '@/cases/schemas/shared';
import * as cases from '@/cases/watches/watches';
import { changeMany, previewMany } from '@/cases/watches/many';
import { orderWatches } from '@/cases/sections/sections';
import { orderSchema } from '@/cases/schemas/shared';
import { probeKinds } from '@/probes/kinds/registry';
import type { DeletedWatch } from '@/store/watches/deleted-watches';
import type { WatchWithStatus } from '@/store/watches/watches';
import * as deleted from '@/cases/watches/deleted';
import { batchSchema, createWatches } from '@/cases/watches/batch';
import { findWatches } from '@/cases/watches/find';
import { batchLine, deletedWatch, manyChanged, watch, foundWatch, watchTrial } from '@/api/answers/watch';
import { route, type Call, type Route } from '@/api/route';
import { tellWatch, tellWatches } from './places';
import * as rest from './resource';

const TAG = 'Watches';
/** What is looked for by name is found among so many. */
const MOST_NAMES = 100;

export const WATCH: rest.Resource<WatchWithStatus> = {
  path: '/watches',
  tag: TAG,
  what: 'watch',
  shape: watch,
  versioned: true,
  tell: tellWatch,
};

const DELETED: rest.Resource<DeletedWatch> = {
  path: '/deleted-watches',
  tag: TAG,
  what: 'deleted watch',
  shape: deletedWatch,
  tell: (_, one) => one,
};

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

export const filterQuery = object({
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

export function filterOf({ query }: Call): WatchFilter {
  const { state, kind, section, tag, text } = query as Record<
    'state' | 'kind' | 'section' | 'tag',
    string[]
  > & {
    text: string;
  };
  return { states: state as WatchFilter['states'], kinds: kind, sections: section, tags: tag, text };
}

/** Something done with a watch that ends in how it stands then. */
export function watchAct<In>(
  tag: string,
  path: string,
  spec: Pick<Parameters<typeof rest.actRoute<In, WatchWithStatus>>[2], 'does' | 'summary' | 'input'> &
    Partial<Parameters<typeof rest.actRoute<In, WatchWithStatus>>[2]>,
): Route {
  return rest.actRoute(tag, path, {
    answer: 'The watch.',
    shape: watch,
    versioned: true,
    tell: tellWatch,
    ...spec,
  });
}

/** So many outages of a trial are told one by one, the latest. */
const MOST_TRIED = 200;

const toldLived = ({ began, noticed, ended }: LivedOutage) => ({
  beganAt: began,
  noticedAt: noticed,
  endedAt: ended,
});

const one = ({ ids }: Call) => ({ id: ids.id! });

export const watchRoutes: Route[] = [
  route({
    method: 'GET',
    path: WATCH.path,
    tag: TAG,
    summary: 'Watches with their state',
    description: 'All of them, or those a filter lets through.',
    does: cases.listWatches,
    query: filterQuery,
    list: { by: 'place' },
    status: 200,
    answer: 'Watches, in the order of the desk.',
    shape: { each: watch },
    input: (call) => ({ filter: filterOf(call), page: call.page }),
    tell: tellWatches,
  }),
  route({
    method: 'GET',
    path: '/watch-names',
    tag: TAG,
    summary: 'Watches by a part of their name',
    does: findWatches,
    query: object({
      words: string()
        .trim()
        .max(100)
        .default('')
        .meta({ description: 'What is looked for; those that begin with it come first.' }),
    }),
    list: { by: 'order' },
    status: 200,
    answer: 'The first hundred that are found.',
    shape: { each: foundWatch },
    // Read as far as they go, for a list in an order of its own is cut behind the use case.
    input: ({ query }) => ({ words: String(query.words), most: MOST_NAMES }),
  }),
  rest.createRoute(WATCH, {
    does: cases.createWatch,
    summary: 'Make a watch',
    description: 'A probe takes its first look at once.',
    body: watchBody,
    query: likeQuery,
    example: { kind: 'web', settings: { address: 'booking.ternferry.test' }, everySeconds: 60 },
    input: (call) => ({ body: call.body, ...likeOf(call) }),
  }),
  rest.actRoute(TAG, '/watch-batches', {
    does: createWatches,
    summary: 'Make many watches at once',
    description: 'Up to a thousand. Each that fits is made; each that does not says why.',
    body: batchSchema,
    example: { watches: [{ kind: 'web', settings: { address: 'booking.ternferry.test' } }] },
    answer: 'What came of each, in the order they were sent.',
    shape: { each: batchLine },
    input: ({ body }) => ({ body }),
  }),
  rest.getRoute(WATCH, {
    does: cases.getWatch,
    answer: 'The watch. Its ETag is of its settings: what is found out about it does not change it.',
  }),
  rest.changeRoute(WATCH, {
    does: cases.changeWatch,
    description:
      'Fields that are left out stay as they are. What was read may be sent back whole: what comes from farther away and was left as it is stays there.',
    body: watchBody,
    example: { name: 'Booking site', everySeconds: 30 },
    answer: 'The watch as it is now.',
  }),
  rest.deleteRoute(WATCH, {
    does: cases.deleteWatch,
    summary: 'Delete a watch',
    description: 'It can be brought back for seven days.',
  }),
  rest.actRoute(TAG, '/watches/order', {
    does: orderWatches,
    summary: 'Put watches of a section into another order',
    body: orderSchema,
    example: { ids: [3, 1, 2] },
    answer: 'Nothing.',
    shape: null,
    input: ({ body }) => ({ body }),
  }),
  rest.actRoute(TAG, '/watches/changes', {
    does: changeMany,
    instead: { does: previewMany, when: ({ body }) => (body as { preview?: unknown }).preview === true },
    summary: 'Change many watches at once',
    description:
      'Pause, move, tag, delete, set what is shared. What would not do for one of them is refused before anything is changed; then two hundred are changed in one go. With preview, nothing is changed.',
    body: manySchema(),
    example: { filter: { tags: ['pier'] }, action: 'pause', preview: true },
    answer: 'How many were meant, and each for which something changes, with what was and what is.',
    shape: manyChanged,
    input: ({ body }) => ({ body }),
  }),
  rest.actRoute(TAG, '/watches/{id}/past-trials', {
    does: cases.tryWatchOnPast,
    summary: 'Try settings of a watch on its past',
    description:
      'What was seen or heard of it, at most in the last 90 days and as far as it is kept, is taken through the settings as they are, and with those that are sent: how many outages, and when each would have been noticed. Nothing is changed.',
    body: watchBody,
    partial: true,
    example: { secondLooks: 1, timeoutSeconds: 5 },
    answer: 'What would have been otherwise.',
    shape: watchTrial,
    refusals: ['work.too-long'],
    input: ({ ids, body }) => ({ id: ids.id!, body: body as object }),
    tell: (_, { changed, added, ...rest }) => ({
      ...rest,
      changed: changed
        .slice(-MOST_TRIED)
        .map(({ then, ...one }) => ({ ...toldLived(one), thenNoticedAt: then })),
      added: added.slice(-MOST_TRIED).map(toldLived),
    }),
  }),
  watchAct(TAG, '/watches/{id}/pause', { does: cases.pauseWatch, summary: 'Pause a watch', input: one }),
  watchAct(TAG, '/watches/{id}/resume', { does: cases.resumeWatch, summary: 'End a pause', input: one }),
  rest.listRoute(DELETED, {
    does: deleted.listDeletedWatches,
    summary: 'Watches that were deleted in the last seven days',
    answer: 'Watches that can be brought back, the last one first.',
  }),
  watchAct(TAG, '/deleted-watches/{id}/restore', {
    does: deleted.restoreDeletedWatch,
    summary: 'Bring a deleted watch back, with its history',
    input: one,
  }),
  rest.actRoute(TAG, '/deleted-watches/restores', {
    does: deleted.restoreDeletedWatches,
    summary: 'Bring many deleted watches back at once',
    description:
      'By their ids, or all that one change deleted. Each that can comes back; each that cannot says why.',
    body: deleted.restoreSchema,
    example: { deletedAt: '2026-11-25T08:00:00.000Z' },
    answer: 'What came of each.',
    shape: { each: batchLine },
    input: ({ body }) => ({ body }),
  }),
];
