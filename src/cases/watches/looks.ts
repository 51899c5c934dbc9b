import type { Finding } from '@/core/causes/finding';
import type { ProbeConfig } from '@/core/settings/watch-config';
import { stemOf, uniqueName } from '@/core/settings/unique-name';
import type { Offer } from '@/core/settings/offer';
import type { PageWords } from '@/probes/diagnosis/page-words';
import { fetchNamesFrom } from '@/store/watches/tied';
import { fetchWatches } from '@/store/watches/watches';
import { notFound, Refusal, refused } from '@/cases/frame/refusal';
import { asks } from '@/cases/frame/use-case';
import { validateBody } from '@/cases/frame/validate';
import { bulkSchema, offerSchema } from '@/cases/schemas/watch';
import { aroundOf, foundWatch, likeWatch } from './around';
import { judgeBulk } from './bulk-drafts';
import { validateWatch } from './valid-watch';
import type { BulkVerdict } from '@/core/imports/bulk-verdict';

/** What can be tried before anything is saved, through the code that will run it. */
export const lookNow = asks(
  'lookNow',
  'operate',
  async ({ db, world }, { id, afresh }: { id: number; afresh: boolean }): Promise<Finding> => {
    const watch = await foundWatch(db, id);
    if (watch.config.type !== 'probe') {
      throw new Refusal('watch.no-probe', 'A check-in watch waits to hear; nothing can be looked at.');
    }
    if (watch.paused) {
      throw new Refusal('watch.paused', 'This watch is paused. End the pause to look at it.');
    }
    return world.engine.call('lookNow', { watchId: id, afresh });
  },
);

export interface Trial {
  finding: Finding;
  kind: string;
  config: ProbeConfig;
}

export const tryLook = asks(
  'tryLook',
  'operate',
  async ({ db, world }, { body, like }: { body: unknown; like?: number }): Promise<Trial> => {
    const around = await aroundOf(db, world.vault, null, await likeWatch(db, like));
    const { kind, config } = await validateWatch(body, around);
    if (config.type !== 'probe') {
      throw refused([{ field: 'kind', message: 'A check-in waits to hear; there is nothing to look at.' }]);
    }
    return { kind, config, finding: await world.engine.call('tryLook', { kind, config }) };
  },
);

export const readPageWords = asks(
  'readPageWords',
  'operate',
  async ({ db, world }, { body, like }: { body: unknown; like?: number }): Promise<PageWords> => {
    const around = await aroundOf(db, world.vault, null, await likeWatch(db, like));
    const { config } = await validateWatch({ ...(body as object), kind: 'web' }, around);
    if (config.type !== 'probe') throw notFound('page');
    return world.engine.call('pageWords', { settings: config.settings });
  },
);

export const draftBulk = asks(
  'draftBulk',
  'operate',
  async ({ db, world }, { body }: { body: unknown }): Promise<BulkVerdict[]> => {
    const { text } = await validateBody<{ text: string }>(bulkSchema, body);
    return judgeBulk(text, await aroundOf(db, world.vault, null), await fetchWatches(db));
  },
);

export const offerWatches = asks(
  'offerWatches',
  'operate',
  async ({ db, world }, { body }: { body: unknown }): Promise<Offer[]> => {
    const { address } = await validateBody<{ address: string }>(offerSchema, body);
    const offers = await world.engine.call('offer', { typed: address });
    const taken: string[] = [];
    const named: Offer[] = [];
    for (const offer of offers) {
      const name = uniqueName(offer.name, [...taken, ...(await fetchNamesFrom(db, stemOf(offer.name)))]);
      taken.push(name);
      named.push({ ...offer, name });
    }
    return named;
  },
);
