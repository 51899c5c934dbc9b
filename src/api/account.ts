import { string } from 'yup';
import { hashPassword, isPassword } from '@/accounts/passwords';
import type { ServerContext } from '@/server/context';
import type { Principal } from '@/server/access/principal';
import {
  endOtherSessions,
  endSession,
  fetchAccountByEmail,
  fetchSessions,
  saveAccountChange,
} from '@/store/access/accounts';
import { clearSignInFailures } from '@/store/access/sign-ins';
import { notFound, Problem, refused } from './problem';
import { authenticate, readJson } from './request';
import { strictObject } from '@/api/schemas/common';
import { iso } from './shapes';
import { asResponse, email, newPassword, throttleSignIn } from './sign-in';
import { validateBody } from './validate';

const changeSchema = strictObject({
  current: string().required('Expected your present password, got nothing.').max(500),
  email: email.notRequired(),
  password: newPassword.notRequired(),
});

interface Change {
  current: string;
  email?: string;
  password?: string;
}

type SignedIn = Principal & { type: 'account' };

/** Somebody who signed in: a token has no password and no sessions. */
async function signedIn(request: Request, context: ServerContext): Promise<SignedIn> {
  const who = await authenticate(request, context, Date.now());
  if (who.type !== 'account') throw new Problem(403, 'Refused', 'Sign in for this; a token cannot do it.');
  return who;
}

/** Changes the e-mail address or the password of whoever asks; a new password ends all other sessions. */
export function changeAccount(request: Request, context: ServerContext): Promise<Response> {
  return asResponse(async () => {
    const { account, sessionId } = await signedIn(request, context);
    const valid = await validateBody<Change>(changeSchema, (await readJson(request)) ?? {});
    await throttleSignIn(request.headers, context, account.email);
    const kept = await fetchAccountByEmail(context.db, account.email);
    if (!kept || !(await isPassword(valid.current, kept.passwordHash))) {
      throw refused([{ field: 'current', message: 'This is not your present password.' }]);
    }
    await clearSignInFailures(context.db, account.email);
    const other = valid.email ? await fetchAccountByEmail(context.db, valid.email) : null;
    if (other && other.id !== account.id) {
      throw refused([{ field: 'email', message: 'Another account has this e-mail address.' }]);
    }
    const passwordHash = valid.password ? await hashPassword(valid.password) : undefined;
    await saveAccountChange(context.db, account.id, { email: valid.email, passwordHash });
    if (passwordHash) await endOtherSessions(context.db, account.id, sessionId);
    return new Response(null, { status: 204 });
  });
}

/** Where the account is signed in. */
export function listSessions(request: Request, context: ServerContext): Promise<Response> {
  return asResponse(async () => {
    const { account, sessionId } = await signedIn(request, context);
    const sessions = await fetchSessions(context.db, account.id, Date.now());
    return Response.json(
      sessions.map(({ createdAt, usedAt, ...session }) => ({
        ...session,
        createdAt: iso(createdAt),
        usedAt: iso(usedAt),
        here: session.id === sessionId,
      })),
      { headers: { 'cache-control': 'no-store' } },
    );
  });
}

/** Signs out everywhere but here. */
export function endSessions(request: Request, context: ServerContext): Promise<Response> {
  return asResponse(async () => {
    const { account, sessionId } = await signedIn(request, context);
    await endOtherSessions(context.db, account.id, sessionId);
    return new Response(null, { status: 204 });
  });
}

/** Ends one session of one's own. */
export function endOneSession(request: Request, context: ServerContext, id: string): Promise<Response> {
  return asResponse(async () => {
    const { account } = await signedIn(request, context);
    const known = /^[1-9]\d{0,14}$/.test(id) && (await endSession(context.db, account.id, Number(id)));
    if (!known) throw notFound(`session ${id.slice(0, 20)}`);
    return new Response(null, { status: 204 });
  });
}
