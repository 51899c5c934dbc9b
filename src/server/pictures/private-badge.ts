import type { IncomingMessage, ServerResponse } from 'node:http';
import type { Knex } from 'knex';
import { fetchBadgeBySecret } from '@/store/pages/private-badges';
import { readBadge } from '@/server/site/asked';
import type { Copies, Wanted } from '@/server/site/copying/copies';
import type { Draw } from '@/server/site/drawing';
import { isRead, sendDrawn, sendGone, sendTooMuch } from '@/server/site/sending';
import type { Slowing } from '@/server/site/slowing';

interface BadgeParts {
  db: Knex;
  copies: Pick<Copies, 'fresh' | 'get'>;
  draw: Draw;
  /** Milliseconds of a clock nobody sets. */
  monotonic: () => number;
  slowing: Pick<Slowing, 'isSlowed'>;
}

/** A badge of what need not stand on any page, to whoever knows its secret. */
export async function servePrivateBadge(
  { db, copies, draw, monotonic, slowing }: BadgeParts,
  { request, response, client }: { request: IncomingMessage; response: ServerResponse; client: string },
  { secret, type, query }: { secret: string; type: string; query: string },
): Promise<void> {
  if (!isRead(request)) {
    response.writeHead(405, { allow: 'GET, HEAD' }).end();
    return;
  }
  const { wish, days, chosen } = readBadge(new URLSearchParams(query));
  const look = {
    as: type === 'png' ? ('png' as const) : ('svg' as const),
    wish,
    days,
    language: chosen ?? 'en',
  } as const;
  const wanted: Wanted = {
    key: JSON.stringify(['badge', secret, look]),
    // What it stands for is not known without a query: it is drawn anew as often as a copy may be old.
    changedAt: () => -Infinity,
    draw: () => draw({ privately: { secret, ...look } }),
  };
  let copy = copies.fresh(wanted);
  if (!copy) {
    // Whoever guesses has nothing drawn.
    if (!(await fetchBadgeBySecret(db, secret))) return sendGone({ request, response });
    if (slowing.isSlowed({ what: 'badge' }, client, monotonic())) return sendTooMuch(response);
    copy = await copies.get(wanted);
  }
  if (!copy) return sendGone({ request, response });
  sendDrawn({ request, response }, copy, {
    'cache-control': 'private, max-age=5',
    'cross-origin-resource-policy': 'cross-origin',
    'content-security-policy': "default-src 'none'; style-src 'unsafe-inline'",
    'x-robots-tag': 'noindex, nofollow',
  });
}
