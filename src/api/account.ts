import * as cases from '@/cases/access/account';
import { Refusal } from '@/cases/frame/refusal';
import type { ServerContext } from '@/server/context';
import { list, named, text, time, whole, flag } from './answers/build';
import { asResponse } from './dispatch';
import { authenticate, readJson } from './request';
import { shaped } from './shape';
import { throttleSignIn } from './sign-in';

const sessions = list(
  named('OpenSession', {
    id: whole(),
    createdAt: time(),
    usedAt: time(),
    client: text(),
    agent: text(),
    here: flag(),
  }),
);

/** Changes the e-mail address or the password of whoever asks. */
export function changeAccount(request: Request, context: ServerContext): Promise<Response> {
  return asResponse('PATCH /api/account', async () => {
    const who = await authenticate(request, context, context.now());
    const body = (await readJson(request)) ?? {};
    const throttle = (email: string) => throttleSignIn(request.headers, context, email);
    await cases.changeAccount(who, { body, throttle }, context);
    return new Response(null, { status: 204 });
  });
}

/** Where the account is signed in. */
export function listSessions(request: Request, context: ServerContext): Promise<Response> {
  return asResponse('GET /api/sessions', async () => {
    const who = await authenticate(request, context, context.now());
    const found = await cases.listSessions(who, {}, context);
    return Response.json(shaped(sessions, found), { headers: { 'cache-control': 'no-store' } });
  });
}

/** Signs out everywhere but here. */
export function endSessions(request: Request, context: ServerContext): Promise<Response> {
  return asResponse('DELETE /api/sessions', async () => {
    await cases.endSessions(await authenticate(request, context, context.now()), {}, context);
    return new Response(null, { status: 204 });
  });
}

/** Ends one session of one's own. */
export function endOneSession(request: Request, context: ServerContext, id: string): Promise<Response> {
  return asResponse('DELETE /api/sessions/{id}', async () => {
    const who = await authenticate(request, context, context.now());
    if (!/^[1-9]\d{0,14}$/.test(id)) {
      throw new Refusal('not.found', `There is no session ${id.slice(0, 20)}.`);
    }
    await cases.endSession(who, { id: Number(id) }, context);
    return new Response(null, { status: 204 });
  });
}
