import { timingSafeEqual } from 'node:crypto';
import { cookieValue, SESSION_COOKIE, SESSION_MS } from '@/accounts/cookie';
import { hashPassword, isPassword } from '@/accounts/passwords';
import { hashSecret, newSecret } from '@/accounts/secrets';
import { FORGET_FAILURES_MS, signInWaitMs, throttledClient } from '@/core/limits/sign-in-throttle';
import { formatDuration } from '@/core/time/duration';
import type { ServerContext } from '@/server/context';
import {
  deleteSession,
  fetchAccountByEmail,
  hasAccounts,
  saveAccount,
  saveSession,
  type Account,
} from '@/store/access/accounts';
import { fetchSignInFailures, isKnownClient, saveSignIn, saveSignInFailure } from '@/store/access/sign-ins';
import { Refusal, refused } from '@/cases/frame/refusal';
import { clientOf, isLocal, isSecure, readJson, refuseCrossSite } from './request';
import { firstAccountSchema, signInSchema } from '@/cases/schemas/account';
import { asResponse } from './dispatch';
import { validateBody } from '@/cases/frame/validate';

interface Credentials {
  email: string;
  password: string;
  code?: string;
}

function cookie(value: string, maxAgeSeconds: number, isEncrypted: boolean): string {
  const secure = isEncrypted ? '; Secure' : '';
  return `${SESSION_COOKIE}=${value}; Path=/; HttpOnly; SameSite=Lax; Max-Age=${maxAgeSeconds}${secure}`;
}

async function openSession(request: Request, context: ServerContext, account: Account): Promise<Response> {
  const now = Date.now();
  const token = newSecret();
  const { headers } = request;
  const client = clientOf(headers);
  await saveSession(context.db, {
    tokenHash: hashSecret(token),
    accountId: account.id,
    createdAt: now,
    expiresAt: now + SESSION_MS,
    client,
    agent: (headers.get('user-agent') ?? '').slice(0, 200),
  });
  const known = { accountId: account.id, email: account.email, client: throttledClient(client), at: now };
  await saveSignIn(context.db, known);
  const encrypted = isSecure(headers, context.environment);
  return new Response(null, {
    status: 204,
    headers: { 'set-cookie': cookie(token, SESSION_MS / 1000, encrypted) },
  });
}

/** Compares what was typed with a secret in a time that tells nothing of it. */
function isSame(typed: string, secret: string): boolean {
  return timingSafeEqual(Buffer.from(hashSecret(typed)), Buffer.from(hashSecret(secret)));
}

/**
 * Makes the first account and signs it in; refused once there is one. Who is not at this machine has to know the code
 * that was printed at the start: else whoever comes first would own the place.
 */
export function makeFirstAccount(request: Request, context: ServerContext): Promise<Response> {
  const refuseSecond = async () => {
    if (await hasAccounts(context.db)) {
      throw new Refusal('account.exists', 'There is an account already. Sign in instead.');
    }
  };
  return asResponse('sign-in: first account', async () => {
    refuseCrossSite(request);
    // Before anything that takes time: this door stays open to everybody for good.
    await refuseSecond();
    const valid = await validateBody<Credentials>(firstAccountSchema, await readJson(request));
    const typed = (valid.code ?? '').trim().toLowerCase();
    if (!isLocal(request.headers, context.environment) && !isSame(typed, context.firstCode)) {
      const message =
        typed === ''
          ? 'Expected the code that was printed where Calm Lantern was started, got nothing.'
          : 'This is not the code that was printed at the last start.';
      throw refused([{ field: 'code', message }]);
    }
    const passwordHash = await hashPassword(valid.password);
    await refuseSecond();
    const account = await saveAccount(context.db, {
      email: valid.email,
      passwordHash,
      createdAt: Date.now(),
    });
    return openSession(request, context, account);
  });
}

/** A hash nobody has the password of, so that an unknown address takes as long as a known one. */
let decoy: Promise<string> | null = null;

/** Refuses a try that comes too soon after others; it is counted before the password is worked out. */
export async function throttleSignIn(headers: Headers, context: ServerContext, email: string): Promise<void> {
  const { db } = context;
  const now = Date.now();
  const client = throttledClient(clientOf(headers));
  const failures = await fetchSignInFailures(db, { email, client }, now - FORGET_FAILURES_MS);
  const known = await isKnownClient(db, email, client, now);
  const waitMs = signInWaitMs(failures, { email, client, known }, now);
  if (waitMs > 0) {
    const seconds = Math.ceil(waitMs / 1000);
    const detail = `Too many tries. Wait ${formatDuration(seconds * 1000)}, then try again.`;
    throw new Refusal('signin.throttled', detail, [], seconds);
  }
  // Many tries at once do not slip through between counting and knowing.
  await saveSignInFailure(db, { email, client, at: now });
}

/** Signs in. After some failures each further try has to wait. */
export function signIn(request: Request, context: ServerContext): Promise<Response> {
  return asResponse('sign-in', async () => {
    refuseCrossSite(request);
    const valid = await validateBody<Credentials>(signInSchema, await readJson(request));
    await throttleSignIn(request.headers, context, valid.email.toLowerCase());
    const account = await fetchAccountByEmail(context.db, valid.email);
    decoy ??= hashPassword(newSecret());
    const right = await isPassword(valid.password, account?.passwordHash ?? (await decoy));
    if (!account || !right) {
      throw refused([
        { field: 'password', message: 'This e-mail address and password do not belong together.' },
      ]);
    }
    return openSession(request, context, account);
  });
}

/** Signs out: the session ends, here and for whoever else may have its cookie. */
export function signOut(request: Request, context: ServerContext): Promise<Response> {
  return asResponse('sign-out', async () => {
    refuseCrossSite(request);
    const token = cookieValue(request.headers.get('cookie'), SESSION_COOKIE);
    if (token) await deleteSession(context.db, hashSecret(token));
    const encrypted = isSecure(request.headers, context.environment);
    return new Response(null, { status: 204, headers: { 'set-cookie': cookie('', 0, encrypted) } });
  });
}
