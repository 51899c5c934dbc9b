import { DAY_MS } from '@/core/time/units';
import type { Failures } from '@/core/limits/sign-in-throttle';
import type { Db } from '@/store/db/connection';

/** A client somebody signed in from is known for this long. */
const KNOWN_MS = 90 * DAY_MS;

/** Failed sign-ins since a time that concern a client or an account; older ones are forgotten for good. */
export async function fetchSignInFailures(
  db: Db,
  who: { email: string; client: string },
  since: number,
): Promise<Failures[]> {
  await db('sign_in_failures').where('last_at', '<', since).delete();
  return db('sign_in_failures')
    .where({ email: who.email })
    .orWhere({ client: who.client })
    .limit(10_000)
    .select('email', 'client', 'count', 'last_at as lastAt');
}

export async function saveSignInFailure(
  db: Db,
  { email, client, at }: { email: string; client: string; at: number },
): Promise<void> {
  await db.raw(
    `INSERT INTO sign_in_failures (email, client, count, last_at) VALUES (?, ?, 1, ?)
     ON CONFLICT (email, client) DO UPDATE SET count = count + 1, last_at = excluded.last_at`,
    [email, client, at],
  );
}

/** A sign-in that went well: this client's failures are forgotten, and it is known from here on. */
export async function saveSignIn(
  db: Db,
  { accountId, email, client, at }: { accountId: number; email: string; client: string; at: number },
): Promise<void> {
  await db('sign_in_failures').where({ email, client }).delete();
  await db('known_clients')
    .where('last_at', '<', at - KNOWN_MS)
    .delete();
  await db('known_clients')
    .insert({ account_id: accountId, client, last_at: at })
    .onConflict(['account_id', 'client'])
    .merge();
}

/** Whether somebody signed in to this account from this client before. */
export async function isKnownClient(db: Db, email: string, client: string, now: number): Promise<boolean> {
  const row = await db('known_clients')
    .join('accounts', 'accounts.id', 'known_clients.account_id')
    .where({ email, client })
    .andWhere('known_clients.last_at', '>', now - KNOWN_MS)
    .first('client');
  return row !== undefined;
}

/** Forgets the failures at an account, whoever they came from. */
export async function clearSignInFailures(db: Db, email: string): Promise<void> {
  await db('sign_in_failures').where({ email }).delete();
}
