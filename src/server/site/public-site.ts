import type { IncomingMessage, ServerResponse } from 'node:http';
import type { Knex } from 'knex';
import { TooBusyError } from '@/accounts/hash-limiter';
import { dayBeside } from '@/core/pages/days';
import { pageName } from '@/core/pages/page-address';
import { PICTURE_NAME, picturesOf } from '@/core/pages/picture';
import { dateAt } from '@/core/time/zone-time';
import { whoAsks } from '@/server/access/principal';
import type { Door } from '@/site/sheets/door-sheet';
import type { Page } from '@/store/pages/pages';
import { isOpened, MOST_PASSWORD_BYTES, openingCookie, PagePasswords, readPassword } from './access';
import { languageFor, readAsked } from './asked';
import type { Arrivals } from './arrivals';
import type { SiteAssets } from './assets';
import type { Copies } from './copying/copies';
import type { Draw } from './drawing';
import type { FollowDesk } from './follow';
import type { IndexedPage, PageIndex } from './page-index';
import type { Previews } from './previews';
import { sendChosenPicture, sendPicture, type PictureShelf } from '@/server/pictures/shelf';
import { servePreview } from './preview-site';
import { servePrivateBadge } from '@/server/pictures/private-badge';
import { Slowing } from './slowing';
import {
  isRead,
  sendAsset,
  sendScript,
  sendCopy,
  sendDoor,
  sendGone,
  sendLook,
  sendTooMuch,
  type Call,
} from './sending';
import { baseOf, hostOf, wantedOf } from './wanted';

export interface PublicSiteOptions {
  db: Knex;
  index: PageIndex;
  copies: Copies;
  assets: SiteAssets;
  /** Wall-clock time. */
  now: () => number;
  /** Milliseconds of a clock nobody sets. */
  monotonic: () => number;
  zone: string;
  /** The address the desk goes by, without a slash at its end; null where none is set. */
  baseUrl: string | null;
  lookFile: (page: Page) => string | null;
  lookOf: (page: Page) => string;
  previews: Pick<Previews, 'get'>;
  draw: Draw;
  openLive: (request: IncomingMessage, response: ServerResponse, entry: IndexedPage, client: string) => void;
  follow: Pick<FollowDesk, 'answer'>;
  pictures: Pick<PictureShelf, 'get'>;
  arrivals: Pick<Arrivals, 'note'>;
}

const BELOW = /^\/p\/([a-z0-9-]{1,60}(?:\.[\w-]{20,40})?)(?:\/(.*))?$/s;
/** Found by a secret alone, under any name the desk goes by. */
const PRIVATE_BADGE = /^\/badge\/([\w-]{20,40})\.(svg|png)$/;
/** What we ask for ourselves, to learn where a name leads. */
const EXPECTED = /^\/whose\/([\w-]{20,40})$/;
const CHOSEN_PICTURE = /^\/picture\/([\w.-]{1,60})$/;
const PREVIEW = /^\/preview\/([\w-]{20,40})\/(.*)$/s;

/** Serves the public pages: who may see what, from copies that are drawn and packed once. */
export class PublicSite {
  private readonly passwords: PagePasswords;
  private readonly slowing = new Slowing();

  constructor(private readonly options: PublicSiteOptions) {
    this.passwords = new PagePasswords(options.now);
  }

