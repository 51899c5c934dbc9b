import { cookies, headers } from 'next/headers';
import { redirect } from 'next/navigation';
import { cache } from 'react';
import { SESSION_COOKIE } from '@/accounts/cookie';
import { hashSecret } from '@/accounts/secrets';
import { isLocal, publicBase } from '@/api/request';
import { requestTime } from '@/server/base/clock';
import { serverContext } from '@/server/context';
import { fetchSession, hasAccounts, type Session } from '@/store/access/accounts';

/** The session of the request, or null; asked once for all that is drawn for it. */
const currentSession = cache(async (): Promise<Session | null> => {
  const token = (await cookies()).get(SESSION_COOKIE)?.value;
  return token ? fetchSession(serverContext().db, hashSecret(token), requestTime()) : null;
});

/**
 * Sends whoever is not signed in to sign in, or to make the first account. Every page of the desk asks this before it
 * reads anything: the layout around it is drawn beside it, not before it.
 */
export async function requireSession(): Promise<Session> {
  const session = await currentSession();
  if (session) return session;
  redirect((await hasAccounts(serverContext().db)) ? '/sign-in' : '/welcome');
}

/** Whether the reader sits at this machine itself. */
export async function isReaderHere(): Promise<boolean> {
  return isLocal(await headers(), serverContext().environment);
}

/** The address under which the reader reached us. */
export async function requestBase(): Promise<string> {
  return publicBase(await headers(), serverContext().environment);
}
