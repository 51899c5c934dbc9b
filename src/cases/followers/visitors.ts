import { readMailbox, type FollowerChoice } from '@/core/followers/follower';
import type { Language } from '@/core/languages/language';
import { DAY_MS, HOUR_MS } from '@/core/time/units';
import type { Principal } from '@/cases/frame/principal';
import { refused, Refusal } from '@/cases/frame/refusal';
import { changes, type Act } from '@/cases/frame/use-case';
import { validateBody } from '@/cases/frame/validate';
import type { World } from '@/cases/frame/world';
import { foundPage } from '@/cases/pages/pages';
import { readPushAddress, type PushSubscription } from '@/core/followers/push-address';
import { askSchema, followLinkSchema, pushEndSchema, pushSchema } from '@/cases/schemas/followers';
import type { Db } from '@/store/db/connection';
import { readFollowLink, type LinkPurpose } from '@/store/followers/follow-links';
import * as store from '@/store/followers/followers';
import { saveLetterTo } from '@/store/followers/letters';
import { ensureTakeKey } from '@/store/messages/take-links';

/** What visitors of a page may do about being told. What they are called is kept with them alone. */
export const VISITOR: Principal = {
  type: 'link',
  name: 'a visitor of a public page',
  rights: new Set(['operate']),
};

/** Nobody is asked more often: a form must not fill a stranger's mailbox. */
const ASKED_EVERY_MS = DAY_MS;
/** So many who have not said yes are asked an hour for one page. */
const MOST_ASKED_AN_HOUR = 60;

interface AskBody extends FollowerChoice {
  mail: string;
  language: Language;
}

/** Wakes whoever sends, and notes what was done without saying to whom. */
export function touchedFollower({ about, afterwards, world }: Act, id: number | null, page: string): void {
  about({ kind: 'follower', id, name: page });
  afterwards(() => world.engine.call('lettersChanged', {}).catch(() => undefined));
}

/**
 * Asks a mailbox whether it wants to be told. Whoever types an address learns nothing of it: it is the same whether it
 * follows already or not.
 */
export const askToFollow = changes(
  'askToFollow',
  'operate',
  async ({ pageId, body }: { pageId: number; body: unknown }) => ({
    pageId,
    sent: await validateBody<AskBody>(askSchema, body),
  }),
  async (act, { pageId, sent }): Promise<void> => {
    const { trx, now } = act;
    const page = await foundPage(trx, pageId);
    if (!page.follow) throw new Refusal('not.found', 'Nobody can follow this page by mail.');
    const address = readMailbox(sent.mail);
    if (address === null) {
      throw refused([{ field: 'mail', message: 'Expected one mail address such as ines@ternferry.test.' }]);
    }
    const { labels, maintenance, language } = sent;
    const choice = { labels, maintenance };
    const known = await store.fetchFollowerAt(trx, pageId, 'mail', address);
    // A clock that was set back asks once more.
    if (known?.askedAt && known.askedAt <= now && now - known.askedAt < ASKED_EVERY_MS) return;
    if ((await store.countAsked(trx, pageId, now - HOUR_MS)) >= MOST_ASKED_AN_HOUR) {
      throw new Refusal('follow.busy', 'Too many have asked just now. Please try again in a while.');
    }
    const follows = known?.state === 'follows';
    if (known) {
      // What somebody hears of is theirs to change, and not of whoever types their address.
      await store.saveAskedAgain(trx, known.id, { choice: follows ? null : choice, language, at: now });
    }
    const id =
      known?.id ??
      (await store.saveNewFollower(trx, {
        ...{ pageId, kind: 'mail', address, secret: null, choice, language, state: 'asked', consent: '' },
        ...{ madeAt: now, askedAt: now, confirmedAt: null },
      }));
    await saveLetterTo(trx, { id, pageId }, { kind: follows ? 'again' : 'confirm' }, now);
    touchedFollower(act, id, page.title);
  },
);

/** So many browsers are told of one page. */
const MOST_BROWSERS = 20_000;

interface PushBody extends FollowerChoice, PushSubscription {
  language: Language;
}

