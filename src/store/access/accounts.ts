import { DAY_MS } from '@/core/time/units';
import type { Db } from '@/store/db/connection';
import type { AccountRow, SessionRow } from '@/store/db/tables';

export interface Account {
  id: number;
  email: string;
}

export async function hasAccounts(db: Db): Promise<boolean> {
  return (await db('accounts').first('id')) !== undefined;
}

/** The addresses accounts go by, the first that was made first. */
export function fetchAddresses(db: Db): Promise<string[]> {
  return db('accounts').orderBy('id').pluck('email');
}

export async function saveAccount(
  db: Db,
  account: { email: string; passwordHash: string; createdAt: number },
): Promise<Account> {
  const email = account.email.trim().toLowerCase();
  const [id] = await db('accounts').insert({
    email,
    password_hash: account.passwordHash,
    created_at: account.createdAt,
  });
  return { id: id!, email };
}

export async function fetchAccountByEmail(
  db: Db,
  email: string,
): Promise<(Account & { passwordHash: string }) | null> {
  const row = await db('accounts').where({ email: email.trim().toLowerCase() }).first();
  return row ? { id: row.id, email: row.email, passwordHash: row.password_hash } : null;
}

/** So long after its last use a session ends by itself, whatever its age. */
export const IDLE_MS = 7 * DAY_MS;
const TOUCH_EVERY_MS = 60_000;

export interface Session {
  id: number;
  account: Account;
}

export async function saveSession(
  db: Db,
  session: {
    tokenHash: string;
    accountId: number;
    createdAt: number;
    expiresAt: number;
    client: string;
    agent: string;
  },
): Promise<void> {
  const { createdAt } = session;
  await db('sessions')
    .where('expires_at', '<', createdAt)
    .orWhere('used_at', '<', createdAt - IDLE_MS)
    .delete();
  await db('sessions').insert({
    token_hash: session.tokenHash,
    account_id: session.accountId,
    created_at: createdAt,
    expires_at: session.expiresAt,
    used_at: createdAt,
    client: session.client,
    agent: session.agent,
  });
}

/** The session a secret opens, while it lasts; notes its use, at most once a minute. */
export async function fetchSession(db: Db, tokenHash: string, now: number): Promise<Session | null> {
  const row = await db('sessions')
    .join('accounts', 'accounts.id', 'sessions.account_id')
    .where('sessions.token_hash', tokenHash)
    .andWhere('sessions.expires_at', '>', now)
    .andWhere('sessions.used_at', '>', now - IDLE_MS)
    .first<(Pick<SessionRow, 'id' | 'used_at' | 'account_id'> & Pick<AccountRow, 'email'>) | undefined>(
      'sessions.id',
      'sessions.used_at',
      'accounts.id as account_id',
      'accounts.email',
    );
  if (!row) return null;
  if (now - row.used_at > TOUCH_EVERY_MS) {
    await db('sessions').where({ id: row.id }).update({ used_at: now });
  }
  return { id: row.id, account: { id: row.account_id, email: row.email } };
}

export interface OpenSession {
  id: number;
  createdAt: number;
  usedAt: number;
  client: string;
  agent: string;
}

/** Where an account is signed in, the one used last first. */
export async function fetchSessions(db: Db, accountId: number, now: number): Promise<OpenSession[]> {
  return db('sessions')
    .where({ account_id: accountId })
    .andWhere('expires_at', '>', now)
    .andWhere('used_at', '>', now - IDLE_MS)
    .orderBy('used_at', 'desc')
    .limit(200)
    .select('id', 'created_at as createdAt', 'used_at as usedAt', 'client', 'agent');
}

export async function deleteSession(db: Db, tokenHash: string): Promise<void> {
  await db('sessions').where({ token_hash: tokenHash }).delete();
}

/** Ends one session of an account; whether there was one. */
export async function endSession(db: Db, accountId: number, id: number): Promise<boolean> {
  return (await db('sessions').where({ id, account_id: accountId }).delete()) > 0;
}

/** Ends all sessions of an account but one. */
export async function endOtherSessions(db: Db, accountId: number, but: number | null): Promise<number> {
  const query = db('sessions').where({ account_id: accountId });
  if (but !== null) query.whereNot({ id: but });
  return query.delete();
}

export async function saveAccountChange(
  db: Db,
  id: number,
  change: { email?: string; passwordHash?: string },
): Promise<void> {
  await db('accounts')
    .where({ id })
    .update({
      ...(change.email !== undefined && { email: change.email.trim().toLowerCase() }),
      ...(change.passwordHash !== undefined && { password_hash: change.passwordHash }),
    });
}
