import { newSecret } from '@/accounts/secrets';
import type { Db } from '@/store/db/connection';
import * as store from '@/store/pages/private-badges';
import { deletes } from '@/cases/frame/deletes';
import { orNotFound } from '@/cases/frame/find';
import { refused } from '@/cases/frame/refusal';
import { asks, changes, type Act } from '@/cases/frame/use-case';
import { validateBody } from '@/cases/frame/validate';
import { versionOf } from '@/cases/frame/version';
import { privateBadgeSchema } from '@/cases/schemas/private-badges';

async function found(db: Db, id: number): Promise<store.NamedBadge> {
  return store.withName(db, orNotFound(await store.fetchPrivateBadge(db, id), `private badge ${id}`));
}

/** Nothing of a badge is ever changed: it is made, and taken away. */
export const privateBadgeVersion = ({ id, secret }: store.PrivateBadge): string => versionOf([id, secret]);

const touched = ({ about }: Act, { id, name }: store.NamedBadge) =>
  about({ kind: 'private badge', id, name: name ?? '' });

export const listPrivateBadges = asks('listPrivateBadges', 'write', ({ db }, _: Record<string, never>) =>
  store.fetchNamedBadges(db),
);

export const getPrivateBadge = asks('getPrivateBadge', 'write', ({ db }, { id }: { id: number }) =>
  found(db, id),
);

export const createPrivateBadge = changes(
  'createPrivateBadge',
  'write',
  async ({ body }: { body: unknown }) => ({
    of: await validateBody<store.BadgeSubject>(privateBadgeSchema, body),
    secret: newSecret(),
  }),
  async (act, { of, secret }): Promise<store.NamedBadge> => {
    if ((await store.fetchBadgeName(act.trx, of)) === null) {
      const [field, id] = Object.entries<number | null>({ ...of }).find(([, value]) => value !== null)!;
      throw refused([{ field, message: `Expected one there is, got ${id}.` }]);
    }
    const id = await store.saveNewPrivateBadge(act.trx, { ...of, secret, madeAt: act.now });
    const made = await found(act.trx, id);
    touched(act, made);
    return made;
  },
);

export const deletePrivateBadge = deletes('deletePrivateBadge', 'write', {
  find: found,
  version: privateBadgeVersion,
  called: ({ name }) => `the badge of “${name ?? ''}”`,
  remove: store.deletePrivateBadge,
  touched,
});
