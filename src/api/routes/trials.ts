import { causeSentence, type CauseCode } from '@/core/causes/causes';
import { uniqueName } from '@/core/settings/unique-name';
import { probeKinds } from '@/probes/kinds/registry';
import { fetchWatches } from '@/store/watches/watches';
import { notFound, refused } from '@/api/problem';
import type { Route } from '@/api/route';
import { judgeBulk } from '@/api/bulk';
import { bulkSchema, offerSchema, probeSchema } from '@/api/schemas/watch';
import { withoutSecrets } from '@/api/secret-settings';
import { findingShape } from '@/api/shapes';
import { validateBody } from '@/api/validate';
import { aroundOf, likeWatch, validWatch, watchBody } from './watch-calls';

/** What can be tried before anything is saved, through the code that will run it. */
export const trialRoutes: Route[] = [
  {
    method: 'POST',
    path: '/looks',
    tag: 'Watches',
    summary: 'Look once with settings that are not saved',
    body: watchBody,
    query: [{ name: 'watch', description: 'The watch whose secrets are meant by {"kept": true}.' }],
    status: 200,
    answer: 'The finding, with the phases of the look and what would count as failing.',
    handle: async (call) => {
      const { kind, config } = await validWatch(call, call.body, await likeWatch(call));
      if (config.type !== 'probe') {
        throw refused([{ field: 'kind', message: 'A check-in waits to hear; there is nothing to look at.' }]);
      }
      const finding = await call.context.engine.call('tryLook', { kind, config });
      const probe = probeKinds().find((k) => k.id === kind)!;
      return {
        ...findingShape(finding),
        settings: withoutSecrets(probe, config.settings),
        failsWhen: probe.verdictSentence(config.settings, config.timeout * 1000),
      };
    },
  },
  {
    method: 'POST',
    path: '/page-words',
    tag: 'Watches',
    summary: 'Fetch a page to choose words from, and doubt those that were chosen',
    body: probeSchema('web')!,
    query: [{ name: 'watch', description: 'The watch whose secrets are meant by {"kept": true}.' }],
    status: 200,
    answer:
      'The source and the visible text of the page, and why the words would be a weak test: reason, sentence and proof of each.',
    handle: async (call) => {
      const { config } = await validWatch(
        call,
        { ...(call.body as object), kind: 'web' },
        await likeWatch(call),
      );
      if (config.type !== 'probe') throw notFound('page');
      const { problem, ...page } = await call.context.engine.call('pageWords', { settings: config.settings });
      return { ...page, problem: problem && causeSentence(problem.cause as CauseCode, problem.detail) };
    },
  },
  {
    method: 'POST',
    path: '/bulk-drafts',
    tag: 'Watches',
    summary: 'Judge a pasted list of addresses, or CSV, line by line; nothing is made',
    body: bulkSchema,
    status: 200,
    answer: 'An array with one verdict a line: the body to make the watch with, or what is wrong.',
    handle: async (call) => {
      const { text } = await validateBody<{ text: string }>(bulkSchema, call.body);
      return judgeBulk(text, await aroundOf(call, null));
    },
  },
  {
    method: 'POST',
    path: '/offers',
    tag: 'Watches',
    summary: 'Try every way in which an address could be watched',
    body: offerSchema,
    status: 200,
    answer:
      'An array of offers: kind, settings, a name no other watch has, whether it answered and what came of it.',
    handle: async (call) => {
      const { address } = await validateBody<{ address: string }>(offerSchema, call.body);
      const offers = await call.context.engine.call('offer', { typed: address });
      const names = (await fetchWatches(call.context.db)).map((watch) => watch.name);
      return offers.map((offer) => {
        const name = uniqueName(offer.name, names);
        names.push(name);
        return { ...offer, name };
      });
    },
  },
];
