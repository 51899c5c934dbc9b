import { spawn } from 'node:child_process';
import http from 'node:http';
import https from 'node:https';
import net, { type LookupFunction, type Server } from 'node:net';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { causeSentence, type CauseCode } from '@/core/causes/causes';
import { normaliseWebAddress, parseStatusRanges } from '@/probes/frame/address';
import type { LookContext } from '@/probes/frame/kind';
import { lookupWith, parseHosts } from '@/probes/transport/lookup';
import { port } from '@/probes/kinds/port';
import { errorCause, timeoutCause } from '@/probes/frame/socket-cause';
import { web, type WebSettings } from '@/probes/kinds/web';
import { issueCertificate, makeAuthority, type Authority } from '@/standins/certificates';
import { listen, trackSockets } from '@/standins/listener';
import { freePort } from '../helpers';

const stops: (() => Promise<void>)[] = [];

async function serve(server: Server): Promise<number> {
  stops.push(trackSockets(server));
  return listen(server, 0);
}

function context(rest: Partial<LookContext> = {}): LookContext {
  return {
    now: () => Date.now(),
    monotonic: () => performance.now(),
    lookup: lookupWith(new Map([['site.ternferry.test', '127.0.0.1']])),
    timeoutMs: 3000,
    signal: new AbortController().signal,
    ...rest,
  };
}

async function look(address: string, settings: Partial<WebSettings> = {}, rest: Partial<LookContext> = {}) {
  const finding = await web.look({ ...web.defaults, address, ...settings }, context(rest));
  return finding;
}

const failing =
  (code: string): LookupFunction =>
  (_, __, callback) =>
    void setImmediate(callback, Object.assign(new Error(code), { code }), '', 4);

const HANDLERS: Record<string, http.RequestListener> = {
  '/fine': (_, response) => response.end('<p>Choose your\n crossing</p> and choose again'),
  '/status': (_, response) => response.writeHead(503).end('busy'),
  '/teapot': (_, response) => response.writeHead(418).end('short and stout'),
  '/hang': () => undefined,
  '/cut': (_, response) => {
    response.writeHead(200, { 'content-length': '5000' });
    response.write('only this much', () => response.destroy());
  },
  '/cut-chunked': (_, response) => {
    response.write('begun', () => response.destroy());
  },
  '/close': (request) => request.socket.destroy(),
  '/stall': (_, response) => {
    response.writeHead(200, { 'content-length': '100' });
    response.write('begun');
  },
  '/loop': (_, response) => response.writeHead(302, { location: '/loop' }).end(),
  '/bad-redirect': (_, response) => response.writeHead(302, { location: 'ftp://elsewhere.test/' }).end(),
  '/hop': (_, response) => response.writeHead(301, { location: '/hop2' }).end(),
  '/hop2': (_, response) => response.writeHead(307, { location: 'fine' }).end(),
  '/endless': (_, response) => {
    const more = () => {
      while (!response.destroyed && response.write('x'.repeat(65_536)));
      if (!response.destroyed) response.once('drain', more);
    };
    more();
  },
  '/latin': (_, response) =>
    response
      .writeHead(200, { 'content-type': 'text/html; charset=iso-8859-1' })
      .end(Buffer.from('Fähre fährt', 'latin1')),
};

