import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import { handleCheckin } from '@/server/checkins/checkin';
import type { ReportIntake } from '@/server/checkins/report-intake';
import type { LiveDesk } from '@/server/site/live';
import type { PublicSite } from '@/server/site/public-site';
import { malformed, sayRefusal, type Guard } from '@/server/access/guard';
import { isFullError } from '@/store/db/connection';
import { logError } from '@/server/base/log';
import { comesFromHere, LOCAL_HEADER, type ProxyTrust } from '@/server/access/proxy';
import { dropUnknownHeaders, setContentPolicy, setSecurityHeaders } from '@/server/access/security-headers';

export interface FrontDoorParts {
  trust: ProxyTrust;
  guard: Guard;
  /** Pages carry a policy of what they may load. */
  withPolicy: boolean;
  /** The public address is https. */
  encrypted: boolean;
  intake: ReportIntake;
  live: LiveDesk;
  /** The wrapper for jobs, with the address it was asked for at. */
  wrapper: (request: IncomingMessage) => string;
  pages: (request: IncomingMessage, response: ServerResponse) => Promise<void>;
  publicSite: PublicSite;
  /** Why not everything is done that should be, in a sentence; null while it is. */
  unreadiness: () => Promise<string | null>;
}

/** What a request may take to arrive, its header less, and how large that may be. Every door behind goes by the same. */
export const REQUEST_LIMITS = {
  requestTimeout: 120_000,
  headersTimeout: 20_000,
  maxHeaderSize: 16 * 1024,
  connectionsCheckingInterval: 5_000,
  // Proxies keep a line for a minute: whoever hangs up first may do so just as the other asks, which is then an error.
  keepAliveTimeout: 65_000,
};

function plain(response: ServerResponse, status: number, text: string): void {
  response.writeHead(status, { 'content-type': 'text/plain; charset=utf-8', 'cache-control': 'no-store' });
  response.end(`${text}\n`);
}

async function route(
  parts: FrontDoorParts,
  request: IncomingMessage,
  response: ServerResponse,
): Promise<void> {
  const local = comesFromHere(request);
  const client = parts.trust.clean(request);
  setSecurityHeaders(response, parts.encrypted);
  const wrong = malformed(request);
  if (wrong && !wrong.pass) return sayRefusal(request, response, wrong);
  const path = (request.url ?? '/').split('?', 1)[0]!;
  if (path === '/lantern-run') return plain(response, 200, parts.wrapper(request).trimEnd());
  if (path.startsWith('/in/')) return handleCheckin(parts.intake, request, response, client);
  if (path === '/healthz') return plain(response, 200, 'ok');
  if (path === '/readyz') {
    const why = await parts.unreadiness();
    return plain(response, why === null ? 200 : 503, why ?? 'ready');
  }
  if (await parts.publicSite.serve(request, response, client)) return;
  if (path === '/live') return parts.live.openDesk(request, response);
  if (path === '/api/v1/events' && request.method === 'GET') return parts.live.openEvents(request, response);
  dropUnknownHeaders(request, ['x-lantern-client']);
  if (local) request.headers[LOCAL_HEADER] = '1';
  const verdict = await parts.guard.decide(request);
  if (!verdict.pass) return sayRefusal(request, response, verdict);
  if (parts.withPolicy) setContentPolicy(request, response);
  return parts.pages(request, response);
}

/** One port: check-ins, health and live events are handled here, everything else by the pages. */
export function createFrontDoor(parts: FrontDoorParts, limits: Partial<typeof REQUEST_LIMITS> = {}): Server {
  return createServer({ ...REQUEST_LIMITS, ...limits }, (request, response) => {
    route(parts, request, response).catch((error: unknown) => {
      logError(`${request.method} ${request.url?.split('?', 1)[0]}`, error);
      if (response.headersSent) response.destroy();
      else if (isFullError(error))
        plain(response, 503, 'There is no room to keep anything. Please try again later.');
      else plain(response, 500, 'Something went wrong here. It was noted.');
    });
  });
}
