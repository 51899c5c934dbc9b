import { describe, expect, it } from 'vitest';
import { isSecure, publicBase, readJson, refuseCrossSite } from '@/api/request';
import { linkBase, readEnvironment } from '@/core/settings/environment';
import { ProxyTrust } from '@/server/access/proxy';
import type { IncomingMessage } from 'node:http';

const plain = readEnvironment({});
const named = readEnvironment({ LANTERN_BASE_URL: 'https://watch.example/' });

function post(headers: Record<string, string>): Request {
  return new Request('http://front.door/api', { method: 'POST', headers });
}

describe('the address of a request', () => {
  it('is the public one where that is set, else the host that was asked for', () => {
    const headers = new Headers({ host: '192.0.2.7:4780' });
    expect(publicBase(headers, plain)).toBe('http://192.0.2.7:4780');
    expect(publicBase(headers, named)).toBe('https://watch.example');
    const forwarded = new Headers({ host: 'x', 'x-forwarded-host': 'a.test', 'x-forwarded-proto': 'https' });
    expect(publicBase(forwarded, plain)).toBe('https://a.test');
    expect(publicBase(new Headers({ host: 'a b"><script>' }), plain)).toBe('http://127.0.0.1:4780');
  });

  it('has a link form of its own where the front door listens everywhere or on IPv6', () => {
    expect(linkBase(readEnvironment({ HOST: '0.0.0.0', PORT: '80' }))).toBe('http://localhost:80');
    expect(linkBase(readEnvironment({ HOST: '::1' }))).toBe('http://[::1]:4780');
  });

  it('is encrypted when a proxy says so, or when the public address was asked for', () => {
    expect(isSecure(new Headers({ 'x-forwarded-proto': 'https' }), plain)).toBe(true);
    expect(isSecure(new Headers({ host: 'watch.example' }), named)).toBe(true);
    // Over the local network, past the proxy.
    expect(isSecure(new Headers({ host: '192.0.2.7:4780' }), named)).toBe(false);
    expect(isSecure(new Headers({ host: '192.0.2.7:4780' }), plain)).toBe(false);
  });
});

describe('a write from another site', () => {
  const host = '192.0.2.7:4780';
  it.each<[string, Record<string, string>, boolean]>([
    ['said to be of the same origin', { host, 'sec-fetch-site': 'same-origin' }, true],
    ['said to be of another site', { host, 'sec-fetch-site': 'cross-site', origin: `http://${host}` }, false],
    ['said to be of another port', { host, 'sec-fetch-site': 'same-site', origin: `http://${host}` }, false],
    ['with our own origin', { host, origin: `http://${host}` }, true],
    [
      'with our own origin behind a proxy',
      { host: 'inner', 'x-forwarded-host': 'a.test', origin: 'https://a.test' },
      true,
    ],
    ['with another origin', { host, origin: 'http://elsewhere.test' }, false],
    ['with an opaque origin', { host, origin: 'null' }, false],
    ['without any origin', { host }, false],
  ])('%s', (_, headers, passes) => {
    if (passes) expect(() => refuseCrossSite(post(headers))).not.toThrow();
    else
      expect(() => refuseCrossSite(post(headers))).toThrow('This request did not come from the desk itself.');
  });
});

describe('trust in proxies', () => {
  const request = (peer: string, headers: Record<string, string>) =>
    ({ socket: { remoteAddress: peer }, headers: { ...headers } }) as unknown as IncomingMessage;

  it('takes forwarded headers off everyone else', () => {
    const trust = new ProxyTrust(['10.0.0.0/8', '::1']);
    const stranger = request('192.0.2.9', {
      forwarded: 'for=1',
      'x-forwarded-for': '198.51.100.1',
      'x-forwarded-host': 'evil.test',
      'x-forwarded-proto': 'https',
      'x-lantern-client': 'forged',
    });
    expect(trust.clean(stranger)).toBe('192.0.2.9');
    expect(stranger.headers).toEqual({ 'x-lantern-client': '192.0.2.9' });
  });

  it('believes the right-most address that is no trusted proxy', () => {
    const trust = new ProxyTrust(['10.0.0.0/8']);
    const via = (chain: string) => trust.clean(request('10.1.2.3', { 'x-forwarded-for': chain }));
    expect(via('198.51.100.1')).toBe('198.51.100.1');
    expect(via('203.0.113.9, 198.51.100.1, 10.9.9.9')).toBe('198.51.100.1');
    expect(via('')).toBe('10.1.2.3');
    expect(via('nonsense')).toBe('10.1.2.3');
    expect(trust.clean(request('::ffff:10.1.2.3', { 'x-forwarded-for': '198.51.100.1' }))).toBe(
      '198.51.100.1',
    );
  });

  it('trusts nobody by default', () => {
    expect(new ProxyTrust([]).isTrusted('127.0.0.1')).toBe(false);
    expect(new ProxyTrust(['127.0.0.1']).isTrusted(undefined)).toBe(false);
  });
});

describe('a body', () => {
  const ask = (body: BodyInit, headers: Record<string, string> = {}) =>
    new Request('http://desk.test/api/v1/watches', {
      method: 'POST',
      headers: { 'content-type': 'application/json', ...headers },
      body,
      duplex: 'half',
    } as RequestInit);
  const deep = (levels: number) => '['.repeat(levels) + ']'.repeat(levels);

  it('is read up to a megabyte, whatever it says of its length', async () => {
    const million = JSON.stringify('x'.repeat(999_998));
    expect(await readJson(ask(million))).toHaveLength(999_998);
    await expect(readJson(ask(` ${million}`))).rejects.toMatchObject({ code: 'body.long' });
    const endless = new ReadableStream<Uint8Array>({
      pull: (to) => to.enqueue(new Uint8Array(64_000).fill(32)),
    });
    await expect(readJson(ask(endless))).rejects.toMatchObject({ code: 'body.long' });
    await expect(readJson(ask('{}', { 'content-length': '1000001' }))).rejects.toMatchObject({
      code: 'body.long',
    });
  });

  it('is JSON that says so, of some levels', async () => {
    expect(await readJson(ask(''))).toBeUndefined();
    expect(await readJson(ask('{"a":"[[["}'))).toEqual({ a: '[[[' });
    await expect(readJson(ask('{}', { 'content-type': 'text/plain' }))).rejects.toMatchObject({
      code: 'body.type',
    });
    expect(await readJson(ask('{}', { 'content-encoding': ' Identity' }))).toEqual({});
    await expect(readJson(ask('{}', { 'content-encoding': 'gzip' }))).rejects.toMatchObject({
      ...{ code: 'body.type', message: 'Expected a body without Content-Encoding, got gzip.' },
    });
    await expect(readJson(ask('{'))).rejects.toMatchObject({ code: 'input.unreadable' });
    expect(await readJson(ask(deep(32)))).toBeInstanceOf(Array);
    await expect(readJson(ask(deep(33)))).rejects.toMatchObject({ code: 'input.unreadable' });
  });

  it('that breaks off is told to', async () => {
    const broken = new ReadableStream({ pull: (to) => to.error(new Error('gone')) });
    await expect(readJson(ask(broken))).rejects.toMatchObject({ code: 'input.unreadable' });
  });
});
