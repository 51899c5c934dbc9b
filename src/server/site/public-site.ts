import type { IncomingMessage, ServerResponse } from 'node:http';
import type { Knex } from 'knex';
import { TooBusyError } from '@/accounts/hash-limiter';
import type { Language } from '@/core/languages/language';
import { readBounded } from '@/outside/read';
import { whoAsks } from '@/server/access/principal';
import { renderDoor } from '@/site/render';
import type { Door } from '@/site/sheets/door-sheet';
import type { Page } from '@/store/pages/pages';
import { frameOf } from '@/views/pages/public-page';
import { isOpened, openingCookie, PagePasswords } from './access';
import { languageFor, readAsked, type Asked } from './asked';
import type { SiteAssets } from './assets';
import { Copies, type Copy, type Wanted } from './copies';
import type { IndexedPage, PageIndex } from './page-index';
import type { Previews } from './previews';
import { drawFile, drawSheet, type SheetsWorld } from './sheets';

export interface PublicSiteOptions {
  db: Knex;
  index: PageIndex;
  copies: Copies;
  assets: SiteAssets;
  /** Wall-clock time. */
  now: () => number;
  zone: string;
  /** The address the desk goes by, without a slash at its end; null where none is set. */
  baseUrl: string | null;
  lookFile: (page: Page) => string | null;
  lookOf: (page: Page) => string;
  previews: Pick<Previews, 'get'>;
  openLive: (request: IncomingMessage, response: ServerResponse, entry: IndexedPage, client: string) => void;
}

/** What a public page may load and run (Content Security Policy, level 3): only files of its own, nothing inline. */
const POLICY = [
  "default-src 'none'",
  "script-src 'self'",
  "style-src 'self'",
  "img-src 'self'",
  "font-src 'self'",
  "connect-src 'self'",
  "form-action 'self'",
  "base-uri 'none'",
  "frame-ancestors 'none'",
].join('; ');

const BELOW = /^\/p\/([a-z0-9-]{1,60}(?:\.[\w-]{20,40})?)(?:\/(.*))?$/s;
const PREVIEW = /^\/preview\/([\w-]{20,40})\/(.*)$/s;
const MOST_PASSWORD_BYTES = 4096;
const PASSWORD_LIMIT_MS = 10_000;
/** Whoever asks again within this time may be told what is kept on the way. */
const KEPT_S = 5;

interface Call {
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

function isRead({ method }: IncomingMessage): boolean {
  return method === 'GET' || method === 'HEAD';
}

function hostOf(request: IncomingMessage): string | null {
  const host = String(request.headers['x-forwarded-host'] ?? request.headers.host ?? '').toLowerCase();
  return /^[a-z0-9.-]{1,253}(:\d{1,5})?$|^\[[0-9a-f:.]{2,45}\](:\d{1,5})?$/.test(host) ? host : null;
}

/** Serves the public pages: who may see what, from copies that are drawn and packed once. */
export class PublicSite {
  private readonly passwords: PagePasswords;
  private readonly world: SheetsWorld;

  constructor(private readonly options: PublicSiteOptions) {
    const { db, now, zone, assets, lookFile } = options;
    this.passwords = new PagePasswords(now);
    this.world = { db, now, zone, assets: assets.nameOf, lookFile };
  }

  /** Answers what is asked of a public page; false where the request is for something else. */
  async serve(request: IncomingMessage, response: ServerResponse, client: string): Promise<boolean> {
    const url = request.url ?? '/';
    const [path = '/', query = ''] = url.split(/\?(.*)/s, 2);
    const own = await this.ownPage(request);
    if (own) {
      await this.answer(request, response, { entry: own, path: '/', rest: path.slice(1), query, client });
      return true;
    }
    const [, mark, within] = PREVIEW.exec(path) ?? [];
    if (mark !== undefined) {
      await this.servePreview(request, response, { mark, rest: within ?? '', query });
      return true;
    }
    const [, name, rest] = BELOW.exec(path) ?? [];
    if (name === undefined) {
      if (!path.startsWith('/p/')) return false;
      this.sendDoor(request, response, null, { door: 'gone' }, 404);
      return true;
    }
    const entry = await this.options.index.byName(name);
    if (!entry) {
      this.sendDoor(request, response, null, { door: 'gone' }, 404);
    } else if (rest === undefined) {
      // A page begins with a slash behind its name, so that all on it can be named from there.
      response
        .writeHead(308, { location: `${name}/${query ? `?${query}` : ''}`, 'cache-control': 'no-cache' })
        .end();
    } else {
      await this.answer(request, response, { entry, path: `/p/${name}/`, rest, query, client });
    }
    return true;
  }

