import type { Db } from './connection';

export interface ApiToken {
  id: number;
  name: string;
  createdAt: number;
  lastUsedAt: number | null;
}

export async function fetchTokens(db: Db): Promise<ApiToken[]> {
  const rows = await db('api_tokens').orderBy('id');
  return rows.map((row) => ({
    id: row.id,
    name: row.name,
    createdAt: row.created_at,
    lastUsedAt: row.last_used_at,
  }));
}

/** Keeps a token by its hash; saving the same one again changes nothing. */
export async function saveToken(
  db: Db,
  token: { name: string; tokenHash: string; createdAt: number },
): Promise<void> {
  await db('api_tokens')
    .insert({ name: token.name, token_hash: token.tokenHash, created_at: token.createdAt })
    .onConflict('token_hash')
    .ignore();
}

const TOUCH_EVERY_MS = 60_000;

/** Whether the token is known; notes its use, at most once a minute. */
export async function acceptToken(db: Db, tokenHash: string, now: number): Promise<boolean> {
  const row = await db('api_tokens').where({ token_hash: tokenHash }).first('id', 'last_used_at');
  if (!row) return false;
  if (row.last_used_at === null || now - row.last_used_at > TOUCH_EVERY_MS) {
    await db('api_tokens').where({ id: row.id }).update({ last_used_at: now });
  }
  return true;
}

export async function deleteToken(db: Db, id: number): Promise<boolean> {
  return (await db('api_tokens').where({ id }).delete()) > 0;
}
