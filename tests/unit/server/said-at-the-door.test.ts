import type { IncomingMessage, ServerResponse } from 'node:http';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { isPassword } from '@/accounts/passwords';
import { hashSecret } from '@/accounts/secrets';
import { readEnvironment } from '@/core/settings/environment';
import { newSpokenSecret } from '@/accounts/secrets';
import { prepareFirstStart } from '@/server/access/first-start';
import { Guard, isOurHost, malformed, sayRefusal } from '@/server/access/guard';
import { whoAsks } from '@/server/access/principal';
import { comesFromHere, ProxyTrust } from '@/server/access/proxy';
import {
  contentPolicy,
  dropUnknownHeaders,
  setContentPolicy,
  setSecurityHeaders,
} from '@/server/access/security-headers';
import { fetchAccountByEmail, saveAccount } from '@/store/access/accounts';
import { acceptToken, revokeToken, fetchTokens, saveToken } from '@/store/access/tokens';
import { tempStore, type TempStore } from '../../integration/helpers';

const NOW = Date.parse('2026-11-26T06:00:00Z');

/** Notes what is answered. */
function recorder() {
  const seen = { status: 0, headers: {} as Record<string, unknown>, body: undefined as string | undefined };
  const response = {
    setHeader: (name: string, value: unknown) => (seen.headers[name] = value),
    writeHead: (status: number, headers: object) => {
      seen.status = status;
      Object.assign(seen.headers, headers);
    },
    end: (body?: string) => (seen.body = body),
  } as unknown as ServerResponse;
  return { seen, response };
}
const asked = (rest: object) =>
  ({ method: 'GET', url: '/', headers: {}, ...rest }) as unknown as IncomingMessage;

describe('every answer', () => {
  it('has the headers that keep it from being used by others', () => {
    const { seen, response } = recorder();
    setSecurityHeaders(response, false);
    const plain = {
      'x-content-type-options': 'nosniff',
      'x-frame-options': 'DENY',
      'referrer-policy': 'same-origin',
      'cross-origin-opener-policy': 'same-origin',
    };
    expect(seen.headers).toEqual(plain);
    setSecurityHeaders(response, true);
    expect(seen.headers).toEqual({ ...plain, 'strict-transport-security': 'max-age=31536000' });
  });

  it('that is a page may load and run only what ships with it, and what carries its own nonce', () => {
    expect(contentPolicy('abc').split('; ')).toEqual([
      "default-src 'self'",
      "script-src 'self' 'nonce-abc'",
      "style-src 'self' 'unsafe-inline'",
      "img-src 'self' data:",
      "font-src 'self'",
      "connect-src 'self'",
      "object-src 'none'",
      "base-uri 'none'",
      "form-action 'self'",
      "frame-ancestors 'none'",
    ]);
    const [one, two] = [recorder(), recorder()];
    const request = asked({ headers: { 'content-security-policy': 'script-src *' } });
    setContentPolicy(request, one.response);
    setContentPolicy(asked({}), two.response);
    const policy = one.seen.headers['content-security-policy'];
    expect(request.headers['content-security-policy']).toBe(policy);
    expect(policy).toMatch(/'nonce-[A-Za-z0-9+/]{22}=='/);
    expect(two.seen.headers['content-security-policy']).not.toBe(policy);
  });

  it('is drawn without headers that nothing here reads', () => {
    const headers = {
      accept: '*/*',
      cookie: 'a=b',
      'x-middleware-prefetch': '1',
      'content-security-policy': 'script-src *',
      'x-lantern-client': '192.0.2.7',
      'x-lantern-local': '1',
      rsc: '1',
    };
    const request = asked({ headers });
    dropUnknownHeaders(request, ['x-lantern-client']);
    expect(request.headers).toEqual({
      accept: '*/*',
      cookie: 'a=b',
      rsc: '1',
      'x-lantern-client': '192.0.2.7',
    });
    dropUnknownHeaders(request);
    expect(request.headers).not.toHaveProperty('x-lantern-client');
  });
});

