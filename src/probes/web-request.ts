import type { Run } from './run';
import { newHop, requestHop, textOf, type Hop, type HopWish } from './http-hop';
import { excerptOf, excerptText } from './excerpt';

const MOST_REDIRECTS = 10;

/** Lines of "Name: value" as headers; a line that is none is passed over, the schema has refused it. */
export function headersOf(lines: string): Record<string, string> {
  const headers: Record<string, string> = {};
  for (const line of lines.split('\n')) {
    const match = /^\s*([^\s:]+)\s*:\s*(.*?)\s*$/.exec(line);
    if (match) headers[match[1]!.toLowerCase()] = match[2]!;
  }
  return headers;
}

/** What is wrong with lines of headers, in words, or null (RFC 9110, 5.1: names are tokens). */
export function headerLinesProblem(lines: string): string | null {
  for (const line of lines.split('\n')) {
    if (
      line.trim() !== '' &&
      !/^\s*[!#$%&'*+.^_`|~0-9a-z-]+\s*:[^\p{Cc}]*$/iu.test(line.replace(/\r$/, ''))
    ) {
      return `Expected one “Name: value” a line, got “${line.trim().slice(0, 80)}”.`;
    }
  }
  return null;
}

/** "host" or "host:port" as an address to connect to; the port of the address itself where none is given. */
export function connectToOf(typed: string, otherPort: number): { host: string; port: number } | null {
  const match = /^(?:\[([0-9a-f:.]+)\]|([\w.-]+))(?::(\d{1,5}))?$/i.exec(typed.trim());
  if (!match) return null;
  const port = match[3] ? Number(match[3]) : otherPort;
  return port >= 1 && port <= 65535 ? { host: (match[1] ?? match[2])!, port } : null;
}

function redirectOf(run: Run, hop: Hop, from: URL): URL | null {
  const location = hop.headers?.location;
  if (!location || ![301, 302, 303, 307, 308].includes(hop.status ?? 0)) return null;
  let next: URL | null = null;
  try {
    next = new URL(location, from);
  } catch {
    // Said below.
  }
  if (next?.protocol !== 'http:' && next?.protocol !== 'https:') {
    run.fail('reply.bad-redirect', { location: location.slice(0, 200) });
  }
  return next;
}

export interface Fetched {
  url: URL;
  hop: Hop;
}

/**
 * Asks for an address and follows at most ten redirects, each over a new connection. `fetched` always holds the
 * last reply, a half one too. Sign-in and cookies go to the first host only; a redirect that drops the method
 * drops the body with it (RFC 9110, 15.4).
 */
export async function fetchPage(
  run: Run,
  address: URL,
  wish: HopWish,
  redirects: 'follow' | 'refuse' | 'ignore',
  fetched: Fetched,
  onReply: (url: URL, hop: Hop) => HopWish = () => wish,
): Promise<void> {
  let url = address;
  let next: HopWish = wish;
  let count = 0;
  for (;;) {
    fetched.url = url;
    fetched.hop = newHop();
    await requestHop(run, url, fetched.hop, next);
    const again = onReply(url, fetched.hop);
    if (redirects === 'ignore') return;
    const to = redirectOf(run, fetched.hop, url);
    if (!to) return;
    if (redirects === 'refuse') run.fail('reply.redirected', { location: to.href.slice(0, 200) });
    if (count >= MOST_REDIRECTS) run.fail('reply.redirects', { limit: MOST_REDIRECTS });
    count += 1;
    run.evidence.redirects = count;
    const same = to.host === address.host;
    const { status } = fetched.hop;
    const getNow = status === 303 || ((status === 301 || status === 302) && next.method === 'POST');
    next = {
      ...again,
      ...(getNow && { method: 'GET', body: undefined }),
      headers: same ? again.headers : withoutPrivate(again.headers ?? {}),
      connectTo: same ? wish.connectTo : undefined,
    };
    url = to;
  }
}

function withoutPrivate(headers: Record<string, string>): Record<string, string> {
  const { authorization: _, cookie: __, ...rest } = headers;
  return rest;
}

/** Keeps what answered as evidence, with secrets blanked. */
export function keepExcerpt(run: Run, hop: Hop, secrets: readonly string[]): void {
  if (hop.status === undefined) return;
  const bytes = Buffer.concat(hop.body);
  const body = excerptText(bytes, textOf(hop));
  run.evidence.excerpt = excerptOf({ statusLine: hop.statusLine, rawHeaders: hop.rawHeaders, body }, secrets);
}

export function noteReply(run: Run, { url, hop }: Fetched): void {
  run.evidence.status = hop.status;
  run.evidence.bytes = hop.bytes;
  if (run.evidence.redirects) run.evidence.finalUrl = url.origin + url.pathname;
}
