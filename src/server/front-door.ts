import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import { handleCheckin } from './checkin';
import type { Inbox } from './inbox';
import type { LiveDesk } from './live';
import type { PageCache } from './page-cache';
import { logError } from './log';
import type { ProxyTrust } from './proxy';

export interface FrontDoorParts {
  trust: ProxyTrust;
  inbox: Inbox;
  live: LiveDesk;
  /** The wrapper for jobs, with the address it was asked for at. */
  wrapper: (request: IncomingMessage) => string;
  pages: (request: IncomingMessage, response: ServerResponse) => Promise<void>;
  publicPages: PageCache;
  isReady: () => Promise<boolean>;
}

const PUBLIC_PAGE = /^\/p\/([a-z0-9-]{1,60})$/;
const PAGE_LIVE = /^\/p\/([a-z0-9-]{1,60})\/live$/;

function plain(response: ServerResponse, status: number, text: string): void {
  response.writeHead(status, { 'content-type': 'text/plain; charset=utf-8', 'cache-control': 'no-store' });
  response.end(`${text}\n`);
}

async function route(
  parts: FrontDoorParts,
  request: IncomingMessage,
  response: ServerResponse,
): Promise<void> {
  const client = parts.trust.clean(request);
  const path = (request.url ?? '/').split('?', 1)[0]!;
  if (path === '/lantern-run') return plain(response, 200, parts.wrapper(request).trimEnd());
  if (path.startsWith('/in/')) return handleCheckin(parts.inbox, request, response, client);
  if (path === '/healthz') return plain(response, 200, 'ok');
  if (path === '/readyz') {
    const ready = await parts.isReady();
    return plain(
      response,
      ready ? 200 : 503,
      ready ? 'ready' : 'The database or the engine does not answer.',
    );
  }
  if (path === '/live') return parts.live.openDesk(request, response);
  const live = PAGE_LIVE.exec(path);
  if (live) return parts.live.openPage(request, response, live[1]!);
  const page = PUBLIC_PAGE.exec(path);
  if (page) return parts.publicPages.serve(request, response, page[1]!);
  return parts.pages(request, response);
}

/** One port: check-ins, health and live events are handled here, everything else by the pages. */
export function createFrontDoor(parts: FrontDoorParts): Server {
  return createServer((request, response) => {
    route(parts, request, response).catch((error: unknown) => {
      logError(`${request.method} ${request.url?.split('?', 1)[0]}`, error);
      if (!response.headersSent) plain(response, 500, 'Something went wrong here. It was noted.');
      else response.destroy();
    });
  });
}
