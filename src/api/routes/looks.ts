import { object } from 'yup';
import { causeSentence, type CauseCode } from '@/core/causes/causes';
import { bulkSchema, offerSchema, probeSchema } from '@/cases/schemas/watch';
import * as cases from '@/cases/watches/looks';
import { withoutSecrets } from '@/cases/watches/secret-settings';
import { probeKind } from '@/probes/kinds/registry';
import { finding, trial } from '@/api/answers/finding';
import { pageWords } from '@/api/answers/others';
import { bulkVerdict, offer } from '@/api/answers/watch';
import { flagQuery } from '@/api/query';
import { route, type Route } from '@/api/route';
import { findingShape } from '@/api/shapes';
import { likeOf, likeQuery, watchBody } from './watches';

const TAG = 'Trying';

/** What can be tried before anything is saved, through the code that will run it. */
export const lookRoutes: Route[] = [
  route({
    method: 'POST',
    path: '/watches/{id}/look',
    tag: TAG,
    summary: 'Look now',
    does: cases.lookNow,
    query: object({ afresh: flagQuery('True takes what is found now as what it is compared with.') }),
    status: 200,
    answer: 'The finding.',
    shape: finding,
    refusals: ['watch.no-probe', 'watch.paused', 'engine.away'],
    input: ({ ids, query }) => ({ id: ids.id!, afresh: query.afresh === 'true' }),
    tell: (_, out) => findingShape(out),
  }),
  route({
    method: 'POST',
    path: '/looks',
    tag: TAG,
    summary: 'Look once with settings that are not saved',
    does: cases.tryLook,
    body: watchBody,
    query: likeQuery,
    status: 200,
    answer: 'The finding, and what would count as failing.',
    shape: trial,
    refusals: ['input.invalid', 'engine.away'],
    example: { kind: 'port', settings: { host: 'kiosk.ternferry.test', port: 8443 } },
    input: (call) => ({ body: call.body, ...likeOf(call) }),
    tell: (_, { finding: found, kind, config }) => {
      const probe = probeKind(kind)!;
      return {
        ...findingShape(found),
        settings: withoutSecrets(probe, config.settings),
        failsWhen: probe.verdictSentence(config.settings, config.timeout * 1000),
      };
    },
  }),
  route({
    method: 'POST',
    path: '/page-words',
    tag: TAG,
    summary: 'Fetch a page to choose words from, and doubt those that were chosen',
    does: cases.readPageWords,
    body: probeSchema('web')!,
    query: likeQuery,
    status: 200,
    answer: 'The source and the visible text of the page, and why the words would be a weak test.',
    shape: pageWords,
    refusals: ['input.invalid', 'engine.away'],
    example: { kind: 'web', settings: { address: 'booking.ternferry.test' } },
    input: (call) => ({ body: call.body, ...likeOf(call) }),
    tell: (_, { problem, ...page }) => ({
      ...page,
      problem: problem && causeSentence(problem.cause as CauseCode, problem.detail),
    }),
  }),
  route({
    method: 'POST',
    path: '/bulk-drafts',
    tag: TAG,
    summary: 'Judge a pasted list of addresses, or CSV, line by line',
    description: 'Nothing is made.',
    does: cases.draftBulk,
    body: bulkSchema,
    status: 200,
    answer: 'One verdict a line: the body to make the watch with, or what is wrong.',
    shape: { each: bulkVerdict },
    refusals: ['input.invalid'],
    example: { text: 'booking.ternferry.test\ntides.ternferry.test' },
    input: ({ body }) => ({ body }),
  }),
  route({
    method: 'POST',
    path: '/offers',
    tag: TAG,
    summary: 'Try every way in which an address could be watched',
    does: cases.offerWatches,
    body: offerSchema,
    status: 200,
    answer: 'Offers: kind, settings, a name no other watch has, whether it answered and what came of it.',
    shape: { each: offer },
    refusals: ['input.invalid', 'engine.away'],
    example: { address: 'booking.ternferry.test' },
    input: ({ body }) => ({ body }),
  }),
];
