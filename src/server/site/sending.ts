import type { IncomingMessage, ServerResponse } from 'node:http';
import type { Language } from '@/core/languages/language';
import { renderDoor } from '@/site/render';
import type { Door } from '@/site/sheets/door-sheet';
import type { Page } from '@/store/pages/pages';
import { frameOf } from '@/views/pages/public-page';
import type { Asked } from './asked';
import type { SiteAssets } from './assets';
import type { Copy } from './copying/copies';
import type { IndexedPage } from './page-index';

/** One request for something of a page. */
export interface Call {
  request: IncomingMessage;
  response: ServerResponse;
  entry: IndexedPage;
  asked: Asked;
  /** What comes before the page in the address, from the first slash: "/p/ferries/" or "/". */
  path: string;
  /** The way from what is asked for to where the page begins. */
  root: string;
  language: Language;
  client: string;
}

/** What a public page may load and run (Content Security Policy, level 3): only files of its own, nothing inline. */
export const POLICY = [
  "default-src 'none'",
  "script-src 'self'",
  "style-src 'self'",
  "img-src 'self'",
  "font-src 'self'",
  "connect-src 'self'",
  "worker-src 'self'",
  "form-action 'self'",
  "base-uri 'none'",
  "frame-ancestors 'none'",
].join('; ');

/** Whoever asks again within this time may be told what is kept on the way. */
const KEPT_S = 5;
export const FOR_GOOD = 'public, max-age=31536000, immutable';

/** What depends on the language of whoever asks. */
const SPOKEN: ReadonlySet<Asked['what']> = new Set(['sheet', 'embed']);

export function isRead({ method }: IncomingMessage): boolean {
  return method === 'GET' || method === 'HEAD';
}

function takesPacked({ headers }: IncomingMessage): boolean {
  return /\bgzip\b/.test(String(headers['accept-encoding'] ?? ''));
}

/** A drawn sheet or file; or that it is what was sent before. */
export function sendCopy({ request, response, entry, asked }: Call, copy: Copy): void {
  const everyone = entry.page.audience === 'everyone' && !(asked.what === 'file' && asked.file === 'metrics');
  const headers: Record<string, string> = {
    vary: SPOKEN.has(asked.what) ? 'accept-encoding, accept-language' : 'accept-encoding',
    'cache-control': everyone ? `public, max-age=${KEPT_S}` : 'private, no-cache',
  };
  if (asked.what === 'sheet') headers['content-security-policy'] = POLICY;
  const shared = ['badge', 'embed', 'social'].includes(asked.what) || (everyone && asked.what === 'file');
  if (shared) Object.assign(headers, openToOthers(response, asked));
  if (!entry.page.listed) headers['x-robots-tag'] = 'noindex, nofollow';
  sendDrawn({ request, response }, copy, headers);
}

/** Something drawn, packed for whoever takes it so; or that it is what was sent before. */
export function sendDrawn(
  { request, response }: Pick<Call, 'request' | 'response'>,
  copy: Copy,
  others: Readonly<Record<string, string>>,
): void {
  const packed = takesPacked(request);
  const tag = packed ? copy.packedTag : copy.tag;
  const headers: Record<string, string | number> = {
    'content-type': copy.type,
    etag: tag,
    vary: 'accept-encoding',
    ...others,
  };
  const known = String(request.headers['if-none-match'] ?? '');
  if (known.includes(tag) || known.trim() === '*') {
    response.writeHead(304, headers).end();
    return;
  }
  const body = packed ? copy.packed : copy.body;
  if (packed) headers['content-encoding'] = 'gzip';
  headers['content-length'] = body.length;
  response.writeHead(200, headers);
  response.end(request.method === 'HEAD' ? undefined : body);
}

/** The script for pages of others, and that for browsers which are told: short of kept, for each goes by one name for good. */
export function sendScript(
  { request, response, asked }: Pick<Call, 'request' | 'response' | 'asked'>,
  assets: SiteAssets,
): void {
  const worker = asked.what === 'worker';
  const asset = assets.get(assets.nameOf(worker ? 'push.js' : 'bar.js').replace('assets/', ''));
  response.writeHead(200, {
    'content-type': 'text/javascript; charset=utf-8',
    'content-length': asset?.body.length ?? 0,
    'cache-control': 'public, max-age=3600',
    'cross-origin-resource-policy': worker ? 'same-origin' : 'cross-origin',
  });
  response.end(request.method === 'HEAD' ? undefined : asset?.body);
}

