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
import type { Route } from '@/api/route';
import { findingShape } from '@/api/shapes';
import { actRoute } from './resource';
import { likeOf, likeQuery, watchBody } from './watches';

const TAG = 'Trying';

/** What can be tried before anything is saved, through the code that will run it. */
export const lookRoutes: Route[] = [
  actRoute(TAG, '/watches/{id}/look', {
    summary: 'Look now',
    does: cases.lookNow,
    query: object({ afresh: flagQuery('True takes what is found now as what it is compared with.') }),
    answer: 'The finding.',
    shape: finding,
    refusals: ['watch.no-probe', 'watch.paused', 'engine.away'],
    input: ({ ids, query }) => ({ id: ids.id!, afresh: query.afresh === 'true' }),
    tell: (_, out) => findingShape(out),
  }),
  actRoute(TAG, '/looks', {
    summary: 'Look once with settings that are not saved',
    does: cases.tryLook,
    body: watchBody,
    query: likeQuery,
    answer: 'The finding, and what would count as failing.',
    shape: trial,
    refusals: ['engine.away'],
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
  actRoute(TAG, '/page-words', {
    summary: 'Fetch a page to choose words from, and doubt those that were chosen',
    does: cases.readPageWords,
    body: probeSchema('web')!,
    query: likeQuery,
    answer: 'The source and the visible text of the page, and why the words would be a weak test.',
    shape: pageWords,
    refusals: ['engine.away'],
    example: { kind: 'web', settings: { address: 'booking.ternferry.test' } },
    input: (call) => ({ body: call.body, ...likeOf(call) }),
    tell: (_, { problem, ...page }) => ({
      ...page,
      problem: problem && causeSentence(problem.cause as CauseCode, problem.detail),
    }),
  }),
  actRoute(TAG, '/bulk-drafts', {
    summary: 'Judge a pasted list of addresses, or CSV, line by line',
    description: 'Nothing is made.',
    does: cases.draftBulk,
    body: bulkSchema,
    answer: 'One verdict a line: the body to make the watch with, or what is wrong.',
    shape: { each: bulkVerdict },
    example: { text: 'booking.ternferry.test\ntides.ternferry.test' },
    input: ({ body }) => ({ body }),
  }),
  actRoute(TAG, '/offers', {
    summary: 'Try every way in which an address could be watched',
    does: cases.offerWatches,
    body: offerSchema,
    answer: 'Offers: kind, settings, a name no other watch has, whether it answered and what came of it.',
    shape: { each: offer },
    refusals: ['engine.away'],
    example: { address: 'booking.ternferry.test' },
    input: ({ body }) => ({ body }),
  }),
];