/** Tells a browser from then on; whoever says where it is pushed to was asked by it. */
export const followByPush = changes(
  'followByPush',
  'operate',
  async ({ pageId, body }: { pageId: number; body: unknown }, { world }) => {
    const sent = await validateBody<PushBody>(pushSchema, body);
    const address = readPushAddress(sent.endpoint, { near: world.nearPushes });
    if (address === null) {
      throw refused([
        { field: 'endpoint', message: 'Expected the address of a push service on the open web.' },
      ]);
    }
    return { pageId, sent, address };
  },
  async (act, { pageId, sent, address }): Promise<void> => {
    const { trx, now, world } = act;
    const page = await foundPage(trx, pageId);
    if (!page.pushes) throw new Refusal('not.found', 'Nobody is told of this page in a browser.');
    const { labels, maintenance, language, p256dh, auth } = sent;
    const known = await store.fetchFollowerAt(trx, pageId, 'push', address);
    // The keys of a browser belong to its address: whoever comes with others has made it anew.
    if (known) await store.deleteFollower(trx, known.id);
    if ((await store.countBrowsers(trx, pageId)) >= MOST_BROWSERS) {
      throw new Refusal('follow.busy', 'Too many browsers are told of this page already.');
    }
    const id = await store.saveNewFollower(trx, {
      ...{ pageId, kind: 'push', address, choice: { labels, maintenance }, language, state: 'follows' },
      secret: world.vault.seal(JSON.stringify({ p256dh, auth })),
      ...{ consent: 'said yes in the browser', madeAt: now, askedAt: null, confirmedAt: now },
    });
    touchedFollower(act, id, page.title);
  },
);

/** Ends it for a browser; whoever knows its address is that browser. */
export const endPush = changes(
  'endPush',
  'operate',
  async ({ pageId, body }: { pageId: number; body: unknown }) => ({
    pageId,
    sent: await validateBody<{ endpoint: string }>(pushEndSchema, body),
  }),
  async (act, { pageId, sent }): Promise<void> => {
    const page = await foundPage(act.trx, pageId);
    const known = await store.fetchFollowerAt(act.trx, pageId, 'push', sent.endpoint);
    if (!known) return;
    await store.deleteFollower(act.trx, known.id);
    touchedFollower(act, known.id, page.title);
  },
);

/** Whom a link in a letter is for; null where it is good no more. */
export async function fetchLinked(
  db: Db,
  world: Pick<World, 'vault'>,
  purpose: LinkPurpose,
  token: string,
): Promise<store.Follower | null> {
  const link = readFollowLink(purpose, token, await ensureTakeKey(db, world.vault));
  const follower = link && (await store.fetchFollower(db, link.id));
  return follower && follower.mark === link.mark ? follower : null;
}

/** Something the holder of a link does. */
function linked(
  name: string,
  purpose: LinkPurpose,
  run: (act: Act, follower: store.Follower, choice: FollowerChoice | null) => Promise<void>,
) {
  return changes(
    name,
    'operate',
    ({ body }: { body: unknown }) =>
      validateBody<{ token: string; choice: FollowerChoice | null }>(followLinkSchema, body),
    async (act, { token, choice }): Promise<void> => {
      const follower = await fetchLinked(act.trx, act.world, purpose, token);
      if (!follower) throw new Refusal('link.over', 'This link is good no more.');
      await run(act, follower, choice);
      touchedFollower(act, follower.id, (await foundPage(act.trx, follower.pageId)).title);
    },
  );
}

/** Says that a mailbox wants to be told: whoever holds the link got the mail that asked. */
export const confirmFollowing = linked('confirmFollowing', 'yes', ({ trx, now }, { id }) =>
  store.saveFollows(trx, id, 'said yes by the link in a mail', now),
);

/** Changes what one hears of. */
export const chooseFollowing = linked('chooseFollowing', 'own', async ({ trx }, { id }, choice) => {
  if (choice) await store.saveChoice(trx, id, choice);
});

/** Ends it, and erases what was kept of whoever followed. */
export const endFollowing = linked('endFollowing', 'off', ({ trx }, { id }) => store.deleteFollower(trx, id));
