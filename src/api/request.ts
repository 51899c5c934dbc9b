import { hashSecret } from '../accounts/secrets';
import { cookieValue, SESSION_COOKIE } from '../accounts/cookie';
import { CLIENT_HEADER } from '../server/proxy';
import { linkBase, type Environment } from '../core/environment';
import type { ServerContext } from '../server/context';
import { fetchSessionAccount } from '../store/accounts';
import { acceptToken } from '../store/tokens';
import { Problem } from './problem';

/** The host the client asked for; forwarded headers were cleaned by the front door. */
function askedHost(headers: Headers): string | null {
  const host = headers.get('x-forwarded-host') ?? headers.get('host');
  return host && /^[\w.:[\]-]+$/.test(host) ? host : null;
}

/** The address under which the client reached us, or the public one where it is set. */
export function publicBase(headers: Headers, environment: Environment): string {
  if (environment.baseUrl) return environment.baseUrl;
  const host = askedHost(headers);
  if (!host) return linkBase(environment);
  return `${headers.get('x-forwarded-proto') === 'https' ? 'https' : 'http'}://${host}`;
}

/**
 * Whether the client's own connection is encrypted: a proxy says so, or it asked for the public address and
 * that is one. Someone who comes over the local network without TLS still gets a cookie that works there.
 */
export function isSecure(headers: Headers, environment: Environment): boolean {
  if (headers.get('x-forwarded-proto') === 'https') return true;
  if (!environment.baseUrl) return false;
  const url = new URL(environment.baseUrl);
  return url.protocol === 'https:' && url.host === askedHost(headers);
}

export function clientOf(headers: Headers): string {
  return headers.get(CLIENT_HEADER) ?? '';
}

/**
 * Refuses what another site made the browser send: a write with a session has to come from our own origin.
 * Browsers say so by Fetch Metadata; where they do not (plain HTTP off this machine), by Origin, which has to
 * name the host that was asked for.
 */
export function refuseCrossSite(request: Request): void {
  const { headers } = request;
  const site = headers.get('sec-fetch-site');
  if (site === 'same-origin') return;
  const origin = headers.get('origin');
  if (site === null && origin !== null && URL.canParse(origin) && new URL(origin).host === askedHost(headers))
    return;
  throw new Problem(403, 'Refused', 'This request did not come from the desk itself.');
}

/** Lets a request with a known token or session pass; throws a problem otherwise. */
export async function authenticate(request: Request, context: ServerContext, now: number): Promise<void> {
  const header = request.headers.get('authorization');
  if (header !== null) {
    const token = /^Bearer\s+(\S+)$/i.exec(header)?.[1];
    if (token && (await acceptToken(context.db, hashSecret(token), now))) return;
    throw unauthorised('This token is not known here.');
  }
  const session = cookieValue(request.headers.get('cookie'), SESSION_COOKIE);
  const account = session ? await fetchSessionAccount(context.db, hashSecret(session), now) : null;
  if (!account) throw unauthorised('Send a token (Authorization: Bearer …), or sign in.');
  if (request.method !== 'GET' && request.method !== 'HEAD') refuseCrossSite(request);
}

function unauthorised(detail: string): Problem {
  return new Problem(401, 'Not signed in', detail, [], { 'www-authenticate': 'Bearer' });
}

const MOST_BODY_BYTES = 1_000_000;

/** The JSON body; a write has to say that it is JSON, which no form of another site can. */
export async function readJson(request: Request): Promise<unknown> {
  const text = await request.text();
  if (text === '') return undefined;
  if (text.length > MOST_BODY_BYTES) throw new Problem(413, 'Too long', 'Expected at most 1 MB.');
  if (!/^application\/json\b/i.test(request.headers.get('content-type') ?? '')) {
    throw new Problem(415, 'Not JSON', 'Expected a body of type application/json.');
  }
  try {
    return JSON.parse(text);
  } catch (error) {
    throw new Problem(400, 'Not readable', `Expected JSON: ${(error as Error).message}.`);
  }
}
