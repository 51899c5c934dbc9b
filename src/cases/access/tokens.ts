import { hashSecret, newSecret } from '@/accounts/secrets';
import type { Deed } from '@/store/access/deeds';
import { fetchDeeds } from '@/store/access/deeds';
import { fetchTokens, revokeToken as revokeKept, saveToken, type ApiToken } from '@/store/access/tokens';
import type { ListPage } from '@/store/db/list-page';
import { byId } from '@/cases/frame/find';
import { asIs, asks, changes } from '@/cases/frame/use-case';
import { validateBody } from '@/cases/frame/validate';
import { tokenSchema } from '@/cases/schemas/messages';

export const listTokens = asks('listTokens', 'keep', ({ db }): Promise<ApiToken[]> => fetchTokens(db));

export const getToken = asks('getToken', 'keep', async ({ db }, { id }: { id: number }): Promise<ApiToken> =>
  byId(await fetchTokens(db), id, 'token'),
);

/** Makes a token; its secret is told this once. */
export const createToken = changes(
  'createToken',
  'keep',
  ({ body }: { body: unknown }) => validateBody<{ name: string }>(tokenSchema, body),
  async ({ trx, now, about }, { name }): Promise<ApiToken & { secret: string }> => {
    const secret = newSecret();
    const id = await saveToken(trx, { name, tokenHash: hashSecret(secret), createdAt: now });
    about({ kind: 'token', id, name });
    return { id, name, secret, createdAt: now, lastUsedAt: null };
  },
);

export const revokeToken = changes(
  'revokeToken',
  'keep',
  asIs<{ id: number }>,
  async ({ trx, now, about }, { id }): Promise<void> => {
    const { name } = byId(await fetchTokens(trx), id, 'token');
    await revokeKept(trx, id, now);
    about({ kind: 'token', id, name });
  },
);

/** Who changed what. */
export const listDeeds = asks('listDeeds', 'keep', ({ db }, { page }: { page: ListPage }): Promise<Deed[]> =>
  fetchDeeds(db, page),
);
