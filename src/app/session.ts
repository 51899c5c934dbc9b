import { cookies, headers } from 'next/headers';
import { redirect } from 'next/navigation';
import { SESSION_COOKIE } from '../accounts/cookie';
import { hashSecret } from '../accounts/secrets';
import { publicBase } from '../api/request';
import { requestTime } from '../server/clock';
import { serverContext } from '../server/context';
import { fetchSessionAccount, hasAccounts, type Account } from '../store/accounts';

/** The account that is signed in, or null. */
export async function currentAccount(): Promise<Account | null> {
  const token = (await cookies()).get(SESSION_COOKIE)?.value;
  return token ? fetchSessionAccount(serverContext().db, hashSecret(token), requestTime()) : null;
}

/** Sends whoever is not signed in to sign in, or to make the first account. */
export async function requireAccount(): Promise<Account> {
  const account = await currentAccount();
  if (account) return account;
  redirect((await hasAccounts(serverContext().db)) ? '/sign-in' : '/welcome');
}

/** The address under which the reader reached us. */
export async function requestBase(): Promise<string> {
  return publicBase(await headers(), serverContext().environment);
}
