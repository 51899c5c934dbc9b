import Negotiator from 'negotiator';
import { Refusal } from '@/cases/frame/refusal';
import type { Principal } from '@/cases/frame/principal';
import { versionOf, type Expected } from '@/cases/frame/version';
import { isFullError, type Db } from '@/store/db/connection';
import type { ListPage } from '@/store/db/list-page';
import { getDocument } from '@/cases/machine/entrance';
import { logError } from '@/server/base/log';
import type { ServerContext } from '@/server/context';
import { pageFrom, type Listed } from './cursor';
import { EXPORT_FORMATS, EXPORTS, exported, type ExportFormat } from './export';
import { doneOnce } from './idempotency';
import { openApiDocument } from './openapi';
import { problemResponse } from './problem';
import { pageOf, queryOf, readQuery } from './query';
import { authenticate, publicBase, readFile, readJson } from './request';
import type { Call, Route } from './route';
import { ROUTES } from './routes';
import { shaped } from './shape';

const ROOT = '/api/v1';
const ID = /^[1-9]\d{0,14}$/;

interface Matcher {
  route: Route;
  pattern: RegExp;
}

const MATCHERS: Matcher[] = ROUTES.filter((route) => !route.stream).map((route) => ({
  route,
  pattern: new RegExp(`^${route.path.replace(/\{(\w+)\}/g, '(?<$1>[^/]+)')}$`),
}));

const QUERIES = new Map(ROUTES.map((route) => [route, queryOf(route.query, route.list)]));

interface Reply {
  status: number;
  body: string | ReadableStream<Uint8Array> | null;
  headers: Record<string, string>;
}

/** The version somebody names: by If-Match, or in what they read and send back. */
function expectedOf(headers: Headers, body: object): Expected {
  const match = headers.get('if-match');
  if (match !== null) {
    if (match.trim() === '*') return '*';
    // Weak tags never match here (RFC 9110, 13.1.1).
    return [...match.matchAll(/(?:^|[\s,])"([^"]*)"/g)].map((one) => one[1]!);
  }
  const { version } = body as { version?: unknown };
  return typeof version === 'string' ? [version] : null;
}

function linkHeader(url: URL, base: string, next: string | null, path: string): Record<string, string> {
  const at = (cursor: string | null) => {
    const query = new URLSearchParams(url.searchParams);
    query.delete('cursor');
    if (cursor !== null) query.set('cursor', cursor);
    return `<${base}${ROOT}${path}${query.size > 0 ? `?${query}` : ''}>`;
  };
  const links = [`${at(null)}; rel="first"`, ...(next === null ? [] : [`${at(next)}; rel="next"`])];
  return { link: links.join(', ') };
}

function refuseUnacceptable(request: Request): void {
  const accept = request.headers.get('accept');
  if (accept === null) return;
  const format = new URL(request.url).searchParams.get('as');
  const asked = EXPORT_FORMATS.find((one) => one === format);
  const type = asked ? EXPORTS[asked].split(';')[0]! : 'application/json';
  if (new Negotiator({ headers: { accept } }).mediaTypes([type, 'application/problem+json']).length > 0)
    return;
  throw new Refusal('answer.unacceptable', `Answers are ${type}; Accept allows none of that.`);
}

function nothingAt(path: string, root = ROOT): Refusal {
  return new Refusal('not.found', `There is nothing at ${root}${path.slice(0, 200)}.`);
}

function find(path: string, method: string): { route: Route; params: Record<string, string> } {
  const fitting = MATCHERS.filter((matcher) => matcher.pattern.test(path));
  if (fitting.length === 0) {
    throw nothingAt(path);
  }
  const matcher = fitting.find(({ route }) => route.method === method);
  if (!matcher) {
    throw new MethodRefusal(
      fitting.map(({ route }) => route.method),
      method,
    );
  }
  return { route: matcher.route, params: { ...matcher.pattern.exec(path)!.groups } };
}

export class MethodRefusal extends Refusal {
  readonly allow: string;

  constructor(methods: readonly string[], got: string) {
    const allow = allowed(methods);
    super('method.unknown', `Expected ${allow}, got ${got}.`);
    this.allow = allow;
  }
}