  /** A page that is being typed, for whoever types it, in a frame of the desk. */
  private async servePreview(
    request: IncomingMessage,
    response: ServerResponse,
    { mark, rest, query }: { mark: string; rest: string; query: string },
  ): Promise<void> {
    const kept = this.options.previews.get(mark);
    const who = await whoAsks(this.options.db, request.headers, this.options.now());
    const theirs =
      kept &&
      who?.type === 'account' &&
      kept.who.type === 'account' &&
      who.account.id === kept.who.account.id;
    const parameters = new URLSearchParams(query);
    const asked = isRead(request) ? readAsked(rest, parameters) : null;
    if (!theirs || !asked) return this.sendDoor(request, response, null, { door: 'gone' }, 404);
    const light = parameters.get('light');
    const page: Page = light === 'light' || light === 'dark' ? { ...kept.page, theme: light } : kept.page;
    const entry: IndexedPage = { page, watchIds: new Set(), changedAt: 0 };
    const root = rest.includes('/') ? '../' : './';
    const call: Call = {
      request,
      response,
      entry,
      asked,
      path: `/preview/${mark}/`,
      root,
      language: page.language,
      client: '',
    };
    if (asked.what === 'asset') return this.sendAsset(call, asked.name);
    if (asked.what === 'look')
      return this.sendLook(
        { ...call, entry: { ...entry, page: { ...page, audience: 'signed-in' } } },
        asked.name,
      );
    if (asked.what !== 'sheet') return this.sendDoor(request, response, null, { door: 'gone' }, 404);
    const { address, words, chosen } = asked;
    const drawn = await drawSheet(this.world, page, {
      ...{ address, words, madeAt: null, draft: kept.draft },
      language: chosen ?? page.language,
      place: { root, chosen, filed: false, live: false },
    });
    if (!drawn) return this.sendDoor(request, response, null, { door: 'gone' }, 404);
    response.writeHead(200, {
      'content-type': drawn.type,
      'cache-control': 'no-store',
      'x-frame-options': 'SAMEORIGIN',
      'content-security-policy': POLICY.replace("frame-ancestors 'none'", "frame-ancestors 'self'"),
    });
    response.end(request.method === 'HEAD' ? undefined : drawn.body);
  }

  /** The page that goes by the name a request was sent to. */
  private async ownPage(request: IncomingMessage): Promise<IndexedPage | null> {
    const host = hostOf(request)?.replace(/:\d+$/, '');
    return host ? this.options.index.byHost(host) : null;
  }