describe('a look at a web page', () => {
  let base: string;
  let httpPort: number;
  let authority: Authority;

  beforeAll(async () => {
    httpPort = await serve(
      http.createServer((request, response) => HANDLERS[request.url ?? '']?.(request, response)),
    );
    base = `http://127.0.0.1:${httpPort}`;
    authority = await makeAuthority();
  });

  afterAll(async () => {
    for (const stop of stops) await stop();
  });

  async function secure(options: { names: string[]; fromDays?: number; toDays?: number }): Promise<number> {
    const pair = await issueCertificate(authority, options);
    return serve(https.createServer(pair, (_, response) => response.end('secret harbour')));
  }

  it('is fine, with every phase, status, size and words counted', async () => {
    const finding = await look(`http://site.ternferry.test:${httpPort}/fine`, {
      words: 'Choose your crossing',
    });
    expect(finding.verdict).toBe('fine');
    const { phases, ...evidence } = finding.evidence!;
    expect(Object.keys(phases!).sort()).toEqual(['connect', 'download', 'firstByte', 'name']);
    const sum = Object.values(phases as Record<string, number>).reduce((a, b) => a + b, 0);
    expect(sum).toBeLessThanOrEqual(finding.ms + 1);
    expect(evidence).toMatchObject({
      status: 200,
      bytes: 45,
      wordsFound: 1,
      address: '127.0.0.1',
      redirects: 0,
    });
    expect(evidence.ladder!.map((r) => r.result)).toEqual(['fine', 'fine', 'fine', 'fine']);
  });

  it('follows redirects, relative ones too, over new connections', async () => {
    const finding = await look(`${base}/hop`);
    expect(finding.verdict).toBe('fine');
    expect(finding.evidence).toMatchObject({ redirects: 2, finalUrl: `${base}/fine`, status: 200 });
  });

  it('reads no more than a megabyte', async () => {
    const finding = await look(`${base}/endless`);
    expect(finding.verdict).toBe('fine');
    expect(finding.evidence!.bytes).toBeGreaterThanOrEqual(1_000_000);
    expect(finding.evidence!.bytes).toBeLessThan(1_200_000);
  });

  it('reads the page in its own character set', async () => {
    expect((await look(`${base}/latin`, { words: 'Fähre fährt' })).verdict).toBe('fine');
  });

  it('accepts the status codes it was told to', async () => {
    expect((await look(`${base}/teapot`, { accepted: '200-299, 418' })).verdict).toBe('fine');
    expect((await look(`${base}/fine`, { accepted: '418' })).cause).toBe('reply.status');
  });

  it.each<[CauseCode, string, Partial<WebSettings>, Partial<LookContext>, string]>([
    ['reply.status', '/status', {}, {}, 'reply'],
    ['text.missing', '/fine', { words: 'Sold out' }, {}, 'content'],
    ['reply.timeout', '/hang', {}, { timeoutMs: 300 }, 'reply'],
    ['reply.unfinished', '/stall', {}, { timeoutMs: 300 }, 'reply'],
    ['reply.cut-off', '/cut', {}, {}, 'reply'],
    ['reply.cut-off', '/cut-chunked', {}, {}, 'reply'],
    ['reply.closed', '/close', {}, {}, 'reply'],
    ['reply.redirects', '/loop', {}, {}, 'reply'],
    ['reply.bad-redirect', '/bad-redirect', {}, {}, 'reply'],
  ])('finds %s at %s', async (cause, path, settings, rest, rung) => {
    const finding = await look(base + path, settings, rest);
    expect(finding).toMatchObject({ verdict: 'failed', cause });
    expect(finding.evidence!.ladder!.find((r) => r.result === 'failed')?.rung).toBe(rung);
    // Every value the sentence wants is there.
    expect(causeSentence(cause, finding.detail)).not.toContain('…');
  });

  it.each<[CauseCode, string]>([
    ['name.not-found', 'ENOTFOUND'],
    ['name.server-failed', 'EAI_AGAIN'],
  ])('finds %s when the resolver says %s', async (cause, code) => {
    const finding = await look('http://gone.ternferry.test/', {}, { lookup: failing(code) });
    expect(finding.cause).toBe(cause);
    expect(causeSentence(cause, finding.detail)).toContain('gone.ternferry.test');
    expect(finding.evidence!.ladder!.map((r) => r.result)).toEqual(['failed', 'not-reached', 'not-reached']);
  });

  it('finds name.timeout when the resolver never answers', async () => {
    const silent: LookupFunction = () => undefined;
    const finding = await look('http://gone.ternferry.test/', {}, { lookup: silent, timeoutMs: 200 });
    expect(finding.cause).toBe('name.timeout');
  });

  it('finds port.refused where nothing listens', async () => {
    const closed = await freePort();
    const finding = await look(`http://127.0.0.1:${closed}/`);
    expect(finding).toMatchObject({ cause: 'port.refused', detail: { port: closed } });
  });

  it('finds port.timeout where a connection is not accepted in time', async () => {
    // A process that is stopped accepts nothing; once its short queue is full, the kernel drops what comes.
    const script = `const s = require('net').createServer(); s.listen({ port: 0, host: '127.0.0.1', backlog: 1 }, () => console.log(s.address().port));`;
    const child = spawn(process.execPath, ['-e', script], { stdio: ['ignore', 'pipe', 'inherit'] });
    const stuck = Number(await new Promise((resolve) => child.stdout.once('data', resolve)));
    child.kill('SIGSTOP');
    const waiting = Array.from({ length: 6 }, () =>
      net.connect(stuck, '127.0.0.1').on('error', () => undefined),
    );
    try {
      await new Promise((resolve) => setTimeout(resolve, 200));
      const finding = await look(`http://127.0.0.1:${stuck}/`, {}, { timeoutMs: 400 });
      expect(finding).toMatchObject({ cause: 'port.timeout', detail: { port: stuck, limit: 'under 1 s' } });
    } finally {
      for (const socket of waiting) socket.destroy();
      child.kill('SIGKILL');
    }
    const target = { host: 'site.ternferry.test', port: 80, timeoutMs: 3000, address: '127.0.0.1' };
    for (const failure of [
      timeoutCause('connect', target),
      errorCause(Object.assign(new Error(), { code: 'ETIMEDOUT' }), 'connect', target),
    ]) {
      expect(failure).toEqual({ cause: 'port.timeout', detail: { port: 80, limit: '3 s' } });
    }
  });

  it('finds port.closed where a connection is reset before it stands', () => {
    const target = { host: 'site.ternferry.test', port: 80, timeoutMs: 3000 };
    const reset = Object.assign(new Error(), { code: 'ECONNRESET' });
    expect(errorCause(reset, 'connect', target)).toEqual({ cause: 'port.closed', detail: { port: 80 } });
  });

  it('finds host.no-route where the network says so', () => {
    const target = { host: 'site.ternferry.test', port: 80, timeoutMs: 3000, address: '127.0.0.9' };
    for (const code of ['EHOSTUNREACH', 'ENETUNREACH', 'EHOSTDOWN']) {
      const failure = errorCause(Object.assign(new Error(), { code }), 'connect', target);
      expect(failure).toEqual({ cause: 'host.no-route', detail: { address: '127.0.0.9' } });
    }
  });

  it('finds reply.unreadable where something else than HTTP answers', async () => {
    const odd = await serve(net.createServer((socket) => socket.end('220 mail.ternferry.test ready\r\n')));
    expect((await look(`http://127.0.0.1:${odd}/`)).cause).toBe('reply.unreadable');
  });

  it('finds tls.failed where no TLS is spoken', async () => {
    const finding = await look(`https://127.0.0.1:${httpPort}/`);
    expect(finding.cause).toBe('tls.failed');
    expect(finding.evidence!.ladder!.map((r) => [r.rung, r.result])).toEqual([
      ['name', 'fine'],
      ['port', 'fine'],
      ['certificate', 'failed'],
      ['reply', 'not-reached'],
    ]);
  });

  it('finds tls.failed where the handshake hangs', async () => {
    const mute = await serve(net.createServer(() => undefined));
    expect((await look(`https://127.0.0.1:${mute}/`, {}, { timeoutMs: 300 })).cause).toBe('tls.failed');
  });

  it.each<[CauseCode, { names: string[]; fromDays?: number; toDays?: number }]>([
    ['tls.expired', { names: ['127.0.0.1'], fromDays: -30, toDays: -2 / 24 }],
    ['tls.not-yet-valid', { names: ['127.0.0.1'], fromDays: 1, toDays: 30 }],
    ['tls.wrong-name', { names: ['other.ternferry.test'] }],
    ['tls.untrusted', { names: ['127.0.0.1'] }],
  ])('finds %s, and shows the certificate all the same', async (cause, options) => {
    const finding = await look(`https://127.0.0.1:${await secure(options)}/`);
    expect(finding.cause).toBe(cause);
    expect(finding.evidence!.certificate).toMatchObject({
      names: options.names,
      issuer: 'Tern Island Practice Authority',
    });
    expect(causeSentence(cause, finding.detail)).not.toContain('…');
  });

  it('tells an expired certificate as expired even when its name is wrong too', async () => {
    const both = await secure({ names: ['other.ternferry.test'], fromDays: -30, toDays: -1 });
    const finding = await look(`https://127.0.0.1:${both}/`);
    expect(finding).toMatchObject({ cause: 'tls.expired', detail: { ago: '1 d' } });
  });

  it('ends at once when it is called off', async () => {
    const abort = new AbortController();
    const looking = look(`${base}/hang`, {}, { signal: abort.signal });
    setTimeout(() => abort.abort(), 50);
    expect(await looking).toMatchObject({ verdict: 'failed', cause: 'look.broken' });
  });
});

