import * as cases from '@/cases/messages/routes';
import * as taking from '@/cases/messages/taking';
import { foretellWatch } from '@/cases/messages/foretell';
import { routeNames, routeSentence } from '@/views/messages/route-names';
import { measureRoute } from '@/cases/messages/route-scope';
import { tryRoute } from '@/cases/messages/try-routes';
import type { Replayed } from '@/core/telling/ahead/replay';
import { ruleInWords } from '@/core/telling/rule-words';
import { routeSchema, routeScopeSchema, routeTrialSchema } from '@/cases/schemas/routes';
import type { WatchFacts } from '@/core/telling/route';
import type { KeptRoute } from '@/core/telling/route-config';
import { conversation, foretold, messageRoute, routeScope, routeTrial } from '@/api/answers/routes';
import { route, type Route } from '@/api/route';
import * as rest from './resource';

const TAG = 'Messages';

const ROUTE: rest.Resource<KeptRoute> = {
  path: '/routes',
  tag: TAG,
  what: 'route',
  shape: messageRoute,
  versioned: true,
  tell: async (_, one, db) => ({
    ...one,
    version: cases.routeVersion(one),
    sentence: routeSentence(one, await routeNames(db, [one])),
  }),
};

const toldReplay = ({ troubles, quiet, unheard, ...rest }: Replayed) => ({
  ...rest,
  outages: troubles,
  unheard: unheard.length,
  inMaintenance: quiet,
});

const toldFacts = ({ id, name, kind, section, tags, urgency, tells }: WatchFacts) => ({
  id,
  name,
  kind,
  section,
  tags,
  urgency,
  tells: tells?.how ?? 'by-routes',
  tellsTo: tells?.channels ?? [],
});

export const routeRoutes: Route[] = [
  rest.listRoute(ROUTE, { does: cases.listRoutes, answer: 'Who hears what, when, in their order.' }),
  rest.createRoute(ROUTE, {
    does: cases.createRoute,
    summary: 'Add a route',
    body: routeSchema,
    example: {
      name: 'On the piers',
      watches: { tags: ['pier'] },
      topics: ['down', 'recovered'],
      steps: [{ after: 60, channels: [] }],
      again: 3600,
    },
  }),
  rest.getRoute(ROUTE, { does: cases.getRoute }),
  rest.changeRoute(ROUTE, { does: cases.changeRoute, body: routeSchema, example: { again: 3600 } }),
  rest.deleteRoute(ROUTE, { does: cases.deleteRoute, summary: 'Delete a route' }),
  rest.actRoute(TAG, '/route-trials', {
    does: tryRoute,
    summary: 'Try a route on the last 90 days',
    description:
      'The outages there were are taken through the routes as they are now, and with the one that is tried.',
    body: routeTrialSchema,
    example: { name: 'On the piers', watches: { tags: ['pier'] }, steps: [{ after: 60, channels: [] }] },
    answer: 'What would have been said.',
    shape: routeTrial,
    refusals: ['work.too-long'],
    input: ({ body }) => ({ body }),
    tell: (_, { now, then, unheard, ...span }) => ({
      ...span,
      now: toldReplay(now),
      then: toldReplay(then),
      unheard: unheard.map(({ id, began, rule, ...one }) => ({
        ...one,
        outageId: id,
        beganAt: began,
        why: ruleInWords(rule),
      })),
    }),
  }),
  rest.actRoute(TAG, '/route-scopes', {
    does: measureRoute,
    summary: 'Ask what a route would be about',
    description: 'Without adding it: how many watches there are of which it would tell.',
    body: routeScopeSchema,
    example: { watches: { tags: ['pier'] } },
    answer: 'What it would be about today.',
    shape: routeScope,
    input: ({ body }) => ({ body }),
    tell: (_, { watches, example }) => ({ watches, example: example && toldFacts(example) }),
  }),
  route({
    method: 'GET',
    path: '/watches/{id}/conversation',
    tag: TAG,
    summary: 'What is told of it, and who has it',
    does: taking.getConversation,
    status: 200,
    answer: 'Who heard of its open trouble, and who has it.',
    shape: conversation,
    input: ({ ids }) => ({ id: ids.id! }),
    tell: (_, { taken, ...rest }) => ({ ...rest, taken: taken && { ...taken, untilAt: taken.until } }),
  }),
  rest.actRoute(TAG, '/watches/{id}/take', {
    does: taking.takeWatch,
    summary: 'Say “I have it”',
    description: 'Reminders and further steps rest, and whoever heard of it hears who has it.',
    body: taking.takeSchema,
    example: { by: 'Ines' },
    answer: 'It is taken.',
    shape: null,
    refusals: ['watch.not-told'],
    input: ({ ids, body }) => ({ id: ids.id!, body }),
  }),
  rest.actRoute(TAG, '/watches/{id}/give-back', {
    does: taking.giveWatchBack,
    summary: 'Give it back',
    answer: 'Nobody has it any more.',
    shape: null,
    refusals: ['watch.not-told'],
    input: ({ ids }) => ({ id: ids.id! }),
  }),
  route({
    method: 'GET',
    path: '/watches/{id}/foretold',
    tag: TAG,
    summary: 'Who would be told if it went down now',
    does: foretellWatch,
    status: 200,
    answer: 'What the routes would say, by running them ahead of the clock.',
    shape: foretold,
    input: ({ ids }) => ({ id: ids.id! }),
    tell: (_, { sentence, said }) => ({
      sentence,
      said: said.map(({ channelId, afterMs, rule }) => ({
        channelId,
        afterSeconds: Math.round(afterMs / 1000),
        again: rule === 'again',
      })),
    }),
  }),
];
