import type { IncomingMessage, ServerResponse } from 'node:http';
import type { Knex } from 'knex';
import { whoAsks } from '@/server/access/principal';
import { picturesOf } from '@/core/pages/picture';
import type { Page } from '@/store/pages/pages';
import { readAsked } from './asked';
import type { SiteAssets } from './assets';
import type { Draw } from './drawing';
import { sendPicture, type PictureShelf } from '@/server/pictures/shelf';
import type { Previews } from './previews';
import { isRead, POLICY, sendAsset, sendGone, sendLook } from './sending';

interface PreviewParts {
  db: Knex;
  now: () => number;
  previews: Pick<Previews, 'get'>;
  assets: SiteAssets;
  draw: Draw;
  lookOf: (page: Page) => string;
  pictures: Pick<PictureShelf, 'get'>;
}

/** A page that is being typed, for whoever types it, in a frame of the desk. */
export async function servePreview(
  { db, now, previews, assets, draw, lookOf, pictures }: PreviewParts,
  request: IncomingMessage,
  response: ServerResponse,
  { mark, rest, query }: { mark: string; rest: string; query: string },
): Promise<void> {
  const kept = previews.get(mark);
  const who = await whoAsks(db, request.headers, now());
  const theirs =
    kept && who?.type === 'account' && kept.who.type === 'account' && who.account.id === kept.who.account.id;
  const parameters = new URLSearchParams(query);
  const asked = isRead(request) ? readAsked(rest, parameters) : null;
  if (!theirs || !asked) return sendGone({ request, response });
  const light = parameters.get('light');
  const page: Page = light === 'light' || light === 'dark' ? { ...kept.page, theme: light } : kept.page;
  const root = rest.includes('/') ? '../' : './';
  if (asked.what === 'asset') return sendAsset({ request, response }, assets, asked.name);
  if (asked.what === 'look') return sendLook({ request, response }, lookOf(page), false);
  if (asked.what === 'picture' && picturesOf(page).includes(asked.name)) {
    return sendPicture({ request, response }, pictures, asked.name, false);
  }
  if (asked.what !== 'sheet') return sendGone({ request, response });
  const { address, words, chosen } = asked;
  const drawn = await draw({
    page,
    sheet: {
      ...{ address, words, madeAt: null, draft: kept.draft },
      language: chosen ?? page.language,
      place: { root, chosen, filed: false, live: false },
    },
  });
  if (!drawn) return sendGone({ request, response });
  response.writeHead(200, {
    'content-type': drawn.type,
    'cache-control': 'no-store',
    'x-frame-options': 'SAMEORIGIN',
    'content-security-policy': POLICY.replace("frame-ancestors 'none'", "frame-ancestors 'self'"),
  });
  response.end(request.method === 'HEAD' ? undefined : drawn.body);
}