describe('a look at a port', () => {
  it('is fine when a connection is accepted, and says why when not', async () => {
    const open = await serve(
      net.createServer((socket) => socket.on('error', () => undefined).end('KIOSK READY\r\n')),
    );
    const finding = await port.look({ ...port.defaults, host: 'site.ternferry.test', port: open }, context());
    expect(finding.verdict).toBe('fine');
    expect(finding.evidence!.phases!.connect).toBeGreaterThan(0);
    const closed = await freePort();
    expect(await port.look({ ...port.defaults, host: '127.0.0.1', port: closed }, context())).toMatchObject({
      verdict: 'failed',
      cause: 'port.refused',
      evidence: { ladder: [{ result: 'fine' }, { result: 'failed', label: `port ${closed}` }] },
    });
    expect(
      await port.look(
        { ...port.defaults, host: 'gone.test', port: 80 },
        context({ lookup: failing('ENOTFOUND') }),
      ),
    ).toMatchObject({
      cause: 'name.not-found',
      evidence: { ladder: [{ result: 'failed' }, { result: 'not-reached' }] },
    });
  });
});

describe('what a person types as an address', () => {
  it.each([
    ['booking.ternferry.test', 'https://booking.ternferry.test/'],
    ['  booking.ternferry.test/crossings?day=1 ', 'https://booking.ternferry.test/crossings?day=1'],
    ['127.0.0.1:8080', 'http://127.0.0.1:8080/'],
    ['localhost', 'http://localhost/'],
    ['[::1]:8080/x', 'http://[::1]:8080/x'],
    ['HTTP://Booking.Ternferry.Test', 'http://booking.ternferry.test/'],
  ])('%j is made whole: %s', (typed, whole) => {
    expect(normaliseWebAddress(typed)).toBe(whole);
  });

  it.each(['', 'two words', 'ftp://ternferry.test', 'javascript:alert(1)', 'kiosk', 'http://'])(
    '%j is none',
    (typed) => {
      expect(normaliseWebAddress(typed)).toBeNull();
    },
  );

  it('status codes are read as codes and ranges', () => {
    expect(parseStatusRanges('200-299, 401')).toEqual([
      [200, 299],
      [401, 401],
    ]);
    for (const wrong of ['', '2xx', '299-200', '20', '200,', '600'])
      expect(parseStatusRanges(wrong)).toBeNull();
  });

  it('names given by hand are looked up first', () => {
    expect([...parseHosts('a.test=127.0.0.1, B.test=::1')]).toEqual([
      ['a.test', '127.0.0.1'],
      ['b.test', '::1'],
    ]);
    expect(() => parseHosts('a.test=here')).toThrow(
      'Expected name=address pairs in LANTERN_HOSTS, got "a.test=here".',
    );
  });
});
