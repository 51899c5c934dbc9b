import type { Db } from '@/store/db/connection';

export interface ApiToken {
  id: number;
  name: string;
  createdAt: number;
  lastUsedAt: number | null;
}

export async function fetchTokens(db: Db): Promise<ApiToken[]> {
  const rows = await db('api_tokens').whereNull('revoked_at').orderBy('id');
  return rows.map((row) => ({
    id: row.id,
    name: row.name,
    createdAt: row.created_at,
    lastUsedAt: row.last_used_at,
  }));
}

/**
 * Keeps a token by its hash, and answers its id; saving the same one again changes nothing, and brings none back that
 * was revoked.
 */
export async function saveToken(
  db: Db,
  token: { name: string; tokenHash: string; createdAt: number },
): Promise<number> {
  await db('api_tokens')
    .insert({ name: token.name, token_hash: token.tokenHash, created_at: token.createdAt })
    .onConflict('token_hash')
    .ignore();
  const [id] = await db('api_tokens').where({ token_hash: token.tokenHash }).pluck('id');
  return id!;
}

const TOUCH_EVERY_MS = 60_000;

/** A token that is known and was not revoked, else null; notes its use, at most once a minute. */
export async function acceptToken(
  db: Db,
  tokenHash: string,
  now: number,
): Promise<{ id: number; name: string } | null> {
  const row = await db('api_tokens')
    .where({ token_hash: tokenHash })
    .whereNull('revoked_at')
    .first('id', 'name', 'last_used_at');
  if (!row) return null;
  if (row.last_used_at === null || now - row.last_used_at > TOUCH_EVERY_MS) {
    await db('api_tokens').where({ id: row.id }).update({ last_used_at: now });
  }
  return { id: row.id, name: row.name };
}

export async function isRevoked(db: Db, tokenHash: string): Promise<boolean> {
  const row = await db('api_tokens').where({ token_hash: tokenHash }).first('revoked_at');
  return row !== undefined && row.revoked_at !== null;
}

/** Revokes a token. Its hash stays, so that one the environment names is not taken for a new one at the next start. */
export async function revokeToken(db: Db, id: number, now: number): Promise<boolean> {
  return (await db('api_tokens').where({ id }).whereNull('revoked_at').update({ revoked_at: now })) > 0;
}
