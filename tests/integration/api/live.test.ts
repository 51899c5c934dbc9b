import { EventEmitter } from 'node:events';
import { createServer, type IncomingMessage, type Server } from 'node:http';
import { connect, type AddressInfo } from 'node:net';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { SESSION_COOKIE } from '@/accounts/cookie';
import { hashSecret } from '@/accounts/secrets';
import { LiveDesk } from '@/server/site/live';
import { saveAccount, saveSession } from '@/store/access/accounts';
import { PageIndex } from '@/server/site/page-index';
import { saveNewPage } from '@/store/pages/pages';
import { line, pageContent } from '../pages';
import { tempStore, until, type TempStore } from '../helpers';

const STARTED = 1_000_000;
const client = (request: IncomingMessage) => String(request.headers['x-client'] ?? 'visitor');

describe('live events', () => {
  let store: TempStore;
  let server: Server;
  let hub: EventEmitter;
  let live: LiveDesk;
  let index: PageIndex;
  let base: string;
  let pageId: number;
  let clock = STARTED;
  let abort: AbortController;

  beforeEach(async () => {
    store = await tempStore();
    hub = new EventEmitter();
    clock = STARTED;
    const now = () => clock;
    index = new PageIndex(store.db, now);
    live = new LiveDesk({ db: store.db, hub, index, wall: now, now });
    abort = new AbortController();
    const account = await saveAccount(store.db, {
      email: 'ines@ternferry.test',
      passwordHash: 'x',
      createdAt: 0,
    });
    await saveSession(store.db, {
      tokenHash: hashSecret('session'),
      accountId: account.id,
      createdAt: STARTED,
      expiresAt: STARTED + 10_000,
      client: '127.0.0.1',
      agent: '',
    });
    pageId = await saveNewPage(store.db, pageContent([line(7, 'Booking')]));
    server = createServer((request, response) => {
      const slug = /^\/p\/([^/]+)/.exec(request.url ?? '')?.[1];
      if (!slug) return void live.openDesk(request, response);
      void index.byName(slug).then((entry) => {
        if (entry) live.openPage(request, response, entry, client(request));
        else response.writeHead(404).end();
      });
    });
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  });

  afterEach(async () => {
    abort.abort();
    live.close();
    server.closeAllConnections();
    server.close();
    await store.close();
  });

  async function listen(path: string, headers: Record<string, string> = {}) {
    const response = await fetch(base + path, { headers, signal: abort.signal });
    expect(response.status).toBe(200);
    expect(response.headers.get('content-type')).toBe('text/event-stream');
    const heard = { text: '' };
    void (async () => {
      const reader = response.body!.getReader();
      for (let part = await reader.read(); !part.done; part = await reader.read()) {
        heard.text += Buffer.from(part.value).toString();
      }
    })().catch(() => undefined);
    await until(() => heard.text.includes('event: hello'), 'the greeting');
    return heard;
  }

  const cookie = { cookie: `${SESSION_COOKIE}=session` };
  const change = (id: number) => hub.emit('watches', [{ id, state: 'down', at: clock }]);

  it('need a session on the desk, and a page that exists in public', async () => {
    expect((await fetch(`${base}/live`)).status).toBe(401);
    expect((await fetch(`${base}/live`, { headers: { cookie: `${SESSION_COOKIE}=wrong` } })).status).toBe(
      401,
    );
    expect((await fetch(`${base}/p/nowhere`)).status).toBe(404);
    clock = STARTED + 20_000;
    expect((await fetch(`${base}/live`, { headers: cookie })).status).toBe(401);
  });

  it('tell the desk which watches changed', async () => {
    const heard = await listen('/live', cookie);
    change(7);
    await until(() => heard.text.includes('event: watches\ndata: [{"id":7,"state":"down"'), 'the change');
    hub.emit('deliveries');
    await until(() => heard.text.includes('event: deliveries\ndata: {}'), 'the delivery');
  });

  it('say of each event when it was sent, by the clock that pages are dated by', async () => {
    const heard = await listen('/live', cookie);
    clock = STARTED + 1_234;
    change(7);
    await until(() => heard.text.includes('event: watches'), 'the change');
    expect(heard.text.match(/^id: .*$/gm)).toEqual([`id: ${STARTED}`, `id: ${STARTED + 1_234}`]);
  });

  it('tell the public that something of its page changed, and nothing of other watches', async () => {
    const heard = await listen('/p/ferries');
    change(8);
    hub.emit('deliveries');
    change(7);
    await until(() => heard.text.includes('event: changed'), 'the change');
    expect(heard.text.match(/event: /g)).toHaveLength(2);
    expect(heard.text).not.toContain('down');
    expect(heard.text).not.toContain('watches');
    hub.emit('pages', pageId);
    await until(() => heard.text.match(/event: changed\ndata: \{\}/g)?.length === 2, 'the page’s own change');
  });

  it('greet with the time of the last change, so that nothing is missed before', async () => {
    expect((await listen('/live', cookie)).text).toContain(`data: {"changedAt":${STARTED}}`);
    clock = STARTED + 5000;
    change(8);
    expect((await listen('/live', cookie)).text).toContain(`data: {"changedAt":${STARTED + 5000}}`);
    // Watch 8 is not on the page.
    expect((await listen('/p/ferries')).text).toContain(`data: {"changedAt":${STARTED}}`);
    clock = STARTED + 6000;
    change(7);
    expect((await listen('/p/ferries')).text).toContain(`data: {"changedAt":${STARTED + 6000}}`);
    clock = STARTED + 7000;
    hub.emit('pages', pageId);
    expect((await listen('/p/ferries')).text).toContain(`data: {"changedAt":${STARTED + 7000}}`);
  });

  it('has room for so many of one client, and keeps room for others and for the desk', async () => {
    const follow = async (path: string, headers: Record<string, string>) => {
      const answer = await fetch(base + path, { headers, signal: abort.signal });
      return answer.status;
    };
    const crowd: number[] = [];
    for (let i = 0; i < 45; i += 1) crowd.push(await follow('/p/ferries/live', { 'x-client': 'crowd' }));
    expect(crowd.filter((status) => status === 200)).toHaveLength(40);
    expect(crowd.slice(40)).toEqual(Array(5).fill(503));
    expect(await follow('/p/ferries/live', { 'x-client': 'another' })).toBe(200);
    expect(await follow('/live', { cookie: `${SESSION_COOKIE}=session` })).toBe(200);
  });

  const open = () =>
    new Promise<number>((resolve, reject) =>
      server.getConnections((error, count) => (error ? reject(error) : resolve(count))),
    );

  it('gives the place of whoever left to the next', async () => {
    const leaving = new AbortController();
    const follow = (signal: AbortSignal) =>
      fetch(`${base}/p/ferries/live`, { headers: { 'x-client': 'crowd' }, signal }).then((r) => r.status);
    for (let i = 0; i < 40; i += 1) expect(await follow(leaving.signal)).toBe(200);
    expect(await follow(abort.signal)).toBe(503);
    leaving.abort();
    await until(async () => (await follow(abort.signal)) === 200, 'a place that is free');
  });

  it('lets go of whoever takes nothing of what is sent, and of nobody else', async () => {
    const heard = await listen('/live', cookie);
    const { port } = server.address() as AddressInfo;
    const deaf = connect(port, '127.0.0.1').pause();
    deaf.on('error', () => undefined);
    deaf.write(`GET /live HTTP/1.1\r\nHost: desk.test\r\nCookie: ${cookie.cookie}\r\n\r\n`);
    await until(async () => (await open()) === 2, 'both are connected');
    const many = Array.from({ length: 10_000 }, (_, id) => ({ id, state: 'down', at: clock }));
    await until(async () => {
      hub.emit('watches', many);
      return (await open()) === 1;
    }, 'the one who does not listen is let go of');
    deaf.destroy();
    hub.emit('deliveries');
    await until(() => heard.text.includes('event: deliveries'), 'the other still hears');
  });
});
