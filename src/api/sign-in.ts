import { string } from 'yup';
import { cookieValue, SESSION_COOKIE, SESSION_MS } from '../accounts/cookie';
import { hashPassword, isPassword } from '../accounts/passwords';
import { hashSecret, newSecret } from '../accounts/secrets';
import { signInWaitMs } from '../core/sign-in-throttle';
import { formatDuration } from '../core/duration';
import type { ServerContext } from '../server/context';
import {
  clearSignInFailures,
  deleteSession,
  fetchAccountByEmail,
  fetchSignInFailures,
  hasAccounts,
  saveAccount,
  saveSession,
  saveSignInFailures,
} from '../store/accounts';
import { Problem, refused } from './problem';
import { clientOf, isSecure, readJson, refuseCrossSite } from './request';
import { strictObject } from './schemas/common';
import { validateBody } from './validate';

const SHORTEST_PASSWORD = 10;

const email = string()
  .trim()
  .required('Expected your e-mail address, got nothing.')
  .max(200, 'Expected an e-mail address of at most 200 characters.')
  .email(({ value }) => `Expected an e-mail address such as ines@ternferry.test, got "${String(value)}".`);

const firstAccountSchema = strictObject({
  email,
  password: string()
    .required('Expected a password, got nothing.')
    .min(
      SHORTEST_PASSWORD,
      ({ value }) =>
        `Expected a password of at least ${SHORTEST_PASSWORD} characters, got ${String(value).length}.`,
    )
    .max(500, 'Expected a password of at most 500 characters.'),
});

const signInSchema = strictObject({
  email: string().trim().required('Expected your e-mail address, got nothing.').max(200),
  password: string().required('Expected your password, got nothing.').max(500),
});

interface Credentials {
  email: string;
  password: string;
}

function cookie(value: string, maxAgeSeconds: number, isEncrypted: boolean): string {
  const secure = isEncrypted ? '; Secure' : '';
  return `${SESSION_COOKIE}=${value}; Path=/; HttpOnly; SameSite=Lax; Max-Age=${maxAgeSeconds}${secure}`;
}

async function openSession(request: Request, context: ServerContext, accountId: number): Promise<Response> {
  const now = Date.now();
  const token = newSecret();
  await saveSession(context.db, {
    tokenHash: hashSecret(token),
    accountId,
    createdAt: now,
    expiresAt: now + SESSION_MS,
  });
  const encrypted = isSecure(request.headers, context.environment);
  return new Response(null, {
    status: 204,
    headers: { 'set-cookie': cookie(token, SESSION_MS / 1000, encrypted) },
  });
}

async function asResponse(work: () => Promise<Response>): Promise<Response> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof Problem) return error.toResponse();
    throw error;
  }
}

/** Makes the first account and signs it in; refused once there is one. */
export function makeFirstAccount(request: Request, context: ServerContext): Promise<Response> {
  return asResponse(async () => {
    refuseCrossSite(request);
    const valid = await validateBody<Credentials>(firstAccountSchema, await readJson(request));
    const passwordHash = await hashPassword(valid.password);
    if (await hasAccounts(context.db)) {
      throw new Problem(409, 'Already set up', 'There is an account already. Sign in instead.');
    }
    const account = await saveAccount(context.db, {
      email: valid.email,
      passwordHash,
      createdAt: Date.now(),
    });
    return openSession(request, context, account.id);
  });
}

/** A hash nobody has the password of, so that an unknown address takes as long as a known one. */
let decoy: Promise<string> | null = null;

/** Signs in. After some failures each further try has to wait, by e-mail address and by client. */
export function signIn(request: Request, context: ServerContext): Promise<Response> {
  return asResponse(async () => {
    refuseCrossSite(request);
    const valid = await validateBody<Credentials>(signInSchema, await readJson(request));
    const subjects = [`email ${valid.email.toLowerCase()}`, `client ${clientOf(request.headers)}`];
    const now = Date.now();
    const failures = await Promise.all(subjects.map((subject) => fetchSignInFailures(context.db, subject)));
    const waitMs = Math.max(...failures.map((failure) => signInWaitMs(failure, now)));
    if (waitMs > 0) {
      const seconds = Math.ceil(waitMs / 1000);
      throw new Problem(
        429,
        'Too many tries',
        `Too many tries. Wait ${formatDuration(seconds * 1000)}, then try again.`,
        [],
        { 'retry-after': String(seconds) },
      );
    }
    // Counted before the password is worked out, so that many tries at once do not slip through.
    for (const [i, subject] of subjects.entries()) {
      const count = (failures[i]?.count ?? 0) + 1;
      await saveSignInFailures(context.db, subject, { count, lastAt: now });
    }
    const account = await fetchAccountByEmail(context.db, valid.email);
    decoy ??= hashPassword(newSecret());
    const right = await isPassword(valid.password, account?.passwordHash ?? (await decoy));
    if (!account || !right) {
      throw refused([
        { field: 'password', message: 'This e-mail address and password do not belong together.' },
      ]);
    }
    for (const subject of subjects) await clearSignInFailures(context.db, subject);
    return openSession(request, context, account.id);
  });
}

export function signOut(request: Request, context: ServerContext): Promise<Response> {
  return asResponse(async () => {
    refuseCrossSite(request);
    const token = cookieValue(request.headers.get('cookie'), SESSION_COOKIE);
    if (token) await deleteSession(context.db, hashSecret(token));
    const encrypted = isSecure(request.headers, context.environment);
    return new Response(null, { status: 204, headers: { 'set-cookie': cookie('', 0, encrypted) } });
  });
}
