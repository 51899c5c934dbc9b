import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { Run } from '@/probes/frame/run';
import { LookFailure } from '@/probes/frame/socket-cause';
import { MOST_BODY_BYTES, newHop, requestHop, type HopWish } from '@/probes/transport/http-hop';
import { fetchPage, headersForOthers, isSameSite, type Fetched } from '@/probes/transport/web-request';
import { lookContext } from '../../integration/looks/looks';

/** With what each address was asked for. */
const wishes = vi.hoisted(() => [] as unknown[]);
vi.mock('@/probes/transport/http-hop', async (original) => {
  const real = await original<typeof import('@/probes/transport/http-hop')>();
  const asking: typeof real.requestHop = (run, address, hop, wish) => {
    wishes.push(wish);
    return real.requestHop(run, address, hop, wish);
  };
  return { ...real, requestHop: asking };
});

const url = (text: string) => new URL(text);

describe('one site', () => {
  it.each([
    ['https://a.test/', 'https://a.test/x', true],
    ['http://a.test/', 'http://a.test/x', true],
    ['http://a.test/', 'https://a.test/', true],
    ['https://a.test/', 'http://a.test/', false],
    ['https://a.test/', 'https://b.test/', false],
    ['https://a.test/', 'https://www.a.test/', false],
    ['https://a.test:8443/', 'https://a.test/', false],
    ['http://a.test/', 'https://a.test:8443/', false],
  ])('%s and %s: %s', (from, to, same) => expect(isSameSite(url(from), url(to))).toBe(same));

  it('keeps its headers to itself, but for how an answer is wanted', () => {
    expect(
      headersForOthers({
        accept: 'text/html',
        'user-agent': 'x',
        'x-key': '1',
        cookie: 'a=b',
        host: 'a.test',
      }),
    ).toEqual({ accept: 'text/html', 'user-agent': 'x' });
  });
});

