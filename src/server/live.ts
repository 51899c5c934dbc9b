import type { EventEmitter } from 'node:events';
import type { IncomingMessage, ServerResponse } from 'node:http';
import type { Knex } from 'knex';
import { hashSecret } from '../accounts/secrets';
import { cookieValue, SESSION_COOKIE } from '../accounts/cookie';
import type { EngineNews } from '../engine/protocol';
import { fetchSessionAccount } from '../store/accounts';
import { fetchPageBySlug, type Page } from '../store/pages';

const KEEP_ALIVE_MS = 20_000;
const MOST_LISTENERS = 2000;

interface Listener {
  response: ServerResponse;
  /** Only these watches, and only that something changed; null for everything. */
  watchIds: Set<number> | null;
  pageId: number | null;
}

function shownOn(page: Page): Set<number> {
  return new Set(page.sections.flatMap((section) => section.items.map((item) => item.watchId)));
}

/** Server-sent events (WHATWG HTML): what changes is told to every open desk and public page. */
export class LiveDesk {
  private readonly listeners = new Set<Listener>();
  private readonly timer: NodeJS.Timeout;
  /** When anything last changed; a start counts as a change, for nobody knows what was missed. */
  private changedAt: number;
  private readonly watchChangedAt = new Map<number, number>();
  private readonly pageChangedAt = new Map<number, number>();
  private plansChangedAt = 0;
  private readonly startedAt: number;

  constructor(
    private readonly db: Knex,
    hub: EventEmitter,
    private readonly now: () => number,
  ) {
    this.startedAt = this.changedAt = now();
    hub.on('watches', (watches: EngineNews['watches']) => this.tellWatches(watches));
    hub.on('deliveries', () => this.tellDesk('deliveries'));
    hub.on('mails', () => this.tellDesk('changed'));
    hub.on('plans', () => {
      this.plansChangedAt = this.changedAt = now();
      for (const l of this.listeners) this.send(l, 'changed', {});
    });
    hub.on('pages', (pageId: number) => {
      this.changedAt = now();
      this.pageChangedAt.set(pageId, this.changedAt);
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
    const token = cookieValue(request.headers.cookie, SESSION_COOKIE);
    const account = token ? await fetchSessionAccount(this.db, hashSecret(token), this.now()) : null;
    if (!account) {
      response.writeHead(401, { 'content-type': 'text/plain' }).end('Sign in first.\n');
      return;
    }
    this.open(request, response, null, null);
  }

  /** GET /p/<slug>/live for a public page; it says that something changed, and nothing else. */
  async openPage(request: IncomingMessage, response: ServerResponse, slug: string): Promise<void> {
    const page = await fetchPageBySlug(this.db, slug);
    if (!page) {
      response.writeHead(404, { 'content-type': 'text/plain' }).end('There is no such page.\n');
      return;
    }
    this.open(request, response, shownOn(page), page.id);
  }

  private open(
    request: IncomingMessage,
    response: ServerResponse,
    watchIds: Set<number> | null,
    pageId: number | null,
  ): void {
    if (this.listeners.size >= MOST_LISTENERS) {
      response.writeHead(503, { 'retry-after': '60' }).end();
      return;
    }
    response.writeHead(200, {
      'content-type': 'text/event-stream',
      'cache-control': 'no-store',
      'x-accel-buffering': 'no',
    });
    const listener = { response, watchIds, pageId };
    const greeting = JSON.stringify({ changedAt: this.lastChangeFor(listener) });
    response.write(`retry: 2000\nevent: hello\ndata: ${greeting}\n\n`);
    this.listeners.add(listener);
    request.on('close', () => this.listeners.delete(listener));
  }

  /** When something that a public page shows last changed. */
  changedAtOf(page: Page): number {
    return this.lastChangeFor({ watchIds: shownOn(page), pageId: page.id });
  }

  private lastChangeFor({ watchIds, pageId }: Pick<Listener, 'watchIds' | 'pageId'>): number {
    if (watchIds === null) return this.changedAt;
    const times = [...watchIds].map((id) => this.watchChangedAt.get(id) ?? 0);
    return Math.max(this.startedAt, this.plansChangedAt, this.pageChangedAt.get(pageId ?? -1) ?? 0, ...times);
  }

  private send(listener: Listener, event: string, data: unknown): void {
    listener.response.write(`event: ${event}\ndata: ${JSON.stringify(data)}\n\n`);
  }

  private tellDesk(event: string): void {
    this.changedAt = this.now();
    for (const l of this.listeners) if (l.watchIds === null) this.send(l, event, {});
  }

  private tellWatches(watches: EngineNews['watches']): void {
    this.changedAt = this.now();
    for (const { id } of watches) this.watchChangedAt.set(id, this.changedAt);
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
