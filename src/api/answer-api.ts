import { ownEntry } from '@/core/text/own-entry';
import type { ServerContext } from '@/server/context';
import { changeAccount, endOneSession, endSessions, listSessions } from './account';
import { confirmLinked } from './confirm';
import { allowed, asResponse, dispatch, MethodRefusal, refuseElsewhere } from './dispatch';
import { makeFirstAccount, signIn, signOut } from './sign-in';
import { takeLinked } from './take';

type Answers = (request: Request, context: ServerContext, id: string) => Promise<Response>;

/** What pages ask for besides /api/v1, by address and method. It is no part of what programs may rely on. */
export const OWN_ADDRESSES: Readonly<Record<string, Readonly<Record<string, Answers>>>> = {
  '/account': { PATCH: changeAccount },
  '/confirm': { POST: confirmLinked },
  '/first-account': { POST: makeFirstAccount },
  '/session': { POST: signIn, DELETE: signOut },
  '/sessions': { GET: listSessions, DELETE: endSessions },
  '/sessions/{id}': { DELETE: endOneSession },
  '/take': { POST: takeLinked },
};

/** Answers whatever is asked for under /api; `parts` are those of the path behind it. */
export async function answerApi(
  request: Request,
  parts: readonly string[],
  context: ServerContext,
): Promise<Response> {
  const lies = (some: readonly string[]) => some.map((part) => `/${part}`).join('');
  if (parts[0] === 'v1') return dispatch(request, lies(parts.slice(1)), context);
  const [id = ''] = parts.length === 2 && parts[0] === 'sessions' ? parts.slice(1) : [];
  const own = ownEntry(OWN_ADDRESSES, id === '' ? lies(parts) : '/sessions/{id}');
  if (!own) return refuseElsewhere(request, lies(parts), context);
  if (request.method === 'OPTIONS') {
    const headers = { allow: allowed(Object.keys(own)), 'cache-control': 'no-store' };
    return new Response(null, { status: 204, headers });
  }
  const isHead = request.method === 'HEAD';
  const answers = ownEntry(own, isHead ? 'GET' : request.method);
  if (!answers) {
    return asResponse(`${request.method} /api${lies(parts)}`, () => {
      throw new MethodRefusal(Object.keys(own), request.method);
    });
  }
  const answer = await answers(request, context, id);
  return isHead ? new Response(null, answer) : answer;
}
