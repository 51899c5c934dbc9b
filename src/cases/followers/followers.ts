import { randomBytes } from 'node:crypto';
import {
  readMailbox,
  type FollowerChoice,
  type FollowerKind,
  type FollowerState,
} from '@/core/followers/follower';
import { readAddressList } from '@/core/followers/address-list';
import type { LetterFacts } from '@/core/followers/letter';
import type { Language } from '@/core/languages/language';
import { orNotFound } from '@/cases/frame/find';
import { refused } from '@/cases/frame/refusal';
import { asIs, asks, changes, type Act } from '@/cases/frame/use-case';
import { validateBody } from '@/cases/frame/validate';
import { foundPage } from '@/cases/pages/pages';
import { followerListSchema, followerSchema } from '@/cases/schemas/followers';
import type { Db } from '@/store/db/connection';
import type { ListPage } from '@/store/db/list-page';
import * as store from '@/store/followers/followers';
import { fetchLettersOf } from '@/store/followers/letters';
import { touchedFollower } from './visitors';

const MOST_FOLLOWERS = 20_000;

interface FollowerFilter {
  state?: FollowerState;
  kind?: FollowerKind;
  words?: string;
}

export const listFollowers = asks(
  'listFollowers',
  'operate',
  async ({ db }, { id, filter, page }: { id: number; filter: FollowerFilter; page: ListPage }) =>
    store.fetchFollowers(db, { pageId: (await foundPage(db, id)).id, ...filter }, page),
);

async function found(db: Db, id: number): Promise<store.Follower> {
  return orNotFound(await store.fetchFollower(db, id), `follower ${id}`);
}

/** Everything that is kept of one person. */
export interface WholeFollower {
  follower: store.Follower;
  letters: { facts: LetterFacts; state: string; at: number | null; said: string }[];
}

export const getFollower = asks(
  'getFollower',
  'operate',
  async ({ db }, { id }: { id: number }): Promise<WholeFollower> => ({
    follower: await found(db, id),
    letters: await fetchLettersOf(db, id),
  }),
);

interface FollowerBody extends FollowerChoice {
  kind: FollowerKind;
  address: string;
  language: Language;
  consent: string;
}

/** An address as it is kept; refused where it is none of its kind. */
function keptAddress(kind: FollowerKind, address: string): string {
  if (kind === 'mail') {
    const mailbox = readMailbox(address);
    if (mailbox !== null) return mailbox;
    const message = `Expected one mail address such as ines@ternferry.test, got "${address.slice(0, 80)}".`;
    throw refused([{ field: 'address', message }]);
  }
  const isWeb = URL.canParse(address) && /^https?:$/.test(new URL(address).protocol);
  if (isWeb) return new URL(address).href;
  const message = 'Expected an address such as https://crew.ternferry.test/events.';
  throw refused([{ field: 'address', message }]);
}

async function refuseTooMany(db: Db, pageId: number, more: number): Promise<void> {
  const counts = (await store.countFollowers(db, [pageId])).get(pageId)!;
  const all = counts.asked + counts.follows + counts.aside;
  if (all + more > MOST_FOLLOWERS) {
    const message = `Expected at most ${MOST_FOLLOWERS} followers of a page, there are ${all}.`;
    throw refused([{ field: 'list', message }]);
  }
}

/** Somebody who follows, and what their events are signed with: shown once. */
export interface MadeFollower extends WholeFollower {
  id: number;
  secret: string | null;
}

/** Adds somebody who said so elsewhere; how that is known is kept. */
export const addFollower = changes(
  'addFollower',
  'operate',
  asIs<{ id: number; body: unknown }>,
  async (act, { id: pageId, body }): Promise<MadeFollower> => {
    const { trx, now, world } = act;
    const page = await foundPage(trx, pageId);
    const { kind, labels, maintenance, language, consent, ...sent } = await validateBody<FollowerBody>(
      followerSchema,
      body,
    );
    const address = keptAddress(kind, sent.address);
    await refuseTooMany(trx, pageId, 1);
    if (await store.fetchFollowerAt(trx, pageId, kind, address)) {
      throw refused([{ field: 'address', message: 'Expected an address that does not follow yet.' }]);
    }
    const secret = kind === 'webhook' ? `whsec_${randomBytes(24).toString('base64')}` : null;
    const id = await store.saveNewFollower(trx, {
      ...{ pageId, kind, address, choice: { labels, maintenance }, language, consent, state: 'follows' },
      secret: secret && world.vault.seal(secret),
      ...{ madeAt: now, askedAt: null, confirmedAt: now },
    });
    touchedFollower(act, id, page.title);
    return { id, secret, follower: await found(trx, id), letters: [] };
  },
);

export interface ImportReport {
  added: number;
  /** They follow already, or stand twice in the list. */
  known: number;
  refused: { line: number; text: string }[];
}

/** Adds many mail addresses that said so elsewhere. */
export const importFollowers = changes(
  'importFollowers',
  'operate',
  asIs<{ id: number; body: unknown }>,
  async (act: Act, { id: pageId, body }): Promise<ImportReport> => {
    const { trx, now } = act;
    const page = await foundPage(trx, pageId);
    const sent = await validateBody<{ list: string; consent: string; language: Language }>(
      followerListSchema,
      body,
    );
    const { addresses, refused: not } = readAddressList(sent.list);
    await refuseTooMany(trx, pageId, addresses.length);
    let added = 0;
    for (const address of addresses) {
      if (await store.fetchFollowerAt(trx, pageId, 'mail', address)) continue;
      await store.saveNewFollower(trx, {
        ...{ pageId, kind: 'mail', address, secret: null, choice: { labels: null, maintenance: true } },
        ...{ language: sent.language, state: 'follows', consent: sent.consent },
        ...{ madeAt: now, askedAt: null, confirmedAt: now },
      });
      added += 1;
    }
    touchedFollower(act, null, page.title);
    return { added, known: addresses.length - added, refused: not };
  },
);

/** Somebody who was put aside is told again. */
export const wakeFollower = changes(
  'wakeFollower',
  'operate',
  asIs<{ id: number }>,
  async (act, { id }): Promise<WholeFollower> => {
    const follower = await found(act.trx, id);
    if (follower.state === 'aside') {
      await store.saveFollows(act.trx, id, follower.consent, follower.confirmedAt ?? act.now);
    }
    touchedFollower(act, id, (await foundPage(act.trx, follower.pageId)).title);
    return { follower: await found(act.trx, id), letters: await fetchLettersOf(act.trx, id) };
  },
);

/** Erases somebody, and everything kept of them. */
export const deleteFollower = changes(
  'deleteFollower',
  'operate',
  asIs<{ id: number }>,
  async (act, { id }): Promise<void> => {
    const { pageId } = await found(act.trx, id);
    await store.deleteFollower(act.trx, id);
    touchedFollower(act, id, (await foundPage(act.trx, pageId)).title);
  },
);
