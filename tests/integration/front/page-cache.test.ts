import { rmSync } from 'node:fs';
import { createServer, request as httpRequest, type IncomingMessage, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { gunzipSync, gzipSync } from 'node:zlib';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { PageCache } from '@/server/pages/page-cache';
import type { Page } from '@/store/pages/pages';
import { ask, makeCheckin, startProduct, until } from '../helpers';

const PAGE: Page = { id: 3, slug: 'ferries', title: 'Ferries', intro: '', sections: [], createdAt: 0 };

describe('copies of public pages', () => {
  let server: Server;
  let base: string;
  let now = 0;
  let changedAt = 0;
  /** What was asked of the pages; they draw while it is open. */
  let drawn: IncomingMessage[] = [];
  let arrived = 0;
  /** How long drawing was put off, in ms. */
  let rested: number[] = [];
  /** The headers the pages were handed. */
  let passed: IncomingMessage['headers'][] = [];
  let type = 'text/html';
  let gate: Promise<void> = Promise.resolve();
  let status = 200;
  let extra: Record<string, string> = {};

  beforeEach(async () => {
    now = 1_000_000;
    changedAt = 0;
    drawn = [];
    arrived = 0;
    passed = [];
    type = 'text/html';
    gate = Promise.resolve();
    status = 200;
    extra = {};
    rested = [];
    const cache = new PageCache({
      rest: async (ms) => void rested.push(ms),
      now: () => now,
      pageOf: async (slug) => (slug === 'nowhere' ? null : { ...PAGE, slug }),
      changedAt: () => changedAt,
      pages: async (request, response) => {
        drawn.push(request);
        const text = `drawn ${drawn.length} for ${request.headers.host} ${request.headers.rsc ?? ''}`;
        passed.push(request.headers);
        await gate;
        response.writeHead(status, { 'content-type': type, vary: 'rsc', ...extra });
        response.write(text.slice(0, 4));
        response.end(text.slice(4));
      },
    });
    server = createServer((request, response) => {
      arrived += 1;
      void cache.serve(request, response, request.url!.split('?')[0]!.slice(3));
    });
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  });

  afterEach(() => void server.close());

  async function get(headers: Record<string, string> = {}, path = '/p/ferries'): Promise<string> {
    return (await fetch(base + path, { headers })).text();
  }
  const host = () => 'localhost';

  it('draws a page once until something on it changes', async () => {
    const first = await fetch(`${base}/p/ferries`);
    expect(first.headers.get('vary')).toBe('rsc');
    expect(first.headers.get('content-length')).toBe(String(`drawn 1 for ${host()} `.length));
    expect(await first.text()).toBe(`drawn 1 for ${host()} `);
    now += 5000;
    expect(await get()).toBe(`drawn 1 for ${host()} `);
    // A change in the very moment of the drawing may be missing from it.
    changedAt = 1_000_000;
    expect(await get()).toBe(`drawn 2 for ${host()} `);
    expect(await get()).toBe(`drawn 2 for ${host()} `);
  });

  it('draws anew after ten seconds, for figures grow old by themselves', async () => {
    await get();
    now += 9_999;
    await get();
    expect(drawn).toHaveLength(1);
    now += 1;
    await get();
    expect(drawn).toHaveLength(2);
  });

  it('draws once for all who come meanwhile', async () => {
    let open = () => {};
    gate = new Promise((resolve) => (open = resolve));
    const crowd = Array.from({ length: 50 }, () => get());
    while (drawn.length === 0) await new Promise((resolve) => setTimeout(resolve, 5));
    open();
    expect(new Set(await Promise.all(crowd))).toEqual(new Set([`drawn 1 for ${host()} `]));
    expect(drawn).toHaveLength(1);
  });

  it('does not hand out what was begun before a change to those who come after it', async () => {
    let open = () => {};
    gate = new Promise((resolve) => (open = resolve));
    const before = get();
    while (drawn.length === 0) await new Promise((resolve) => setTimeout(resolve, 5));
    now += 5;
    changedAt = now;
    now += 5;
    const after = [get(), get()];
    await until(() => arrived === 3, 'both are there');
    open();
    expect(await before).toBe(`drawn 1 for ${host()} `);
    expect(await Promise.all(after)).toEqual([`drawn 2 for ${host()} `, `drawn 2 for ${host()} `]);
  });

  it('keeps apart what differs: the look chosen, the part asked for, the packing; not who asks', async () => {
    await get({ cookie: 'lantern_theme=dark; lantern_session=a', 'user-agent': 'gull' });
    await get({ cookie: 'lantern_session=b; lantern_theme=dark', 'user-agent': 'tern' });
    expect(drawn).toHaveLength(1);
    await get({ cookie: 'lantern_theme=light' });
    await get({ rsc: '1' });
    await get({ 'accept-encoding': 'identity' });
    expect(drawn).toHaveLength(4);
  });

  it('answers any query, any other header and HEAD from the copy', async () => {
    const first = await get();
    const policy = (await fetch(`${base}/p/ferries`)).headers.get('content-security-policy');
    for (const path of ['?_rsc=1', '?page=7', '?a=%00', '?'])
      expect(await get({}, `/p/ferries${path}`)).toBe(first);
    const strange = {
      'x-middleware-prefetch': '1',
      'x-forwarded-host': 'evil.example',
      'next-router-state-tree': 'x',
      'content-security-policy': "script-src 'nonce-mine'",
      'accept-language': 'pt',
    };
    expect(await get(strange)).toBe(first);
    const head = await fetch(`${base}/p/ferries`, { method: 'HEAD' });
    expect([head.status, head.headers.get('content-length')]).toEqual([200, String(first.length)]);
    expect(head.headers.get('content-security-policy')).toBe(policy);
    expect(drawn).toHaveLength(1);
    now += 60_000;
    expect(await get(strange)).not.toBe(first);
    const names = ['accept-encoding', 'connection', 'content-security-policy', 'host'];
    expect(Object.keys(passed.at(-1)!).sort()).toEqual(names);
    expect(passed.at(-1)!['content-security-policy']).not.toContain('mine');
  });

  it('gives every drawing a policy of its own', async () => {
    const policyOf = async () => (await fetch(`${base}/p/ferries`)).headers.get('content-security-policy')!;
    const before = await policyOf();
    expect(before).toMatch(/script-src 'self' 'nonce-[\w+/=]{20,}'/);
    now += 60_000;
    expect(await policyOf()).not.toBe(before);
  });

  it('keeps only what is a page, and whole', async () => {
    type = 'application/json';
    await get();
    const before = drawn.length;
    await get();
    expect(drawn.length).toBeGreaterThan(before);
  });

  it('hands out packed bytes as they are', async () => {
    const text = 'The boats sail. '.repeat(100);
    extra = { 'content-encoding': 'gzip' };
    const packed = gzipSync(text);
    rested = [];
    const cache = new PageCache({
      rest: async (ms) => void rested.push(ms),
      now: () => now,
      pageOf: async () => PAGE,
      changedAt: () => changedAt,
      pages: async (_, response) =>
        void response.writeHead(200, { 'content-type': 'text/html', ...extra }).end(packed),
    });
    const packing = createServer((request, response) => void cache.serve(request, response, 'ferries'));
    await new Promise<void>((resolve) => packing.listen(0, '127.0.0.1', resolve));
    const { port } = packing.address() as AddressInfo;
    const bytes = await new Promise<Buffer>((resolve) => {
      httpRequest({ host: '127.0.0.1', port, path: '/p/ferries' }, (answer) => {
        const chunks: Buffer[] = [];
        answer.on('data', (chunk: Buffer) => chunks.push(chunk));
        answer.on('end', () => resolve(Buffer.concat(chunks)));
      }).end();
    });
    packing.close();
    expect(gunzipSync(bytes).toString()).toBe(text);
  });

  it('keeps no failure, no page that is not there, and nothing that sets a cookie', async () => {
    status = 500;
    expect((await fetch(`${base}/p/ferries`)).status).toBe(500);
    status = 200;
    const before = drawn.length;
    await get({}, '/p/nowhere');
    await get({}, '/p/nowhere');
    expect(drawn).toHaveLength(before + 2);
    extra = { 'set-cookie': 'a=b' };
    await get();
    extra = {};
    const asked = drawn.length;
    await get();
    expect(drawn).toHaveLength(asked + 1);
    await get();
    expect(drawn).toHaveLength(asked + 1);
  });

  it('takes nothing but GET and HEAD', async () => {
    expect((await fetch(`${base}/p/ferries`, { method: 'POST' })).status).toBe(405);
    expect(drawn).toHaveLength(0);
  });

  it('keeps a bounded number of copies', async () => {
    for (let i = 0; i < 70; i += 1) await get({}, `/p/ferries-${i}`);
    expect(drawn).toHaveLength(70);
    await get({}, '/p/ferries-69');
    expect(drawn).toHaveLength(70);
    await get({}, '/p/ferries-0');
    expect(drawn).toHaveLength(71);
  });

  it('leaves the machine room while a page changes all the time', async () => {
    const draw = async (took: number) => {
      let finish = () => {};
      gate = new Promise((resolve) => (finish = resolve));
      const before = drawn.length;
      const got = get();
      await until(() => drawn.length > before, 'it is being drawn');
      now += took;
      finish();
      await got;
      changedAt = now;
    };
    await draw(40);
    expect(rested).toEqual([]);
    await draw(900);
    // It took a quarter of the time since it was last begun, at most: 160 ms less the 40 it took.
    expect(rested).toEqual([120]);
    // However long it took, it is put off for a second at most.
    await draw(40);
    expect(rested).toEqual([120, 1000]);
  });
});

describe('the public pages of a product', () => {
  it('are drawn once, and never later than what they show', async () => {
    const product = await startProduct();
    const { id, checkinAddress } = await makeCheckin(product, { name: 'Passenger manifest' });
    const section = { title: '', items: [{ watchId: id, label: 'Manifest' }] };
    const { body: made } = await product.api('POST', '/pages', {
      title: 'Tern Island Ferries',
      slug: 'ferries',
      sections: [section],
    });
    const { id: pageId } = made as { id: number };
    const read = async () => (await ask(`${product.base}/p/ferries`)).text;
    const shows = async (words: string) => (await read()).includes(words);
    const first = await read();
    expect(await shows('Not checked yet.')).toBe(true);
    expect((await read()) === first).toBe(true);

    expect((await ask(checkinAddress, { method: 'POST' })).status).toBe(200);
    await until(async () => !(await shows('Not checked yet.')), 'the check-in shows');

    await product.api('POST', `/pages/${pageId}/incidents`, {
      title: 'Booking is slow',
      stage: 'looking',
      body: 'We look into it.',
    });
    expect(await shows('Booking is slow')).toBe(true);

    const hour = 3_600_000;
    const { body: window } = await product.api('POST', '/windows', {
      title: 'New pier',
      watchIds: [id],
      from: new Date(Date.now() + hour).toISOString(),
      until: new Date(Date.now() + 2 * hour).toISOString(),
    });
    expect(await shows('New pier')).toBe(true);
    await product.api('DELETE', `/windows/${(window as { id: number }).id}`);
    expect(await shows('New pier')).toBe(false);

    await product.api('PATCH', `/pages/${pageId}`, { title: 'The ferries' });
    expect(await shows('The ferries')).toBe(true);
    await product.api('DELETE', `/pages/${pageId}`);
    expect((await ask(`${product.base}/p/ferries`)).status).toBe(404);
    await product.stop();
    rmSync(product.folder, { recursive: true, force: true });
  });
});
