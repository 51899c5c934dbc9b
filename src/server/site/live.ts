import type { EventEmitter } from 'node:events';
import type { IncomingMessage, ServerResponse } from 'node:http';
import type { Knex } from 'knex';
import type { Notice } from '@/core/messages/notice';
import type { EngineNews } from '@/engine/link/protocol';
import type { IndexedPage, PageIndex } from '@/server/site/page-index';
import { sayRefusal } from '@/server/access/guard';
import { whoAsks } from '@/server/access/principal';

const KEEP_ALIVE_MS = 20_000;
/** The desk has room of its own: however many follow public pages, it is not shut out. */
const MOST_AT_THE_DESK = 500;
const MOST_PUBLIC = 2000;
/** One client follows public pages at most so often at once. A whole office may be one client. */
const MOST_OF_A_CLIENT = 40;
/** Whoever does not take what is sent for this long is let go of, by bytes that wait. */
const MOST_UNSENT_BYTES = 1_000_000;

interface Listener {
  response: ServerResponse;
  /** Only these watches, and only that something changed; null for everything. */
  watchIds: ReadonlySet<number> | null;
  pageId: number | null;
  /** Who follows a public page; null at the desk. */
  client: string | null;
}

export interface LiveDeskOptions {
  db: Knex;
  hub: EventEmitter;
  /** Which page shows what, and when that changed. */
  index: PageIndex;
  wall: () => number;
  /** All times in here are by this clock, which nobody sets. */
  now: () => number;
}

/** Server-sent events (WHATWG HTML): what changes is told to every open desk and public page. */
export class LiveDesk {
  private readonly listeners = new Set<Listener>();
  private readonly timer: NodeJS.Timeout;
  /** When anything last changed; a start counts as a change, for nobody knows what was missed. */
  private changedAt: number;
  private readonly db: Knex;
  private readonly index: PageIndex;
  private readonly wall: () => number;
  private readonly now: () => number;

  constructor({ db, hub, index, wall, now }: LiveDeskOptions) {
    this.db = db;
    this.index = index;
    this.wall = wall;
    this.now = now;
    this.changedAt = now();
    hub.on('watches', (watches: EngineNews['watches']) => this.tellWatches(watches));
    hub.on('deliveries', () => this.tellDesk('deliveries'));
    hub.on('notice', (notice: Notice) => {
      for (const l of this.listeners) if (l.watchIds === null) this.send(l, 'notice', notice);
    });
    hub.on('mails', () => this.tellDesk('changed'));
    hub.on('plans', () => {
      this.changedAt = now();
      index.plansChanged();
      for (const l of this.listeners) this.send(l, 'changed', {});
    });
    hub.on('pages', (pageId: number) => {
      this.changedAt = now();
      index.pageChanged(pageId);
      for (const l of this.listeners)
        if (l.pageId === pageId || l.watchIds === null) this.send(l, 'changed', {});
    });
    this.timer = setInterval(() => {
      for (const { response } of this.listeners) response.write(': still here\n\n');
    }, KEEP_ALIVE_MS);
    this.timer.unref();
  }

  /** GET /live for the desk, which needs a session. */
  async openDesk(request: IncomingMessage, response: ServerResponse): Promise<void> {
    const who = await whoAsks(this.db, request.headers, this.wall());
    if (who?.type !== 'account') {
      response.writeHead(401, { 'content-type': 'text/plain' }).end('Sign in first.\n');
      return;
    }
    this.open(request, response, { watchIds: null, pageId: null, client: null });
  }

  /** GET /api/v1/events for programs with a token, and for whoever signed in. */
  async openEvents(request: IncomingMessage, response: ServerResponse): Promise<void> {
    const who = await whoAsks(this.db, request.headers, this.wall());
    if (!who?.rights.has('look')) {
      const detail = 'Send a token (Authorization: Bearer …), or sign in.';
      const headers = { 'www-authenticate': 'Bearer' };
      return sayRefusal(request, response, { pass: false, status: 401, detail, headers });
    }
    this.open(request, response, { watchIds: null, pageId: null, client: null });
  }

  /** What follows a public page, once that may be seen: it says that something changed, and nothing else. */
  openPage(request: IncomingMessage, response: ServerResponse, entry: IndexedPage, client: string): void {
    this.open(request, response, { watchIds: entry.watchIds, pageId: entry.page.id, client }, entry);
  }

  private hasRoom(client: string | null): boolean {
    const all = [...this.listeners];
    if (client === null) return all.filter((l) => l.client === null).length < MOST_AT_THE_DESK;
    const visitors = all.filter((l) => l.client !== null);
    return (
      visitors.length < MOST_PUBLIC && visitors.filter((l) => l.client === client).length < MOST_OF_A_CLIENT
    );
  }

  private open(
    request: IncomingMessage,
    response: ServerResponse,
    wanted: Pick<Listener, 'watchIds' | 'pageId' | 'client'>,
    entry: IndexedPage | null = null,
  ): void {
    if (!this.hasRoom(wanted.client)) {
      response.writeHead(503, { 'retry-after': '60' }).end();
      return;
    }
    response.writeHead(200, {
      'content-type': 'text/event-stream',
      'cache-control': 'no-store',
      'x-accel-buffering': 'no',
    });
    const listener = { response, ...wanted };
    // As the wall clock has it by now: pages say by it when they were read.
    const last = entry ? this.index.changedAtOf(entry) : this.changedAt;
    const changedAt = this.wall() - (this.now() - last);
    const greeting = JSON.stringify({ changedAt });
    response.write(`retry: 2000\nid: ${this.wall()}\nevent: hello\ndata: ${greeting}\n\n`);
    this.listeners.add(listener);
    request.on('close', () => this.listeners.delete(listener));
  }

  /** Each event's id is when it was sent, by the wall clock: pages say by it when they were read. */
  private send(listener: Listener, event: string, data: unknown): void {
    const { response } = listener;
    // Who stopped reading comes back by itself and is then told what it missed.
    if (response.writableLength > MOST_UNSENT_BYTES) response.destroy();
    else response.write(`id: ${this.wall()}\nevent: ${event}\ndata: ${JSON.stringify(data)}\n\n`);
  }

  private tellDesk(event: string): void {
    this.changedAt = this.now();
    for (const l of this.listeners) if (l.watchIds === null) this.send(l, event, {});
  }

  private tellWatches(watches: EngineNews['watches']): void {
    this.changedAt = this.now();
    void this.index.watchesChanged(watches.map(({ id }) => id));
    for (const l of this.listeners) {
      if (l.watchIds === null) this.send(l, 'watches', watches);
      else if (watches.some((w) => l.watchIds!.has(w.id))) this.send(l, 'changed', {});
    }
  }

  close(): void {
    clearInterval(this.timer);
    for (const { response } of this.listeners) response.end();
  }
}
