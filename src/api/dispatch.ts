import { EngineAwayError } from '@/engine/link/link';
import { logError } from '@/server/base/log';
import type { ServerContext } from '@/server/context';
import { openApiDocument } from './openapi';
import { Problem } from './problem';
import { authenticate, publicBase, readJson } from './request';
import type { Route } from './route';
import { ROUTES } from './routes';

interface Matcher {
  route: Route;
  pattern: RegExp;
}

const MATCHERS: Matcher[] = ROUTES.map((route) => ({
  route,
  pattern: new RegExp(`^${route.path.replace(/\{(\w+)\}/g, '(?<$1>[^/]+)')}$`),
}));

function json(status: number, value: unknown): Response {
  return new Response(status === 204 ? null : JSON.stringify(value), {
    status,
    headers: { 'content-type': 'application/json', 'cache-control': 'no-store' },
  });
}

async function answer(request: Request, path: string, context: ServerContext): Promise<Response> {
  const base = publicBase(request.headers, context.environment);
  const mailDomain = context.mailEndpoint.domain;
  const now = Date.now();
  await authenticate(request, context, now);
  if (path === '/openapi.json' && request.method === 'GET') return json(200, openApiDocument(base));
  const fitting = MATCHERS.filter((matcher) => matcher.pattern.test(path));
  if (fitting.length === 0) throw new Problem(404, 'Not found', `There is nothing at /api/v1${path}.`);
  const matcher = fitting.find(({ route }) => route.method === request.method);
  if (!matcher) {
    const allow = fitting.map(({ route }) => route.method).join(', ');
    throw new Problem(405, 'Not allowed', `Expected ${allow}, got ${request.method}.`, [], { allow });
  }
  const { route } = matcher;
  const body = request.method === 'GET' ? undefined : await readJson(request);
  if (route.body && (body === null || typeof body !== 'object' || Array.isArray(body))) {
    throw new Problem(400, 'Not readable', 'Expected a JSON object as the body.');
  }
  const params = { ...matcher.pattern.exec(path)!.groups };
  const query = new URL(request.url).searchParams;
  return json(route.status, await route.handle({ context, params, query, body, now, base, mailDomain }));
}

/** Answers one API request; whatever is refused becomes problem details. */
export async function dispatch(request: Request, path: string, context: ServerContext): Promise<Response> {
  try {
    return await answer(request, path, context);
  } catch (error) {
    if (error instanceof Problem) return error.toResponse();
    if (error instanceof EngineAwayError || (error as Error).name === 'EngineAwayError') {
      return new Problem(503, 'Engine away', (error as Error).message).toResponse();
    }
    logError(`${request.method} /api/v1${path}`, error);
    return new Problem(500, 'Fault', 'Something went wrong here. It was noted in the log.').toResponse();
  }
}