/** What a page for everyone shows in pages of others: badges, frames, and its state for their scripts. */
function openToOthers(response: ServerResponse, asked: Asked): Record<string, string> {
  if (asked.what === 'embed') response.removeHeader('x-frame-options');
  return {
    'cross-origin-resource-policy': 'cross-origin',
    ...(asked.what === 'file' && { 'access-control-allow-origin': '*' }),
    ...(asked.what === 'badge' && {
      'content-security-policy': "default-src 'none'; style-src 'unsafe-inline'",
    }),
    ...(asked.what === 'embed' && {
      'content-security-policy': POLICY.replace("frame-ancestors 'none'", 'frame-ancestors *'),
    }),
  };
}

/** What ships with the product. */
export function sendAsset(
  { request, response }: Pick<Call, 'request' | 'response'>,
  assets: SiteAssets,
  name: string,
): void {
  const asset = assets.get(name);
  if (!asset) {
    response
      .writeHead(404, { 'content-type': 'text/plain', 'cache-control': 'no-cache' })
      .end('There is nothing here.\n');
    return;
  }
  const packed = asset.packed && takesPacked(request);
  const body = packed ? asset.packed! : asset.body;
  response.writeHead(200, {
    'content-type': asset.type,
    'content-length': body.length,
    'cache-control': FOR_GOOD,
    vary: 'accept-encoding',
    ...(packed && { 'content-encoding': 'gzip' }),
  });
  response.end(request.method === 'HEAD' ? undefined : body);
}

/** The page's own colours and rules; an older name leads to what is now. */
export function sendLook(
  { request, response }: Pick<Call, 'request' | 'response'>,
  body: string,
  forGood: boolean,
): void {
  response.writeHead(200, {
    'content-type': 'text/css; charset=utf-8',
    'content-length': Buffer.byteLength(body),
    'cache-control': forGood ? FOR_GOOD : 'private, no-cache',
  });
  response.end(request.method === 'HEAD' ? undefined : body);
}

/** Where and when a door stands. */
interface DoorPlace {
  language: Language;
  root: string;
  now: number;
  zone: string;
  assets: SiteAssets;
}

/** There is nothing: said alike for what never was and what is not for whoever asks. */
export function sendGone({ request, response }: Pick<Call, 'request' | 'response'>): void {
  response.writeHead(404, { 'cache-control': 'no-store', 'content-type': 'text/plain; charset=utf-8' });
  response.end(request.method === 'HEAD' ? undefined : 'There is no such page.\n');
}

/** Whoever has much drawn waits. */
export function sendTooMuch(response: ServerResponse): void {
  response.writeHead(429, {
    'retry-after': '10',
    'content-type': 'text/plain',
    'cache-control': 'no-store',
  });
  response.end('Too much was asked for at once. Please try again in a while.\n');
}

/** What stands where a page may not be seen, or has no such sheet. */
export function sendDoor(
  request: IncomingMessage,
  response: ServerResponse,
  page: Page,
  door: Door,
  status: number,
  { language, root, ...frame }: DoorPlace,
): void {
  const headers: Record<string, string> = { 'cache-control': 'no-store' };
  if (door.door === 'password' && door.waitMs !== null) {
    headers['retry-after'] = String(Math.ceil(door.waitMs / 1000));
  }
  const body = renderDoor(frameOf(page, frame.now, frame.zone), door, {
    language,
    place: { root, chosen: null, filed: false, live: false },
    assets: frame.assets.nameOf,
    lookFile: null,
    whole: null,
    madeAt: null,
  });
  response.writeHead(status, {
    ...headers,
    'content-type': 'text/html; charset=utf-8',
    'content-security-policy': POLICY,
    'content-length': Buffer.byteLength(body),
  });
  response.end(request.method === 'HEAD' ? undefined : body);
}