describe('a refusal', () => {
  const said = (url: string, status: number, rest: object = {}) => {
    const { seen, response } = recorder();
    sayRefusal(asked({ url, ...rest }), response, {
      pass: false,
      status,
      detail: 'Sign in first.',
      headers: { allow: 'GET' },
    });
    return seen;
  };

  it('is a line to people, and problem details to programs', () => {
    expect(said('/watches', 405)).toEqual({
      status: 405,
      headers: { 'content-type': 'text/plain; charset=utf-8', 'cache-control': 'no-store', allow: 'GET' },
      body: 'Sign in first.\n',
    });
    const { headers, body } = said('/api/v1/watches', 401);
    expect(headers).toEqual({
      'content-type': 'application/problem+json',
      'cache-control': 'no-store',
      allow: 'GET',
    });
    expect(JSON.parse(body!)).toEqual({
      type: '/reference#refusal-signin.needed',
      code: 'signin.needed',
      status: 401,
      title: 'Not signed in',
      detail: 'Sign in first.',
    });
    expect(said('/api/v1/watches', 401, { method: 'HEAD' }).body).toBeUndefined();
    expect(said('/apis', 404).body).toBe('Sign in first.\n');
  });

  it.each([
    [400, 'input.unreadable'],
    [404, 'not.found'],
    [405, 'method.unknown'],
    [421, 'host.foreign'],
    [501, 'method.nowhere'],
    [599, 'not.found'],
  ])('with %i has the code %s', (status, code) => {
    expect(JSON.parse(said('/api/x', status).body!)).toMatchObject({ code, status });
  });

  it.each(['GET', 'HEAD', 'POST', 'PUT', 'PATCH', 'DELETE', 'OPTIONS'])('meets no %s as such', (method) => {
    expect(malformed(asked({ method, url: '/a%20b?c=%zz' }))).toBeNull();
  });

  it('meets methods nobody knows, and addresses that cannot be read', () => {
    expect(malformed(asked({ method: 'BREWBREWBREWBREWBREWBREW' }))).toEqual({
      pass: false,
      status: 501,
      detail: 'Expected a method such as GET, got BREWBREWBREWBREWBREW.',
    });
    expect(malformed(asked({ url: '/%zz' }))).toEqual({
      pass: false,
      status: 400,
      detail: 'Expected percent signs in the address to be followed by two hex digits (RFC 3986).',
    });
    expect(malformed({ headers: {} } as IncomingMessage)).toMatchObject({
      status: 501,
      detail: 'Expected a method such as GET, got .',
    });
  });
});

describe('a name a request came to', () => {
  const named = { baseUrl: 'https://watch.ternferry.test' };
  it.each([
    ['watch.ternferry.test', true],
    ['watch.ternferry.test:8443', true],
    ['localhost:4780', true],
    ['192.0.2.71:80', true],
    ['[::1]:4780', true],
    ['elsewhere.test', false],
    ['192.0.2.1.elsewhere.test', false],
    ['a b', false],
    ['', false],
    [undefined, false],
  ])('%j is ours: %s', (host, ours) => {
    expect(isOurHost(host, named)).toBe(ours);
  });
});

