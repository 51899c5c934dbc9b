import type { Db } from './connection';

export interface Account {
  id: number;
  email: string;
}

export async function hasAccounts(db: Db): Promise<boolean> {
  return (await db('accounts').first('id')) !== undefined;
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

export async function saveSession(
  db: Db,
  session: { tokenHash: string; accountId: number; createdAt: number; expiresAt: number },
): Promise<void> {
  await db('sessions').where('expires_at', '<', session.createdAt).delete();
  await db('sessions').insert({
    token_hash: session.tokenHash,
    account_id: session.accountId,
    created_at: session.createdAt,
    expires_at: session.expiresAt,
  });
}

export async function fetchSessionAccount(db: Db, tokenHash: string, now: number): Promise<Account | null> {
  const row = await db('sessions')
    .join('accounts', 'accounts.id', 'sessions.account_id')
    .where('sessions.token_hash', tokenHash)
    .andWhere('sessions.expires_at', '>', now)
    .first('accounts.id', 'accounts.email');
  return row ?? null;
}

export async function deleteSession(db: Db, tokenHash: string): Promise<void> {
  await db('sessions').where({ token_hash: tokenHash }).delete();
}

export interface SignInFailures {
  count: number;
  lastAt: number;
}

export async function fetchSignInFailures(db: Db, subject: string): Promise<SignInFailures | null> {
  const row = await db('sign_in_failures').where({ subject }).first();
  return row ? { count: row.count, lastAt: row.last_at } : null;
}

export async function saveSignInFailures(db: Db, subject: string, failures: SignInFailures): Promise<void> {
  await db('sign_in_failures')
    .insert({ subject, count: failures.count, last_at: failures.lastAt })
    .onConflict('subject')
    .merge();
}

export async function clearSignInFailures(db: Db, subject: string): Promise<void> {
  await db('sign_in_failures').where({ subject }).delete();
}