describe('a walk through redirects', () => {
  const servers: Server[] = [];
  let asked: { path: string; method: string; headers: Record<string, unknown>; body: string }[];

  beforeEach(() => (asked = []));
  afterEach(async () => {
    for (const server of servers.splice(0)) await new Promise((resolve) => server.close(resolve));
  });

  /** A site whose paths say where they lead: "/307?to=…"; everything else is there. */
  async function site(): Promise<string> {
    const server = createServer((request, response) => {
      let body = '';
      request.on('data', (chunk: Buffer) => (body += chunk.toString()));
      request.on('end', () => {
        const asks = new URL(request.url!, 'http://x');
        asked.push({ path: asks.pathname, method: request.method!, headers: request.headers, body });
        const to = asks.searchParams.get('to');
        if (to === null) response.end('there');
        else response.writeHead(Number(asks.pathname.slice(1)), { location: to }).end();
      });
    });
    servers.push(server);
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    return `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  }

  async function walk(address: string, wish: Partial<HopWish> = {}): Promise<Fetched> {
    const run = new Run(lookContext(), { host: '127.0.0.1', port: 0, timeoutMs: 5000 });
    const fetched: Fetched = { url: url(address), hop: newHop() };
    try {
      await fetchPage(run, url(address), { method: 'GET', ...wish } as HopWish, 'follow', fetched);
      return fetched;
    } finally {
      run.end();
    }
  }
  const leading = (base: string, status: number, to: string) =>
    `${base}/${status}?to=${encodeURIComponent(to)}`;

  it('takes what is private along on its own site, and never to another', async () => {
    const [own, other] = [await site(), await site()];
    const wish = { headers: { 'x-boat': 'Tern', accept: 'text/html' }, privateHeaders: { 'x-key': '1234' } };
    await walk(leading(own, 302, `${own}/end`), wish);
    expect(asked.at(-1)).toMatchObject({ path: '/end', headers: { 'x-boat': 'Tern', 'x-key': '1234' } });
    await walk(leading(own, 302, `${other}/end`), wish);
    expect(asked.at(-1)!.headers).toMatchObject({ accept: 'text/html' });
    expect(asked.at(-1)!.headers).not.toHaveProperty('x-boat');
    expect(asked.at(-1)!.headers).not.toHaveProperty('x-key');
  });

  it('shows its certificate, and goes by a way of its own, to its own site only', async () => {
    const [own, other] = [await site(), await site()];
    const place = { clientCertificate: 'a certificate', clientKey: 'its key' };
    await walk(leading(own, 302, leading(own, 302, `${other}/end`)), place);
    expect(wishes.slice(-3)).toMatchObject([
      place,
      place,
      { clientCertificate: undefined, clientKey: undefined },
    ]);
    const { port } = new URL(own);
    await walk(leading(own, 302, `${other}/end`), { connectTo: { host: '127.0.0.1', port: Number(port) } });
    expect(wishes.at(-1)).toMatchObject({ connectTo: undefined });
  });

  it('goes back to its own site with what is private', async () => {
    const [own, other] = [await site(), await site()];
    await walk(leading(own, 302, leading(other, 302, `${own}/end`)), { privateHeaders: { 'x-key': '1234' } });
    expect(asked.map(({ headers }) => headers['x-key'])).toEqual(['1234', undefined, '1234']);
  });

  it.each([301, 302, 303])('%i turns a POST into a GET without a body, wherever it leads', async (status) => {
    const [own, other] = [await site(), await site()];
    for (const to of [`${own}/end`, `${other}/end`]) {
      await walk(leading(own, status, to), { method: 'POST', body: 'two seats' });
      expect(asked.at(-1)).toMatchObject({ path: '/end', method: 'GET', body: '' });
    }
  });

  it.each([307, 308])(
    '%i sends the body again on its own site, and ends the look at another',
    async (status) => {
      const [own, other] = [await site(), await site()];
      await walk(leading(own, status, `${own}/end`), { method: 'POST', body: 'two seats' });
      expect(asked.at(-1)).toMatchObject({ path: '/end', method: 'POST', body: 'two seats' });
      const before = asked.length;
      const away = walk(leading(own, status, `${other}/end`), { method: 'POST', body: 'two seats' });
      await expect(away).rejects.toMatchObject({
        failure: { cause: 'reply.redirect-body', detail: { status, location: other } },
      });
      expect(asked.slice(before).map(({ path }) => path)).toEqual([`/${status}`]);
      // Without a body nothing is given away.
      await walk(leading(own, status, `${other}/end`), { method: 'POST' });
      expect(asked.at(-1)).toMatchObject({ path: '/end', method: 'POST' });
    },
  );

  it('ends after ten, and where it leads nowhere', async () => {
    const own = await site();
    let address = `${own}/end`;
    for (let i = 0; i < 10; i += 1) address = leading(own, 302, address);
    await walk(address);
    await expect(walk(leading(own, 302, address))).rejects.toMatchObject({
      failure: { cause: 'reply.redirects', detail: { limit: 10 } },
    });
    for (const to of ['ftp://a.test/', 'javascript:1', 'http://']) {
      await expect(walk(leading(own, 302, to))).rejects.toBeInstanceOf(LookFailure);
    }
  });
});

describe('a page of any size', () => {
  it('is read as far as it is wanted, and kept as far as it is looked through', async () => {
    const chunk = Buffer.alloc(64_000, 'x');
    const server = createServer((_, response) => {
      const more = () => {
        while (response.write(chunk));
      };
      response.on('drain', more);
      more();
    });
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    const address = url(`http://127.0.0.1:${(server.address() as AddressInfo).port}/`);
    const run = new Run(lookContext(), { host: '127.0.0.1', port: 0, timeoutMs: 5000 });
    const hop = newHop();
    await requestHop(run, address, hop, { method: 'GET', readBytes: 5_000_000 } as HopWish);
    run.end();
    server.closeAllConnections();
    await new Promise((resolve) => server.close(resolve));
    const kept = hop.body.reduce((sum, part) => sum + part.length, 0);
    expect(hop.bytes).toBeGreaterThanOrEqual(5_000_000);
    expect(kept).toBeGreaterThanOrEqual(MOST_BODY_BYTES);
    expect(kept).toBeLessThan(2 * MOST_BODY_BYTES);
  });
});
