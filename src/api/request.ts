import { OutsideError, readBounded } from '@/outside/read';
import { CLIENT_HEADER, LOCAL_HEADER } from '@/server/access/proxy';
import { linkBase, type Environment } from '@/core/settings/environment';
import type { ServerContext } from '@/server/context';
import type { Principal } from '@/cases/frame/principal';
import { Refusal } from '@/cases/frame/refusal';
import { whoAsks } from '@/server/access/principal';

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
 * Whether somebody at this machine asks. Where the product has a public address a proxy stands before it, and what
 * comes from this machine may be meant for anybody.
 */
export function isLocal(headers: Headers, { baseUrl }: Environment): boolean {
  return baseUrl === null && headers.get(LOCAL_HEADER) === '1';
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
  throw new Refusal('origin.foreign', 'This request did not come from the desk itself.');
}

/** Who asks; throws a problem where that is nobody, or another site made the browser ask. */
export async function authenticate(
  request: Request,
  context: ServerContext,
  now: number,
): Promise<Principal> {
  const authorization = request.headers.get('authorization') ?? undefined;
  const cookie = request.headers.get('cookie') ?? undefined;
  const who = await whoAsks(context.db, { authorization, cookie }, now);
  if (!who) {
    throw unauthorised(
      authorization !== undefined
        ? 'This token is not known here.'
        : 'Send a token (Authorization: Bearer …), or sign in.',
    );
  }
  if (who.type === 'account' && request.method !== 'GET' && request.method !== 'HEAD')
    refuseCrossSite(request);
  return who;
}

function unauthorised(detail: string): Refusal {
  return new Refusal('signin.needed', detail);
}

const MOST_BODY_BYTES = 1_000_000;
const BODY_LIMIT_MS = 20_000;
/** What people and programs write is a few levels deep; a reader that follows any depth can be made to work long. */
const MOST_LEVELS = 32;

/** Files are larger than what is typed, and lines up are slow. */
const FILE_LIMIT_MS = 90_000;

function tooLong(mostBytes: number): Refusal {
  return new Refusal('body.long', `Expected at most ${mostBytes / 1_000_000} MB.`);
}

async function readBytes(
  request: Request,
  { mostBytes, withinMs }: { mostBytes: number; withinMs: number },
): Promise<Buffer> {
  const coding = request.headers.get('content-encoding')?.trim().toLowerCase() || 'identity';
  // RFC 9110, 15.5.16: what is packed is not taken for what it says packed.
  if (coding !== 'identity') {
    throw new Refusal('body.type', `Expected a body without Content-Encoding, got ${coding.slice(0, 40)}.`);
  }
  if (Number(request.headers.get('content-length') ?? 0) > mostBytes) throw tooLong(mostBytes);
  try {
    const body = request.body as ReadableStream<Uint8Array> | null;
    return await readBounded(body, { mostBytes, withinMs, signal: request.signal });
  } catch (error) {
    if (!(error instanceof OutsideError)) throw new Refusal('input.unreadable', 'The body broke off.');
    throw error.why === 'too-long'
      ? tooLong(mostBytes)
      : new Refusal('body.slow', `Expected the whole body within ${withinMs / 1000} s.`);
  }
}

/** A body that is a file; what it calls itself has to be among what is taken. */
export async function readFile(
  request: Request,
  { types, mostBytes }: { types: readonly string[]; mostBytes: number },
): Promise<Buffer> {
  const type = request.headers.get('content-type')?.split(';', 1)[0]!.trim().toLowerCase() ?? '';
  if (!types.includes(type)) {
    throw new Refusal('body.type', `Expected a body of type ${types.join(', ')}.`);
  }
  return readBytes(request, { mostBytes, withinMs: FILE_LIMIT_MS });
}

/** Whether brackets outside of strings lie deeper than allowed. */
function isTooDeep(json: string): boolean {
  let depth = 0;
  for (let i = 0; i < json.length; i += 1) {
    const c = json[i];
    if (c === '"') {
      for (i += 1; i < json.length && json[i] !== '"'; i += 1) if (json[i] === '\\') i += 1;
    } else if (c === '{' || c === '[') {
      depth += 1;
      if (depth > MOST_LEVELS) return true;
    } else if (c === '}' || c === ']') depth -= 1;
  }
  return false;
}

/** The JSON body; a write has to say that it is JSON, which no form of another site can. */
export async function readJson(request: Request): Promise<unknown> {
  const bounds = { mostBytes: MOST_BODY_BYTES, withinMs: BODY_LIMIT_MS };
  const text = (await readBytes(request, bounds)).toString('utf8');
  if (text === '') return undefined;
  if (!/^application\/json\b/i.test(request.headers.get('content-type') ?? '')) {
    throw new Refusal('body.type', 'Expected a body of type application/json.');
  }
  if (isTooDeep(text)) {
    throw new Refusal('input.unreadable', `Expected at most ${MOST_LEVELS} levels of lists and objects.`);
  }
  try {
    return JSON.parse(text);
  } catch (error) {
    // Where it stops being JSON, and nothing of what stands there: it may be a secret.
    const at = /position (\d+)/.exec((error as Error).message)?.[1];
    throw new Refusal(
      'input.unreadable',
      `Expected JSON; ${at === undefined ? 'this is none' : `it stops being that at character ${at}`}.`,
    );
  }
}
