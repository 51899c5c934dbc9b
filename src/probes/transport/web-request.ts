import type { Run } from '@/probes/frame/run';
import { newHop, requestHop, textOf, type ConnectTo, type Hop, type HopWish } from './http-hop';
import { excerptOf, excerptText } from '@/probes/frame/excerpt';

const MOST_REDIRECTS = 10;

/** "host" or "host:port" as a place to connect to, or null. */
export function connectToOf(typed: string): ConnectTo | null {
  const match = /^(?:\[([0-9a-f:.]+)\]|([\w.-]+))(?::(\d{1,5}))?$/i.exec(typed.trim());
  if (!match) return null;
  const host = (match[1] ?? match[2])!;
  if (match[3] === undefined) return { host };
  const port = Number(match[3]);
  return port >= 1 && port <= 65535 ? { host, port } : null;
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

/** What goes along only to the site it was given for. */
const WITHOUT_PRIVATE = {
  privateHeaders: undefined,
  clientCertificate: undefined,
  clientKey: undefined,
  connectTo: undefined,
} satisfies Partial<HopWish>;

/** Headers that say how an answer is wanted, and nothing of who asks. */
const FOR_ANYBODY = ['accept', 'accept-language', 'user-agent', 'cache-control'];

/** Of the headers that were set for one site, those that may go to another. */
export function headersForOthers(headers: Record<string, string>): Record<string, string> {
  return Object.fromEntries(Object.entries(headers).filter(([name]) => FOR_ANYBODY.includes(name)));
}

/** The same site goes by the same name and port, and never in the clear where it began over TLS. */
export function isSameSite(first: URL, to: URL): boolean {
  if (to.hostname !== first.hostname || to.port !== first.port) return false;
  return to.protocol === first.protocol || to.protocol === 'https:';
}

/** What a walk through redirects does between two requests. */
interface OnTheWay {
  onReply: (url: URL, hop: Hop) => void;
  /** How the next address is asked; `same` where it is on the site the walk began at. */
  wishFor: (to: URL, same: boolean) => HopWish;
}

/**
 * Asks for an address and follows at most ten redirects, each over a new connection. `fetched` always holds the
 * last reply, a half one too. Whatever was set for the first site goes to that site only: headers, sign-in, and a body
 * that a redirect asks to be sent again (307, 308), which ends the look instead. A redirect that drops the method
 * drops the body with it (RFC 9110, 15.4).
 */
export async function fetchPage(
  run: Run,
  address: URL,
  wish: HopWish,
  redirects: 'follow' | 'refuse' | 'ignore',
  fetched: Fetched,
  onTheWay?: OnTheWay,
): Promise<void> {
  let url = address;
  let next: HopWish = wish;
  let count = 0;
  const seen = new Set<string>();
  for (;;) {
    fetched.url = url;
    fetched.hop = newHop();
    await requestHop(run, url, fetched.hop, next);
    onTheWay?.onReply(url, fetched.hop);
    if (redirects === 'ignore') return;
    const to = redirectOf(run, fetched.hop, url);
    if (!to) return;
    if (redirects === 'refuse') run.fail('reply.redirected', { location: to.href.slice(0, 200) });
    if (count >= MOST_REDIRECTS) {
      // Back to where it came from with a cookie each time: somebody waits for it to be kept.
      const asks = !onTheWay && fetched.hop.headers?.['set-cookie'] !== undefined && seen.has(to.href);
      run.fail(asks ? 'reply.cookie-wall' : 'reply.redirects', asks ? {} : { limit: MOST_REDIRECTS });
    }
    seen.add(url.href);
    count += 1;
    run.evidence.redirects = count;
    const { status } = fetched.hop;
    const getNow = status === 303 || ((status === 301 || status === 302) && next.method === 'POST');
    const bare = getNow || (next.method === 'GET' && wish.method !== 'GET');
    const same = isSameSite(address, to);
    const elsewhere = { ...wish, ...WITHOUT_PRIVATE, headers: headersForOthers(wish.headers ?? {}) };
    const asked = onTheWay?.wishFor(to, same) ?? (same ? wish : elsewhere);
    if (!same && !bare && asked.body) {
      run.fail('reply.redirect-body', { status: status!, location: to.origin.slice(0, 200) });
    }
    next = bare ? { ...asked, method: 'GET', body: undefined } : asked;
    url = to;
  }
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