  private async answer(
    request: IncomingMessage,
    response: ServerResponse,
    {
      entry,
      path,
      rest,
      query,
      client,
    }: { entry: IndexedPage; path: string; rest: string; query: string; client: string },
  ): Promise<void> {
    const asked = readAsked(rest, new URLSearchParams(query));
    const chosen = asked?.what === 'sheet' ? asked.chosen : null;
    const language = chosen ?? languageFor(request.headers['accept-language'], entry.page.language);
    const root = rest.includes('/') ? '../' : './';
    if (!asked)
      return this.sendDoor(request, response, entry.page, { door: 'gone' }, 404, { language, root });
    const call = { request, response, entry, asked, path, root, language, client };
    if (asked.what === 'password') return this.takePassword(call);
    if (!isRead(request)) {
      response.writeHead(405, { allow: 'GET, HEAD' }).end();
      return;
    }
    // What ships with the product, and looks the same on every page, says nothing of any.
    if (asked.what === 'asset') return this.sendAsset(call, asked.name);
    if (asked.what === 'file' && asked.file === 'metrics') {
      const who = await whoAsks(this.options.db, request.headers, this.options.now());
      if (!who?.rights.has('look')) {
        response.writeHead(401, { 'www-authenticate': 'Bearer', 'content-type': 'text/plain' });
        response.end('Send a token (Authorization: Bearer …).\n');
        return;
      }
    } else {
      const door = await this.doorFor(call);
      if (door) return this.sendDoor(request, response, entry.page, door, 403, { language, root });
    }
    if (asked.what === 'live') return this.options.openLive(request, response, entry, client);
    if (asked.what === 'look') return this.sendLook(call, asked.name);
    const wanted = asked.what === 'file' ? this.wantedFile(call, asked.file) : this.wantedSheet(call, asked);
    const copy = this.options.copies.fresh(wanted) ?? (await this.options.copies.get(wanted));
    if (!copy) return this.sendDoor(request, response, entry.page, { door: 'gone' }, 404, { language, root });
    this.send(call, copy);
  }

  /** What stands before a page for whoever asks; null where they may see it. */
  private async doorFor({ request, entry: { page } }: Call): Promise<Door | null> {
    switch (page.audience) {
      case 'everyone':
      case 'link':
        return null;
      case 'password':
        return isOpened(page, request.headers.cookie, this.options.now())
          ? null
          : { door: 'password', wrong: false, waitMs: null };
      case 'signed-in': {
        const who = await whoAsks(this.options.db, request.headers, this.options.now());
        return who?.rights.has('look') ? null : { door: 'sign-in', address: this.deskAddress('/sign-in') };
      }
    }
  }

  private deskAddress(path: string): string {
    return `${this.options.baseUrl ?? ''}${path}`;
  }

  private wantedSheet({ entry, root, language }: Call, asked: Asked & { what: 'sheet' }): Wanted {
    const { address, words, chosen } = asked;
    const place = { root, chosen, filed: false, live: true };
    return {
      key: JSON.stringify([entry.page.id, address, words, language, chosen]),
      changedAt: () => this.options.index.changedAtOf(entry),
      draw: () => drawSheet(this.world, entry.page, { address, words, language, place, madeAt: null }),
    };
  }

  private wantedFile(call: Call, file: Parameters<typeof drawFile>[2]): Wanted {
    const { entry } = call;
    const base = this.baseOf(call);
    return {
      key: JSON.stringify([entry.page.id, file, base]),
      changedAt: () => this.options.index.changedAtOf(entry),
      draw: () => drawFile(this.world, entry.page, file, { language: entry.page.language, base }),
    };
  }

  /** Where a page begins, as a whole address: what a reader of feeds has to be told. */
  private baseOf({ request, path }: Call): string {
    const { baseUrl } = this.options;
    const host = hostOf(request);
    const scheme =
      request.headers['x-forwarded-proto'] === 'https' || baseUrl?.startsWith('https:') ? 'https' : 'http';
    // A page with a name of its own is not found under the desk's.
    if (path === '/' || baseUrl === null) return `${scheme}://${host ?? 'localhost'}${path}`;
    return `${baseUrl}${path}`;
  }

