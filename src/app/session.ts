import { cookies, headers } from 'next/headers';
import { notFound, redirect } from 'next/navigation';
import { cache } from 'react';
import { SESSION_COOKIE } from '@/accounts/cookie';
import { isLocal, publicBase } from '@/api/request';
import { requestTime } from '@/server/base/clock';
import { serverContext } from '@/server/context';
import { whoAsks } from '@/server/access/principal';
import { hasAccounts } from '@/store/access/accounts';
import type { Principal } from '@/cases/frame/principal';
import type { Right } from '@/cases/frame/right';

type SignedIn = Extract<Principal, { type: 'account' }>;

/** Whoever is behind the session of the request, or null; asked once for all that is drawn for it. */
const currentReader = cache(async (): Promise<SignedIn | null> => {
  const token = (await cookies()).get(SESSION_COOKIE)?.value;
  const cookie = token === undefined ? undefined : `${SESSION_COOKIE}=${token}`;
  const who = await whoAsks(serverContext().db, { cookie }, requestTime());
  return who?.type === 'account' ? who : null;
});

/**
 * Who reads, with the right the page needs; whoever is not signed in is sent to sign in, or to make the first account.
 * Every page of the desk asks this before it reads anything: the layout around it is drawn beside it, not before it.
 */
export async function requireRight(right: Right): Promise<SignedIn> {
  const who = await currentReader();
  if (!who) redirect((await hasAccounts(serverContext().db)) ? '/sign-in' : '/welcome');
  if (!who.rights.has(right)) notFound();
  return who;
}

/** Whether the reader sits at this machine itself. */
export async function isReaderHere(): Promise<boolean> {
  return isLocal(await headers(), serverContext().environment);
}

/** The address under which the reader reached us. */
export async function requestBase(): Promise<string> {
  return publicBase(await headers(), serverContext().environment);
}
