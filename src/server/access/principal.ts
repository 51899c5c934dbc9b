import type { IncomingHttpHeaders } from 'node:http';
import { cookieValue, SESSION_COOKIE } from '@/accounts/cookie';
import { hashSecret } from '@/accounts/secrets';
import type { Principal } from '@/cases/frame/principal';
import { RIGHTS, type Right } from '@/cases/frame/right';
import { fetchSession } from '@/store/access/accounts';
import type { Db } from '@/store/db/connection';
import { acceptToken } from '@/store/access/tokens';

/** Everybody there is has every right yet. */
const ALL: ReadonlySet<Right> = new Set(RIGHTS);

type Credentials = Pick<IncomingHttpHeaders, 'authorization' | 'cookie'>;

/**
 * Who is behind a request; null for nobody. Where a token is sent it has to be a good one: a session beside it does
 * not help.
 */
export async function whoAsks(db: Db, credentials: Credentials, now: number): Promise<Principal | null> {
  const { authorization, cookie } = credentials;
  if (authorization !== undefined) {
    const token = /^Bearer\s+(\S{1,500})$/i.exec(authorization)?.[1];
    const known = token ? await acceptToken(db, hashSecret(token), now) : null;
    return known && { type: 'token', tokenId: known.id, tokenName: known.name, rights: ALL };
  }
  const secret = cookieValue(cookie, SESSION_COOKIE);
  const session = secret ? await fetchSession(db, hashSecret(secret), now) : null;
  return session && { type: 'account', account: session.account, sessionId: session.id, rights: ALL };
}
