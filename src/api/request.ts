import { hashSecret } from '../accounts/secrets';
import { SESSION_COOKIE } from '../accounts/cookie';
import { CLIENT_HEADER } from '../server/proxy';
import { linkBase, type Environment } from '../core/environment';
import type { ServerContext } from '../server/context';
import { fetchSessionAccount } from '../store/accounts';
import { acceptToken } from '../store/tokens';
import { Problem } from './problem';

/** The address under which the client reached us; forwarded headers were cleaned by the front door. */
export function publicBase(headers: Headers, environment: Environment): string {
  if (environment.baseUrl) return environment.baseUrl;
  const host = headers.get('x-forwarded-host') ?? headers.get('host');
  if (!host || !/^[\w.:[\]-]+$/.test(host)) return linkBase(environment);
  return `${headers.get('x-forwarded-proto') === 'https' ? 'https' : 'http'}://${host}`;
}

export function clientOf(headers: Headers): string {
  return headers.get(CLIENT_HEADER) ?? '';
}

export function cookieOf(headers: Headers, name: string): string | null {
  for (const part of (headers.get('cookie') ?? '').split(';')) {
    const [key, ...value] = part.trim().split('=');
    if (key === name) return value.join('=');
  }
  return null;
}

/**
 * Refuses what another site made the browser send: a write with a session has to come from our own origin
 * (Fetch Metadata, or Origin where that is missing).
 */
export function refuseCrossSite(request: Request, context: ServerContext): void {
  const site = request.headers.get('sec-fetch-site');
  if (site === 'same-origin') return;
  const origin = request.headers.get('origin');
  if (
    site === null &&
    origin !== null &&
    origin === new URL(publicBase(request.headers, context.environment)).origin
  ) {
    return;
  }
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
  const session = cookieOf(request.headers, SESSION_COOKIE);
  const account = session ? await fetchSessionAccount(context.db, hashSecret(session), now) : null;
  if (!account) throw unauthorised('Send a token (Authorization: Bearer …), or sign in.');
  if (request.method !== 'GET' && request.method !== 'HEAD') refuseCrossSite(request, context);
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