/** What an address takes, as its Allow header says it (RFC 9110, 10.2.1). */
export function allowed(methods: readonly string[]): string {
  return [...methods, ...(methods.includes('GET') ? ['HEAD'] : []), 'OPTIONS'].join(', ');
}

function idsOf(params: Record<string, string>, path: string): Record<string, number> {
  const ids: Record<string, number> = {};
  for (const [name, text] of Object.entries(params)) {
    // An id is what it looks like: 01 is not 1.
    if (!ID.test(text)) throw nothingAt(path);
    ids[name] = Number(text);
  }
  return ids;
}

async function bodyOf(request: Request, route: Route): Promise<object> {
  if (route.method === 'GET') return {};
  if (route.file) return { bytes: await readFile(request, route.file) };
  const body = await readJson(request);
  if (!route.body || (route.bodyOptional && body === undefined)) return {};
  if (body === null || typeof body !== 'object' || Array.isArray(body)) {
    throw new Refusal('input.unreadable', 'Expected a JSON object as the body.');
  }
  return body;
}

/** The answer of a route, as it goes out. */
function replyOf(
  route: Route,
  value: unknown,
  { url, path, base, page }: { url: URL; path: string; base: string; page: ListPage },
): Reply {
  const headers: Record<string, string> = { 'cache-control': 'no-store' };
  if (route.shape === null) return { status: route.status, body: null, headers };
  let shown = value;
  if (route.list) {
    const listed: Listed = pageFrom(value as unknown[], page, route.list);
    shown = listed.items;
    Object.assign(headers, linkHeader(url, base, listed.next, path));
  }
  const answer = shaped(route.shape, shown);
  const body = JSON.stringify(answer);
  const { version } = answer as { version?: string };
  if (route.versioned && version !== undefined) headers.etag = `"${version}"`;
  else if (route.still) headers.etag = `"${versionOf(answer)}"`;
  if (route.status === 201 && route.location) {
    headers.location = `${base}${ROOT}${route.location(value as never)}`;
  }
  return { status: route.status, body, headers: { ...headers, 'content-type': 'application/json' } };
}

