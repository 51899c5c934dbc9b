import type { IncomingMessage, ServerResponse } from 'node:http';
import type { Environment } from '@/core/settings/environment';
import { hasAccounts } from '@/store/access/accounts';
import type { Db } from '@/store/db/connection';
import { refusalKind, type RefusalCode } from '@/cases/frame/refusals';
import { whoAsks } from './principal';

const READS = ['GET', 'HEAD'];

/**
 * What anybody may ask for, and how. The list is short on purpose: whatever is not on it needs somebody who signed in,
 * and is decided here, before anything is drawn. Public pages, check-ins and health questions never come this far.
 */
const PUBLIC: readonly [pattern: RegExp, methods: readonly string[]][] = [
  [/^\/(sign-in|welcome)$/, READS],
  // What makes the desk a program of a phone says nothing of what stands in it.
  [/^\/(icon\.svg|manifest\.webmanifest|sw\.js)$/, READS],
  [/^\/_next\/static\/(?!.*\.\.)[\w./~-]+$/, READS],
  // Whoever holds a link that stood in a message may take what it is about, and sees nothing else.
  [/^\/take\/[\w.-]{1,120}$/, READS],
  [/^\/api\/take$/, ['POST']],
  // Whoever holds the link in a mail says that the address wants messages, and sees nothing else.
  [/^\/confirm\/[\w.-]{1,450}$/, READS],
  [/^\/api\/confirm$/, ['POST']],
  [/^\/api\/session$/, ['POST', 'DELETE']],
  [/^\/api\/first-account$/, ['POST']],
];

/** Tokens open the API, and nothing else. */
const FOR_TOKENS = /^\/api\/(?!account$|sessions?($|\/)|first-account$|take$|confirm$)/;
const API = /^\/api\//;
/** Nothing here is resized on the way; the framework's own door for that stays shut. */
const SHUT = /^\/_next\/(?!static\/)/;

export type Verdict =
  | { pass: true }
  | { pass: false; status: number; detail: string; headers?: Record<string, string> };

const PASS: Verdict = { pass: true };

function refuse(status: number, detail: string, headers?: Record<string, string>): Verdict {
  return { pass: false, status, detail, ...(headers && { headers }) };
}

/** What is wrong with a request whatever it asks for; null where nothing is. */
export function malformed(request: IncomingMessage): Verdict | null {
  const { method = '', url = '' } = request;
  if (!['GET', 'HEAD', 'POST', 'PUT', 'PATCH', 'DELETE', 'OPTIONS'].includes(method)) {
    return refuse(501, `Expected a method such as GET, got ${method.slice(0, 20)}.`);
  }
  try {
    decodeURIComponent(url.split('?', 1)[0]!);
  } catch {
    return refuse(400, 'Expected percent signs in the address to be followed by two hex digits (RFC 3986).');
  }
  return null;
}

function hostnameOf(host: string): string {
  return URL.canParse(`http://${host}`) ? new URL(`http://${host}`).hostname : '';
}

/**
 * Whether a write came to a name that is ours: the public address, this machine, or a bare address. A page of another
 * site whose name was made to lead here goes by a name of its own.
 */
export function isOurHost(host: string | undefined, { baseUrl }: Pick<Environment, 'baseUrl'>): boolean {
  if (baseUrl === null) return true;
  const name = hostnameOf(host ?? '');
  if (name === new URL(baseUrl).hostname || name === 'localhost') return true;
  return /^\d+\.\d+\.\d+\.\d+$/.test(name) || name.startsWith('[');
}

/** Decides who may come in to pages and API. */
export class Guard {
  constructor(
    private readonly db: Db,
    private readonly environment: Pick<Environment, 'baseUrl'>,
    private readonly now: () => number,
    /** What is open besides, for whoever works on the pages. */
    private readonly alsoOpen: RegExp | null = null,
  ) {}

  async decide(request: IncomingMessage): Promise<Verdict> {
    const method = request.method ?? 'GET';
    const path = (request.url ?? '/').split('?', 1)[0]!;
    if (this.alsoOpen?.test(path)) return PASS;
    if (!READS.includes(method)) {
      const host = request.headers['x-forwarded-host'] ?? request.headers.host;
      if (!isOurHost(String(host), this.environment)) {
        return refuse(421, `This is ${this.environment.baseUrl}; nothing is changed under another name.`);
      }
    }
    if (SHUT.test(path)) return refuse(404, 'There is nothing here.');
    const open = PUBLIC.find(([pattern]) => pattern.test(path));
    if (open) {
      const allow = open[1].join(', ');
      return open[1].includes(method) ? PASS : refuse(405, `Expected ${allow}, got ${method}.`, { allow });
    }
    const who = await whoAsks(this.db, request.headers, this.now());
    if (who && (who.type === 'account' || FOR_TOKENS.test(path))) {
      if (API.test(path) || READS.includes(method)) return PASS;
      return refuse(405, `Expected ${READS.join(' or ')}, got ${method}.`, { allow: READS.join(', ') });
    }
    return this.turnAway(path, method, request.headers.authorization !== undefined);
  }

  private async turnAway(path: string, method: string, sentToken: boolean): Promise<Verdict> {
    if (API.test(path)) {
      const detail = sentToken
        ? 'This token is not known here.'
        : 'Send a token (Authorization: Bearer …), or sign in.';
      return refuse(401, detail, { 'www-authenticate': 'Bearer' });
    }
    if (!READS.includes(method)) return refuse(401, 'Sign in first.');
    const location = (await hasAccounts(this.db)) ? '/sign-in' : '/welcome';
    return refuse(307, 'Sign in first.', { location });
  }
}

const CODES: Readonly<Record<number, RefusalCode>> = {
  400: 'input.unreadable',
  401: 'signin.needed',
  404: 'not.found',
  405: 'method.unknown',
  421: 'host.foreign',
  501: 'method.nowhere',
};

function problemBody(status: number, detail: string): object {
  const code = CODES[status] ?? 'not.found';
  return { type: `/reference#refusal-${code}`, code, status, title: refusalKind(code).title, detail };
}

/** Says a refusal: to programs as problem details (RFC 9457), to people in a line. */
export function sayRefusal(
  request: IncomingMessage,
  response: ServerResponse,
  { status, detail, headers }: Verdict & { pass: false },
): void {
  const problem = API.test(request.url ?? '');
  const body = problem ? JSON.stringify(problemBody(status, detail)) : `${detail}\n`;
  response.writeHead(status, {
    'content-type': problem ? 'application/problem+json' : 'text/plain; charset=utf-8',
    'cache-control': 'no-store',
    ...headers,
  });
  response.end(request.method === 'HEAD' ? undefined : body);
}