  private send({ request, response, entry, asked }: Call, copy: Copy): void {
    const packed = /\bgzip\b/.test(String(request.headers['accept-encoding'] ?? ''));
    const tag = packed ? copy.packedTag : copy.tag;
    const everyone =
      entry.page.audience === 'everyone' && !(asked.what === 'file' && asked.file === 'metrics');
    const headers: Record<string, string | number> = {
      'content-type': copy.type,
      etag: tag,
      vary: asked.what === 'sheet' ? 'accept-encoding, accept-language' : 'accept-encoding',
      'cache-control': everyone ? `public, max-age=${KEPT_S}` : 'private, no-cache',
    };
    if (asked.what === 'sheet') headers['content-security-policy'] = POLICY;
    if (!entry.page.listed) headers['x-robots-tag'] = 'noindex, nofollow';
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

  private sendAsset({ request, response }: Call, name: string): void {
    const asset = this.options.assets.get(name);
    if (!asset) {
      response
        .writeHead(404, { 'content-type': 'text/plain', 'cache-control': 'no-cache' })
        .end('There is nothing here.\n');
      return;
    }
    const packed = asset.packed && /\bgzip\b/.test(String(request.headers['accept-encoding'] ?? ''));
    const body = packed ? asset.packed! : asset.body;
    response.writeHead(200, {
      'content-type': asset.type,
      'content-length': body.length,
      'cache-control': 'public, max-age=31536000, immutable',
      vary: 'accept-encoding',
      ...(packed && { 'content-encoding': 'gzip' }),
    });
    response.end(request.method === 'HEAD' ? undefined : body);
  }

  /** The page's own colours and rules; an older name leads to what is now. */
  private sendLook({ request, response, entry: { page } }: Call, name: string): void {
    const body = this.options.lookOf(page);
    const latest = name === this.options.lookFile(page);
    response.writeHead(200, {
      'content-type': 'text/css; charset=utf-8',
      'content-length': Buffer.byteLength(body),
      'cache-control':
        latest && page.audience === 'everyone' ? 'public, max-age=31536000, immutable' : 'private, no-cache',
    });
    response.end(request.method === 'HEAD' ? undefined : body);
  }

  private async takePassword(call: Call): Promise<void> {
    const { request, response, entry, language, root, path, client } = call;
    const { page } = entry;
    if (request.method !== 'POST' || page.audience !== 'password') {
      const headers = { allow: 'POST', 'content-type': 'text/plain', 'cache-control': 'no-store' };
      response
        .writeHead(request.method === 'POST' ? 404 : 405, headers)
        .end('Expected a password to be sent.\n');
      return;
    }
    const refuse = (door: Door, status: number) =>
      this.sendDoor(request, response, page, door, status, { language, root });
    if (Number(request.headers['content-length'] ?? 0) > MOST_PASSWORD_BYTES) {
      response.setHeader('connection', 'close');
      return refuse({ door: 'password', wrong: true, waitMs: null }, 413);
    }
    const sent = await readBounded(request, {
      mostBytes: MOST_PASSWORD_BYTES,
      withinMs: PASSWORD_LIMIT_MS,
    }).catch(() => null);
    const password = sent ? (new URLSearchParams(sent.toString('utf8')).get('password') ?? '') : '';
    const tried = await this.passwords.try(page, client, password).catch((error: unknown) => {
      if (error instanceof TooBusyError) return { waitMs: 5000 };
      throw error;
    });
    if (tried === 'wrong') return refuse({ door: 'password', wrong: true, waitMs: null }, 403);
    if (tried !== 'right') return refuse({ door: 'password', wrong: false, waitMs: tried.waitMs }, 429);
    const encrypted = this.baseOf(call).startsWith('https:');
    const prefix = path === '/' ? '/' : new URL(this.baseOf(call)).pathname;
    response.writeHead(303, {
      location: './',
      'set-cookie': openingCookie(page, prefix, encrypted, this.options.now()),
      'cache-control': 'no-store',
    });
    response.end();
  }

  /** What stands where a page may not be seen, or where there is none. */
  private sendDoor(
    request: IncomingMessage,
    response: ServerResponse,
    page: Page | null,
    door: Door,
    status: number,
    at: { language: Language; root: string } = { language: 'en', root: './' },
  ): void {
    const headers: Record<string, string> = { 'cache-control': 'no-store' };
    if (door.door === 'password' && door.waitMs !== null) {
      headers['retry-after'] = String(Math.ceil(door.waitMs / 1000));
    }
    if (!page) {
      response.writeHead(status, { ...headers, 'content-type': 'text/plain; charset=utf-8' });
      response.end(request.method === 'HEAD' ? undefined : 'There is no such page.\n');
      return;
    }
    const { now, zone, assets } = this.options;
    const body = renderDoor(frameOf(page, now(), zone), door, {
      language: at.language,
      place: { root: at.root, chosen: null, filed: false, live: false },
      assets: assets.nameOf,
      lookFile: null,
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
}