/** What was read already need not be sent again (RFC 9110, 13.1.2). */
function notModified(request: Request, route: Route, reply: Reply): Reply {
  const seen = request.headers.get('if-none-match');
  const { etag } = reply.headers;
  if (route.method !== 'GET' || !route.still || seen === null || etag === undefined) return reply;
  const tags = seen.split(',').map((tag) => tag.trim().replace(/^W\//, ''));
  if (!tags.includes('*') && !tags.includes(etag)) return reply;
  const { 'content-type': _, ...headers } = reply.headers;
  return { status: 304, body: null, headers };
}

async function run(
  request: Request,
  path: string,
  context: ServerContext,
  who: Principal,
  base: string,
): Promise<Reply> {
  const method = request.method === 'HEAD' ? 'GET' : request.method;
  const { route, params } = find(path, method);
  const url = new URL(request.url);
  const ids = idsOf(params, path);
  const query = await readQuery(QUERIES.get(route)!, url.searchParams);
  const body = await bodyOf(request, route);
  const page = route.list ? pageOf(query, route.list) : { limit: 0 };
  const call: Call = {
    who,
    world: context,
    ids,
    query,
    body,
    expected: expectedOf(request.headers, body),
    // One row more than is shown tells whether there is another page.
    page: { ...page, limit: page.limit + 1 },
    base,
  };
  const chosen = route.instead?.when(call) ? route.instead.does : route.does;
  const input = route.input(call) as never;
  const told = async (out: unknown, db: Db): Promise<Reply> => {
    const value = route.tell ? await route.tell(call, out as never, db) : out;
    return replyOf(route, value, { url, path, base, page });
  };
  const format = query.as as ExportFormat | undefined;
  if (route.list && format) {
    const read = async (part: ListPage): Promise<Listed> => {
      const one = { ...call, page: { ...part, limit: part.limit + 1 } };
      const out = await chosen(who, route.input(one) as never, context);
      const value = route.tell ? await route.tell(one, out as never, context.db) : out;
      const { items, next } = pageFrom(value as unknown[], part, route.list!);
      return { items: shaped(route.shape!, items) as unknown[], next };
    };
    const headers = {
      'cache-control': 'no-store',
      'content-type': EXPORTS[format],
      'content-disposition': `attachment; filename="${path.split('/').at(-1)!}.${format}"`,
    };
    return { status: 200, body: await exported(format, route.shape!, page, read), headers };
  }
  const key = request.headers.get('idempotency-key');
  if (key === null || route.status !== 201) {
    return notModified(request, route, await told(await chosen(who, input, context), context.db));
  }
  const { answer, replayed } = await doneOnce({ key, method, path, body }, who, context, async (keep) => {
    let reply: Reply | null = null;
    const within = async (trx: Db, out: unknown) => {
      reply = await told(out, trx);
      await keep(trx, { body: reply.body as string | null, headers: reply.headers });
    };
    const out = await chosen(who, input, context, { within });
    const { body: said, headers } = reply ?? (await told(out, context.db));
    return { body: said as string | null, headers };
  });
  const { headers, body: said } = answer;
  return {
    status: route.status,
    body: said,
    headers: replayed ? { ...headers, 'idempotent-replayed': 'true' } : headers,
  };
}

async function answer(request: Request, path: string, context: ServerContext): Promise<Response> {
  const base = publicBase(request.headers, context.environment);
  const who = await authenticate(request, context, context.now());
  if (request.method === 'OPTIONS') {
    const methods = MATCHERS.filter(({ pattern }) => pattern.test(path)).map(({ route }) => route.method);
    if (methods.length === 0) throw nothingAt(path);
    return new Response(null, {
      status: 204,
      headers: { allow: allowed(methods), 'cache-control': 'no-store' },
    });
  }
  refuseUnacceptable(request);
  if (path === '/openapi.json' && ['GET', 'HEAD'].includes(request.method)) {
    const document = await getDocument(who, { document: () => openApiDocument(base) }, context);
    return Response.json(document, { headers: { 'cache-control': 'no-store' } });
  }
  const { status, body, headers } = await run(request, path, context, who, base);
  return new Response(request.method === 'HEAD' ? null : body, { status, headers });
}

/** A refusal by whatever threw it: classes may come from another bundle, and are known by their names. */
function refusalOf(error: unknown): Refusal | null {
  if (error instanceof Refusal) return error;
  const { name, message } = error as Error;
  if (isFullError(error)) {
    const detail = 'The disk is full: nothing was changed. Make room, and try again.';
    return new Refusal('keep.full', detail, [], 30);
  }
  if (name === 'EngineAwayError') return new Refusal('engine.away', message, [], 5);
  if (name === 'TooBusyError') {
    return new Refusal('signin.busy', 'Too many sign-ins at once. Try again in a few seconds.', [], 5);
  }
  return null;
}

/** Answers one API request; whatever is refused becomes problem details. */
export async function dispatch(request: Request, path: string, context: ServerContext): Promise<Response> {
  return asResponse(`${request.method} ${ROOT}${path}`, () => answer(request, path, context));
}

/** What comes of some work; what is refused as problem details, and faults noted without being told. */
export async function asResponse(what: string, work: () => Promise<Response>): Promise<Response> {
  try {
    return await work();
  } catch (error) {
    const refusal = refusalOf(error);
    if (refusal) {
      return problemResponse(refusal, refusal instanceof MethodRefusal ? { allow: refusal.allow } : {});
    }
    logError(what, error);
    return problemResponse(new Refusal('own.fault', 'Something went wrong here. It was noted in the log.'));
  }
}

/** Whatever else is asked for under /api. */
export function refuseElsewhere(request: Request, path: string, context: ServerContext): Promise<Response> {
  return asResponse(`${request.method} /api${path}`, async () => {
    await authenticate(request, context, context.now());
    if (/^\/v\d+(\/|$)/.test(path)) {
      throw new Refusal('version.unknown', `There is no ${path.split('/')[1]!.slice(0, 20)}; use ${ROOT}.`);
    }
    throw nothingAt(path, '/api');
  });
}
