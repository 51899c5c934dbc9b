import type { IncomingHttpHeaders } from 'node:http';
import { cookieValue, SESSION_COOKIE } from '@/accounts/cookie';
import { hashSecret } from '@/accounts/secrets';
import { fetchSession, type Account } from '@/store/access/accounts';
import type { Db } from '@/store/db/connection';
import { acceptToken } from '@/store/access/tokens';

/** Who asks: somebody who signed in, or a program with a token. */
export type Principal =
  { type: 'account'; account: Account; sessionId: number } | { type: 'token'; tokenId: number };

type Credentials = Pick<IncomingHttpHeaders, 'authorization' | 'cookie'>;

/**
 * Who is behind a request; null for nobody. Where a token is sent it has to be a good one: a session beside it does
 * not help.
 */
export async function whoAsks(db: Db, credentials: Credentials, now: number): Promise<Principal | null> {
  const { authorization, cookie } = credentials;
  if (authorization !== undefined) {
    const token = /^Bearer\s+(\S{1,500})$/i.exec(authorization)?.[1];
    const tokenId = token ? await acceptToken(db, hashSecret(token), now) : null;
    return tokenId === null ? null : { type: 'token', tokenId };
  }
  const secret = cookieValue(cookie, SESSION_COOKIE);
  const session = secret ? await fetchSession(db, hashSecret(secret), now) : null;
  return session && { type: 'account', account: session.account, sessionId: session.id };
}