  /** Answers what is asked of a public page; false where the request is for something else. */
  async serve(request: IncomingMessage, response: ServerResponse, client: string): Promise<boolean> {
    const url = request.url ?? '/';
    const [path = '/', query = ''] = url.split(/\?(.*)/s, 2);
    const [, expected] = EXPECTED.exec(path) ?? [];
    if (expected !== undefined) {
      const encrypted = request.headers['x-forwarded-proto'] === 'https';
      const known = this.options.arrivals.note(expected, { host: hostOf(request), encrypted });
      if (known) response.writeHead(204, { 'cache-control': 'no-store' }).end();
      else sendGone({ request, response });
      return true;
    }
    const [, secret, type] = PRIVATE_BADGE.exec(path) ?? [];
    if (secret !== undefined) {
      const parts = { ...this.options, slowing: this.slowing };
      await servePrivateBadge(parts, { request, response, client }, { secret, type: type!, query });
      return true;
    }
    const own = await this.ownPage(request);
    if (own) {
      await this.answer(request, response, { entry: own, path: '/', rest: path.slice(1), query, client });
      return true;
    }
    const [, mark, within] = PREVIEW.exec(path) ?? [];
    if (mark !== undefined) {
      await servePreview(this.options, request, response, { mark, rest: within ?? '', query });
      return true;
    }
    const [, picture] = CHOSEN_PICTURE.exec(path) ?? [];
    if (picture !== undefined && PICTURE_NAME.test(picture)) {
      const { db, now, pictures: shelf } = this.options;
      await sendChosenPicture({ request, response }, { db, now: now(), shelf }, picture);
      return true;
    }
    const [, name, rest] = BELOW.exec(path) ?? [];
    if (name === undefined) {
      if (!path.startsWith('/p/')) return false;
      sendGone({ request, response });
      return true;
    }
    const here = await this.options.index.byName(name);
    const entry = here ?? (await this.options.index.byFormerName(name));
    if (!entry) {
      sendGone({ request, response });
    } else if (!here && isRead(request)) {
      // A link of old leads on; who sends something, a mail program that unsubscribes say, is answered here.
      const up = rest === undefined ? '' : '../'.repeat(rest.split('/').length);
      const location = `${up}${pageName(entry.page)}/${rest ?? ''}${query ? `?${query}` : ''}`;
      response.writeHead(308, { location, 'cache-control': 'no-cache' }).end();
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
    const chosen = asked && 'chosen' in asked ? asked.chosen : null;
    // Pictures are kept on the way for everybody who sees them.
    const own = asked?.what === 'badge' || asked?.what === 'social';
    const { language: usual } = entry.page;
    const language = chosen ?? (own ? usual : languageFor(request.headers['accept-language'], usual));
    const root = rest.includes('/') ? '../'.repeat(rest.split('/').length - 1) : './';
    const shut = (door: Door, status: number) =>
      this.shut({ request, response, entry, language, root }, door, status);
    if (!asked) return shut({ door: 'gone' }, 404);
    const call = { request, response, entry, asked, path, root, language, client };
    if (asked.what === 'password') return this.takePassword(call);
    // Whoever holds a link from a letter need not know what else opens the page.
    if (asked.what === 'follow' && 'token' in asked) return this.options.follow.answer(call, asked);
    if (!isRead(request) && asked.what !== 'follow') {
      response.writeHead(405, { allow: 'GET, HEAD' }).end();
      return;
    }
    // What ships with the product, and looks the same on every page, says nothing of any.
    if (asked.what === 'asset') return sendAsset(call, this.options.assets, asked.name);
    if (asked.what === 'file' && asked.file === 'metrics') {
      const who = await whoAsks(this.options.db, request.headers, this.options.now());
      if (!who?.rights.has('look')) {
        response.writeHead(401, { 'www-authenticate': 'Bearer', 'content-type': 'text/plain' });
        response.end('Send a token (Authorization: Bearer …).\n');
        return;
      }
    } else {
      const door = await this.doorFor(call);
      if (door) return shut(door, 403);
    }
    if (asked.what === 'follow') return this.options.follow.answer(call, asked);
    if (asked.what === 'near') {
      const today = dateAt(this.options.now(), entry.page.zone ?? this.options.zone);
      const location = asked.day === 'today' ? today : dayBeside(today, -1);
      response
        .writeHead(307, { location: `${location}${query ? `?${query}` : ''}`, 'cache-control': 'no-cache' })
        .end();
      return;
    }
    if (asked.what === 'live') {
      if (request.method === 'GET') return this.options.openLive(request, response, entry, client);
      response.writeHead(200, { 'content-type': 'text/event-stream', 'cache-control': 'no-store' }).end();
      return;
    }
    if (asked.what === 'look') {
      // An older name leads to what is now.
      const { lookOf, lookFile } = this.options;
      const forGood = asked.name === lookFile(entry.page) && entry.page.audience === 'everyone';
      return sendLook(call, lookOf(entry.page), forGood);
    }
    if (asked.what === 'bar' || asked.what === 'worker') return sendScript(call, this.options.assets);
    if (asked.what === 'picture') {
      // What was taken off a page is not found by it any more.
      if (!picturesOf(entry.page).includes(asked.name)) return shut({ door: 'gone' }, 404);
      return sendPicture(call, this.options.pictures, asked.name, entry.page.audience === 'everyone');
    }
    const wanted = wantedOf(call, this.options);
    const fresh = this.options.copies.fresh(wanted);
    if (!fresh && this.slowing.isSlowed(asked, client, this.options.monotonic())) {
      return sendTooMuch(response);
    }
    const copy = fresh ?? (await this.options.copies.get(wanted));
    if (!copy) return shut({ door: 'gone' }, 404);
    sendCopy(call, copy);
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
        return who?.rights.has('look')
          ? null
          : { door: 'sign-in', address: `${this.options.baseUrl ?? ''}/sign-in` };
      }
    }
  }

  private shut(
    {
      request,
      response,
      entry,
      language,
      root,
    }: Pick<Call, 'request' | 'response' | 'entry' | 'language' | 'root'>,
    door: Door,
    status: number,
  ): void {
    const { now, zone, assets } = this.options;
    sendDoor(request, response, entry.page, door, status, { language, root, now: now(), zone, assets });
  }

  private async takePassword(call: Call): Promise<void> {
    const { request, response, entry, path, client } = call;
    const { page } = entry;
    if (request.method !== 'POST' || page.audience !== 'password') {
      const headers = { allow: 'POST', 'content-type': 'text/plain', 'cache-control': 'no-store' };
      response
        .writeHead(request.method === 'POST' ? 404 : 405, headers)
        .end('Expected a password to be sent.\n');
      return;
    }
    const refuse = (door: Door, status: number) => this.shut(call, door, status);
    if (Number(request.headers['content-length'] ?? 0) > MOST_PASSWORD_BYTES) {
      response.setHeader('connection', 'close');
      return refuse({ door: 'password', wrong: true, waitMs: null }, 413);
    }
    const password = await readPassword(request);
    const tried = await this.passwords.try(page, client, password).catch((error: unknown) => {
      if (error instanceof TooBusyError) return { waitMs: 5000 };
      throw error;
    });
    if (tried === 'wrong') return refuse({ door: 'password', wrong: true, waitMs: null }, 403);
    if (tried !== 'right') return refuse({ door: 'password', wrong: false, waitMs: tried.waitMs }, 429);
    const encrypted = baseOf(call, this.options.baseUrl).startsWith('https:');
    const prefix = path === '/' ? '/' : new URL(baseOf(call, this.options.baseUrl)).pathname;
    response.writeHead(303, {
      location: './',
      'set-cookie': openingCookie(page, prefix, encrypted, this.options.now()),
      'cache-control': 'no-store',
    });
    response.end();
  }
}