describe('the door', () => {
  let store: TempStore;
  beforeEach(async () => {
    store = await tempStore();
  });
  afterEach(() => store.close());

  const decide = (rest: object, baseUrl: string | null = null) =>
    new Guard(store.db, { baseUrl }, () => NOW).decide(asked(rest));

  it('says what it expected, and what there is to do', async () => {
    expect(
      await decide({ method: 'POST', headers: { host: 'elsewhere.test' } }, 'https://watch.ternferry.test'),
    ).toEqual({
      pass: false,
      status: 421,
      detail: 'This is https://watch.ternferry.test; nothing is changed under another name.',
    });
    expect(await decide({ url: '/_next/image' })).toEqual({
      pass: false,
      status: 404,
      detail: 'There is nothing here.',
    });
    expect(await decide({ url: '/api/session' })).toEqual({
      pass: false,
      status: 405,
      detail: 'Expected POST, DELETE, got GET.',
      headers: { allow: 'POST, DELETE' },
    });
    const bearer = { 'www-authenticate': 'Bearer' };
    expect(await decide({ url: '/api/v1/watches' })).toEqual({
      pass: false,
      status: 401,
      detail: 'Send a token (Authorization: Bearer …), or sign in.',
      headers: bearer,
    });
    expect(await decide({ url: '/api/v1/watches', headers: { authorization: 'Bearer nobody' } })).toEqual({
      pass: false,
      status: 401,
      detail: 'This token is not known here.',
      headers: bearer,
    });
    expect(await decide({ method: 'POST', url: '/x' })).toEqual({
      pass: false,
      status: 401,
      detail: 'Sign in first.',
    });
    const away = (location: string) => ({
      pass: false,
      status: 307,
      detail: 'Sign in first.',
      headers: { location },
    });
    expect(await decide({ url: undefined, method: undefined })).toEqual(away('/welcome'));
    await saveAccount(store.db, { email: 'ines@ternferry.test', passwordHash: 'x', createdAt: NOW });
    expect(await decide({})).toEqual(away('/sign-in'));
  });

  it('knows a token by its whole, after one word and any number of blanks', async () => {
    await saveToken(store.db, { name: 'Office', tokenHash: hashSecret('a-token'), createdAt: NOW });
    const who = (authorization: string) => whoAsks(store.db, { authorization }, NOW);
    for (const good of ['Bearer a-token', 'bearer   a-token']) {
      expect(await who(good)).toMatchObject({ type: 'token', tokenName: 'Office' });
    }
    for (const bad of ['Bearer a-token x', 'x Bearer a-token', 'a-token', 'Basic a-token', '']) {
      expect(await who(bad)).toBeNull();
    }
  });

  const environment = (rest: Record<string, string>) => readEnvironment(rest);

  it('makes the account and the token an unattended start names, once', async () => {
    const names = {
      LANTERN_ADMIN_EMAIL: 'ines@ternferry.test',
      LANTERN_ADMIN_PASSWORD: 'the boats sail at dawn',
      LANTERN_API_TOKEN: 'x'.repeat(20),
    };
    await prepareFirstStart(store.db, environment(names), NOW);
    const account = await fetchAccountByEmail(store.db, 'ines@ternferry.test');
    expect(await isPassword('the boats sail at dawn', account!.passwordHash)).toBe(true);
    expect(await acceptToken(store.db, hashSecret(names.LANTERN_API_TOKEN), NOW)).toMatchObject({
      name: 'from the environment',
    });
    await prepareFirstStart(
      store.db,
      environment({ ...names, LANTERN_ADMIN_EMAIL: 'rui@ternferry.test' }),
      NOW,
    );
    expect(await fetchAccountByEmail(store.db, 'rui@ternferry.test')).toBeNull();
    expect(await fetchTokens(store.db)).toHaveLength(1);
    // What was revoked on the desk stays so.
    await revokeToken(store.db, (await fetchTokens(store.db))[0]!.id, NOW);
    await prepareFirstStart(store.db, environment(names), NOW);
    expect(await acceptToken(store.db, hashSecret(names.LANTERN_API_TOKEN), NOW)).toBeNull();
  });

  it('makes no account of half a name, and no token that could be guessed', async () => {
    await prepareFirstStart(store.db, environment({}), NOW);
    expect(await fetchTokens(store.db)).toEqual([]);
    await expect(
      prepareFirstStart(store.db, environment({ LANTERN_API_TOKEN: 'x'.repeat(19) }), NOW),
    ).rejects.toThrow('Expected LANTERN_API_TOKEN to have at least 20 characters, got 19.');
  });

  it('has a code for the first account, in four groups', () => {
    expect(newSpokenSecret()).toMatch(/^[a-z0-9_-]{4}(-[a-z0-9_-]{4}){3}$/i);
    expect(newSpokenSecret()).not.toBe(newSpokenSecret());
  });
});

describe('proxies', () => {
  const here = (remoteAddress: string | undefined, headers: object = {}) =>
    comesFromHere({ socket: { remoteAddress }, headers } as unknown as IncomingMessage);

  it('on this machine pass on what others ask', () => {
    expect([here('127.0.0.1'), here('::1'), here('::ffff:127.0.0.1')]).toEqual([true, true, true]);
    expect([here('192.0.2.7'), here(undefined), here('nonsense')]).toEqual([false, false, false]);
    for (const sign of [
      'forwarded',
      'x-forwarded-for',
      'x-real-ip',
      'via',
      'x-forwarded-server',
      'forwarded-for',
    ]) {
      expect(here('127.0.0.1', { [sign]: 'x' })).toBe(false);
    }
  });

  it('are trusted by address or by network, of one family', () => {
    const trust = new ProxyTrust(['192.0.2.7', '10.0.0.0/8', '2001:db8::1']);
    const trusted = (address: string | undefined) => trust.isTrusted(address);
    expect(['192.0.2.7', '10.9.9.9', '2001:db8::1', '::ffff:10.1.1.1'].map(trusted)).toEqual([
      true,
      true,
      true,
      true,
    ]);
    expect(['192.0.2.8', '11.0.0.1', '2001:db8::2', '', undefined, 'x'].map(trusted)).toEqual(
      Array(6).fill(false),
    );
    expect(() => new ProxyTrust(['the pier'])).toThrow(
      'Expected addresses or networks such as 10.0.0.0/8 in LANTERN_TRUSTED_PROXY, got "the pier".',
    );
  });

  it('that are not trusted say nothing about whom they pass on', () => {
    const request = asked({
      socket: {},
      headers: { 'x-forwarded-for': '198.51.100.1', forwarded: 'for=x', host: 'a' },
    });
    expect(new ProxyTrust(['192.0.2.7']).clean(request)).toBe('');
    expect(request.headers).toEqual({ host: 'a', 'x-lantern-client': '' });
    const trusted = asked({ socket: { remoteAddress: '192.0.2.7' }, headers: {} });
    expect(new ProxyTrust(['192.0.2.7']).clean(trusted)).toBe('192.0.2.7');
  });
});
