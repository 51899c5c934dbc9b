import { readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { request as httpRequest } from 'node:http';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, inject, it, vi } from 'vitest';
import { OWN_ADDRESSES } from '@/api/answer-api';
import { openStore } from '@/store/db/open';
import {
  EMAIL,
  makeCheckin,
  PASSWORD,
  ROOT,
  startProduct,
  tempFolder,
  TOKEN,
  type Product,
} from '../helpers';
import { startWithin, withinProcess, type Within } from '../within';

interface Raw {
  status: number;
  headers: Record<string, string | string[] | undefined>;
  body: string;
}

/** Sends a request line as it stands: nothing is put in order on the way. */
function raw(
  product: Within,
  path: string,
  options: { method?: string; headers?: Record<string, string>; body?: string } = {},
): Promise<Raw> {
  const { method = 'GET', headers = {}, body } = options;
  return new Promise((resolve, reject) => {
    const asking = httpRequest({ host: '127.0.0.1', port: product.port, path, method, headers }, (answer) => {
      const chunks: Buffer[] = [];
      answer.on('data', (chunk: Buffer) => chunks.push(chunk));
      answer.on('error', reject);
      answer.on('end', () =>
        resolve({
          status: answer.statusCode!,
          headers: answer.headers,
          body: Buffer.concat(chunks).toString(),
        }),
      );
    });
    asking.on('error', reject);
    asking.end(body);
  });
}

function post(product: Within, path: string, body: unknown, headers: Record<string, string> = {}) {
  const own = { 'content-type': 'application/json', origin: product.base, ...headers };
  return raw(product, path, { method: 'POST', headers: own, body: JSON.stringify(body) });
}

async function signIn(product: Within, password = PASSWORD): Promise<string> {
  const answer = await post(product, '/api/session', { email: EMAIL, password });
  if (answer.status !== 204) throw new Error(`Expected 204, got ${answer.status}: ${answer.body}`);
  return String(answer.headers['set-cookie']).split(';')[0]!;
}

const ACCOUNT = { LANTERN_ADMIN_EMAIL: EMAIL, LANTERN_ADMIN_PASSWORD: PASSWORD };
const NAME = 'Grey seal colony';

describe('whoever is not signed in', () => {
  let product: Product;
  let session: string;
  let key: string;
  let watchId: number;
  let pageId: number;

  beforeAll(async () => {
    const folder = join(tempFolder(), 'data');
    product = await startProduct({ env: ACCOUNT, folder });
    const made = await makeCheckin(product, { name: NAME });
    watchId = made.id;
    key = made.checkinAddress.split('/in/')[1]!;
    const sections = [{ title: '', items: [{ watchIds: [watchId], label: 'Colony' }] }];
    const page = await product.api('POST', '/pages', { title: 'The ferries', slug: 'ferries', sections });
    pageId = (page.body as { id: number }).id;
    await product.api('POST', '/tokens', { name: 'Harbour clerk' });
    session = await signIn(product);
  });
  afterAll(async () => {
    await product.stop();
    rmSync(product.folder, { recursive: true });
  });

  /** Every address Next answers at, from its own manifest. */
  const routes = (): string[] =>
    Object.values(
      JSON.parse(readFileSync(join(ROOT, '.next/app-path-routes-manifest.json'), 'utf8')) as Record<
        string,
        string
      >,
    );
  const addressOf = (route: string) =>
    route
      .replace('/watches/[id]', `/watches/${watchId}`)
      .replace('/pages/[id]', `/pages/${pageId}`)
      .replace('[slug]', 'ferries')
      .replace('[id]', '1');
  /** Behind the one address Next has for it lie those of the API, by its own document and its own table. */
  const apiAddresses = (): string[] => {
    const document = JSON.parse(readFileSync(inject('openApiFile'), 'utf8')) as { paths: object };
    const listed = Object.keys(document.paths).map((path) => `/api/v1${path}`);
    const own = Object.keys(OWN_ADDRESSES).map((path) => `/api${path}`);
    return [...listed, '/api/v1', ...own].map((path) => path.replaceAll(/\{\w+\}/g, '1'));
  };
  const telling = () => [NAME, key, EMAIL, 'Harbour clerk'];

  const odd = (path: string): string[] => {
    const coded = path.replace(/[a-z]/, (c) => `%${c.charCodeAt(0).toString(16)}`);
    return [
      path,
      `${path}?_rsc=abc`,
      `${path}/`,
      `/${path}`,
      `/.${path}`,
      `/sign-in/..${path}`,
      `/_next/static/..${path}`,
      `/p/ferries/..${path}`,
      `/_next/static/%2e%2e${path}`,
      `${path}.rsc`,
      `${path}.segments/_tree.segment.rsc`,
      `${path}.txt`,
      `${path};x`,
      `${path}%00`,
      `${path}\\`,
      coded,
      path.toUpperCase(),
      `/_next/data/x${path}.json`,
      `http://127.0.0.1${path}`,
    ];
  };
  const HEADERS: Record<string, string>[] = [
    {},
    { rsc: '1' },
    { rsc: '1', 'next-router-prefetch': '1' },
    { rsc: '1', 'next-router-segment-prefetch': '/_tree' },
    { 'x-middleware-prefetch': '1' },
    { 'x-middleware-subrequest': 'middleware:middleware:middleware:middleware:middleware' },
    { 'x-nextjs-data': '1' },
    { 'x-matched-path': '/watches', 'x-now-route-matches': '1=1' },
    { 'next-action': 'x', 'next-resume': '1' },
    { cookie: 'lantern_session=guess' },
    { authorization: 'Bearer guess' },
    { 'x-lantern-client': '127.0.0.1', 'x-lantern-local': '1' },
  ];

  /** Address, headers, method. */
  type Try = [string, Record<string, string>, string];

  it('gets nothing of the desk, whatever address and headers are tried', async () => {
    expect(routes().filter((route) => route.startsWith('/api'))).toEqual(['/api/[...path]']);
    const found = routes()
      .filter((route) => !route.startsWith('/api'))
      .map(addressOf);
    expect(found).toContain(`/watches/${watchId}`);
    expect(found.length).toBeGreaterThan(25);
    const leaks: string[] = [];
    let asked = 0;
    const api = new Set(apiAddresses());
    expect(api.size).toBeGreaterThan(80);
    for (const path of new Set([...found, ...api])) {
      const tries: Try[] = [
        // All addresses of the API go through one door of the framework: ways around it are tried at pages.
        ...(api.has(path) ? [path] : odd(path)).map((one): Try => [one, { rsc: '1' }, 'GET']),
        ...HEADERS.filter((_, i) => !api.has(path) || i % 3 === 0).map((one): Try => [path, one, 'GET']),
        ...['HEAD', 'POST', 'OPTIONS', 'PATCH', 'DELETE'].map((m): Try => [path, {}, m]),
      ];
      const answers = await Promise.all(
        tries.map(async ([one, headers, method]) => ({
          what: `${method} ${one} ${JSON.stringify(headers)}`,
          ...(await raw(product, one, { headers, method })),
        })),
      );
      asked += answers.length;
      const open = /^\/(p\/ferries|take\/[^/]+|sign-in|welcome|icon\.svg|manifest\.webmanifest)$/.test(path);
      for (const { what, status, body } of answers) {
        if (telling().some((secret) => body.includes(secret))) leaks.push(`${what} tells`);
        // What is turned away is turned away before anything is drawn.
        const door = status === 404 && body.includes('<h1 class="lead">There is no such page.</h1>');
        if (!open && !door && (body.length > 400 || body.includes('__next') || status === 200))
          leaks.push(`${what}: ${status}`);
        if (status >= 500) leaks.push(`${what}: ${status}`);
      }
    }
    expect(leaks).toEqual([]);
    expect(asked).toBeGreaterThan(900);
  });

  it('is told apart from somebody who is: with a session the same addresses tell', async () => {
    const headers = { cookie: session };
    const page = await raw(product, `/watches/${watchId}`, { headers });
    expect(page.status).toBe(200);
    for (const secret of [NAME, key, EMAIL]) expect(page.body).toContain(secret);
    const parts = await raw(product, `/watches/${watchId}?_rsc=1`, { headers: { ...headers, rsc: '1' } });
    expect(parts.body).toContain(key);
    expect((await raw(product, '/access', { headers })).body).toContain('Harbour clerk');
  });

  it('does not get in with a token where a person is meant', async () => {
    const headers = { authorization: `Bearer ${TOKEN}` };
    expect((await raw(product, '/watches', { headers })).status).toBe(307);
    expect((await raw(product, '/api/sessions', { headers })).status).toBe(401);
    expect((await raw(product, '/api/v1/watches', { headers })).status).toBe(200);
  });

  it('cannot use the door for pictures, methods nobody knows, or signs nobody can read', async () => {
    expect((await raw(product, '/_next/image?url=%2Ficon.svg&w=64&q=75')).status).toBe(404);
    expect((await raw(product, '/', { method: 'TRACE' })).status).toBe(501);
    expect((await raw(product, '/api/v1/watches/%zz')).status).toBe(400);
    expect((await raw(product, '/p/%')).status).toBe(400);
  });

  it('cannot spoil a public page for others', async () => {
    const page = () => raw(product, '/p/ferries/');
    const before = await page();
    const spoil = { 'x-middleware-prefetch': '1', 'content-security-policy': "script-src 'nonce-stolen'" };
    await raw(product, '/p/ferries/', { headers: spoil });
    await raw(product, '/p/ferries/?x=1', { headers: spoil });
    const after = await page();
    expect(after.status).toBe(200);
    expect(after.body).toContain('The ferries');
    expect(after.body).not.toContain('stolen');
    expect(after.body.length).toBeGreaterThan(before.body.length / 2);
  });

  it('sees pages that run nothing but their own', async () => {
    const SHARED = {
      'x-content-type-options': 'nosniff',
      'x-frame-options': 'DENY',
      'referrer-policy': 'same-origin',
    };
    const { headers: open, body: ferries } = await raw(product, '/p/ferries/');
    expect(open).toMatchObject(SHARED);
    expect(open['content-security-policy']).toBe(
      "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self'; font-src 'self'; connect-src 'self'; worker-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'",
    );
    const loaded = [...ferries.matchAll(/<script\b[^>]*>/g)].map((match) => match[0]);
    expect(loaded.length).toBe(2);
    for (const script of loaded) expect(script).toMatch(/^<script src="assets\/[\w.-]+"/);
    for (const path of ['/sign-in', '/welcome']) {
      const { headers, body } = await raw(product, path);
      const policy = String(headers['content-security-policy']);
      const nonce = /'nonce-([^']+)'/.exec(policy)?.[1];
      expect(policy).toContain("frame-ancestors 'none'");
      expect(policy).not.toMatch(/script-src[^;]*unsafe/);
      const scripts = [...body.matchAll(/<script\b[^>]*>/g)].map((match) => match[0]);
      expect(scripts.length).toBeGreaterThan(3);
      for (const script of scripts) expect(script).toContain(`nonce="${nonce}"`);
      expect(headers).toMatchObject(SHARED);
      expect(headers['strict-transport-security']).toBeUndefined();
    }
  });

  it('cannot fill the memory with a body', async () => {
    const memory = () =>
      Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${product.process.pid}/status`, 'utf8'))![1]) / 1024;
    const before = memory();
    const answer = await new Promise<number>((resolve, reject) => {
      const asking = httpRequest(
        {
          host: '127.0.0.1',
          port: product.port,
          path: '/api/session',
          method: 'POST',
          headers: {
            'content-type': 'application/json',
            origin: product.base,
            'transfer-encoding': 'chunked',
          },
        },
        (response) => resolve(response.statusCode!),
      );
      asking.on('error', (error: NodeJS.ErrnoException) =>
        // It hung up on us in the middle: that is an answer too.
        ['EPIPE', 'ECONNRESET'].includes(error.code ?? '') ? resolve(413) : reject(error),
      );
      const chunk = Buffer.alloc(1_000_000, 32);
      let sent = 0;
      const more = () => {
        while (sent < 200 && !asking.destroyed) {
          sent += 1;
          if (!asking.write(chunk)) return void asking.once('drain', more);
        }
        asking.end();
      };
      more();
    });
    expect(answer).toBe(413);
    expect(memory() - before).toBeLessThan(120);
    const told = { 'content-length': '300000000', 'content-type': 'application/json', origin: product.base };
    const asking = httpRequest({
      host: '127.0.0.1',
      port: product.port,
      path: '/api/session',
      method: 'POST',
      headers: told,
    });
    const status = await new Promise((resolve) => {
      asking.on('response', (response) => resolve(response.statusCode));
      asking.write('{');
    });
    asking.destroy();
    expect(status).toBe(413);
  });

  it('is kept out of what lies on disk too, whatever account of the machine it has', () => {
    const modeOf = (name: string) => (statSync(join(product.folder, name)).mode & 0o777).toString(8);
    expect(modeOf('.')).toBe('700');
    for (const name of ['lantern.db', 'lantern.db-wal', 'secrets.key', 'engine.sock', 'desk-1.sock']) {
      expect(modeOf(name), name).toBe('600');
    }
  });

  it('reads no token and no password in what is printed', () => {
    expect(product.output()).toContain('open at');
    for (const secret of [TOKEN, PASSWORD, session]) expect(product.output()).not.toContain(secret);
  });
});

describe('the first account', () => {
  const account = { email: EMAIL, password: PASSWORD };

  it('is made at this machine without more ado, and through a proxy only with the code that was printed', async () => {
    const product = await startProduct();
    const code = /asks for this code: (\S+)/.exec(product.output())![1]!;
    const proxied = { 'x-forwarded-for': '198.51.100.7' };
    const welcome = (headers: Record<string, string>) => raw(product, '/welcome', { headers });
    expect((await welcome(proxied)).body).toContain('It was printed where Calm Lantern was started');
    expect((await welcome({})).body).not.toContain('It was printed where');
    const none = await post(product, '/api/first-account', account, proxied);
    expect(none.status).toBe(422);
    expect(none.body).toContain('Expected the code that was printed');
    const wrong = await post(
      product,
      '/api/first-account',
      { ...account, code: 'aaaa-bbbb-cccc-dddd' },
      proxied,
    );
    expect(wrong.body).toContain('This is not the code');
    const pretended = await post(product, '/api/first-account', account, {
      ...proxied,
      'x-lantern-local': '1',
    });
    expect(pretended.status).toBe(422);
    expect((await post(product, '/api/first-account', { ...account, code }, proxied)).status).toBe(204);
    expect((await post(product, '/api/first-account', account)).status).toBe(409);
    await product.stop();
    const here = await startWithin();
    expect((await post(here, '/api/first-account', account)).status).toBe(204);
    await here.stop();
    for (const { folder } of [product, here]) rmSync(folder, { recursive: true });
  });
});

describe('an account', () => {
  let product: Within;
  let session: string;

  withinProcess((started) => (product = started), { ...ACCOUNT, LANTERN_TRUSTED_PROXY: '127.0.0.1' });
  beforeAll(async () => {
    session = await signIn(product);
  });
  const call = (method: string, path: string, body?: unknown, cookie = session) =>
    raw(product, path, {
      method,
      headers: { cookie, origin: product.base, 'content-type': 'application/json' },
      ...(body !== undefined && { body: JSON.stringify(body) }),
    });
  const works = async (cookie: string) =>
    (await call('GET', '/api/sessions', undefined, cookie)).status === 200;

  it('sees where it is signed in, and ends one session or all others', async () => {
    const [second, third] = [await signIn(product), await signIn(product)];
    const listed = JSON.parse((await call('GET', '/api/sessions')).body) as { id: number; here: boolean }[];
    expect(listed).toHaveLength(3);
    expect(listed.filter((one) => one.here)).toHaveLength(1);
    const thirdList = JSON.parse(
      (await call('GET', '/api/sessions', undefined, third)).body,
    ) as typeof listed;
    const own = thirdList.find((one) => one.here)!.id;
    expect((await call('DELETE', `/api/sessions/${own}`)).status).toBe(204);
    expect((await call('DELETE', `/api/sessions/0${own}`)).status).toBe(404);
    expect([await works(second), await works(third)]).toEqual([true, false]);
    expect((await call('DELETE', '/api/sessions')).status).toBe(204);
    expect([await works(session), await works(second)]).toEqual([true, false]);
  });

  it('stays its owner’s though another client fails for hours', async () => {
    const from = (client: string, password: string) =>
      post(product, '/api/session', { email: EMAIL, password }, { 'x-forwarded-for': client });
    const statuses: number[] = [];
    for (let i = 0; i < 3; i += 1) statuses.push((await from('198.51.100.9', 'a guess')).status);
    expect(statuses).toEqual([422, 422, 422]);
    // As after hours of it, so that it does not depend on how fast this machine is.
    const db = await openStore(product.folder, { migrate: false });
    await db('sign_in_failures').where({ client: '198.51.100.9' }).update({ count: 20 });
    await db.destroy();
    expect((await from('198.51.100.9', 'a guess')).status).toBe(429);
    expect((await from('192.0.2.7', PASSWORD)).status).toBe(204);
    expect((await from('198.51.100.9', PASSWORD)).status).toBe(429);
  });

  it('is the first one only, and another costs no hashing', async () => {
    const used = () => {
      const { user, system } = process.cpuUsage();
      return (user + system) / 1000;
    };
    const before = used();
    const tries = Array.from({ length: 40 }, () =>
      post(product, '/api/first-account', { email: EMAIL, password: PASSWORD }),
    );
    const statuses = (await Promise.all(tries)).map((answer) => answer.status);
    expect(new Set(statuses)).toEqual(new Set([409]));
    // Forty hashes take some six seconds of a core.
    expect(used() - before).toBeLessThan(3000);
  });

  it('changes its password with the present one, which ends all other sessions', async () => {
    const other = await signIn(product);
    const next = 'the fog lifts at noon';
    const wrong = await call('PATCH', '/api/account', { current: 'not this', password: next });
    expect(JSON.parse(wrong.body)).toMatchObject({ errors: [{ field: 'current' }] });
    const short = await call('PATCH', '/api/account', { current: PASSWORD, password: 'short' });
    expect(JSON.parse(short.body)).toMatchObject({ errors: [{ field: 'password' }] });
    expect((await call('PATCH', '/api/account', { current: PASSWORD, password: next })).status).toBe(204);
    expect([await works(session), await works(other)]).toEqual([true, false]);
    await expect(signIn(product)).rejects.toThrow('422');
    session = await signIn(product, next);
    const moved = await call('PATCH', '/api/account', { current: next, email: 'rui@ternferry.test' });
    expect(moved.status).toBe(204);
    expect(
      (await post(product, '/api/session', { email: 'rui@ternferry.test', password: next })).status,
    ).toBe(204);
  });
});

describe('what lies on disk and what is said to browsers', () => {
  it('puts the engine’s socket where nobody can guess it, if the folder’s path is too long for one', async () => {
    const folder = join(tempFolder(), 'a-long-name-of-a-folder-'.repeat(5));
    const temporary = tempFolder();
    // Slow enough for two parts that make a place at once to be seen.
    const slowly = join(temporary, 'slowly.cjs');
    writeFileSync(
      slowly,
      `const fs = require('node:fs');
      const make = fs.mkdtempSync;
      fs.mkdtempSync = (...of) => {
        Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 1500);
        return make(...of);
      };
      require('node:module').syncBuiltinESMExports();`,
    );
    const env = { TMPDIR: temporary, NODE_OPTIONS: `--require=${slowly}` };
    const product = await startProduct({ folder, env });
    expect(readdirSync(temporary).filter((name) => name.startsWith('calm-lantern-'))).toHaveLength(1);
    const place = readFileSync(join(folder, 'engine.place'), 'utf8');
    expect(place).toMatch(/calm-lantern-\w{6}\/engine\.sock$/);
    expect((statSync(join(place, '..')).mode & 0o777).toString(8)).toBe('700');
    await product.kill();
    const again = await startProduct({ folder, env, port: product.port });
    expect(again.output()).not.toContain('watching (pid');
    await again.stop();
    for (const one of [folder, temporary]) rmSync(one, { recursive: true });
  });

  it('asks for TLS from now on where the public address has it, and is changed under no other name', async () => {
    const product = await startWithin({ ...ACCOUNT, LANTERN_BASE_URL: 'https://watch.example' });
    for (const path of ['/p/none/', '/healthz', '/api/v1/watches'])
      expect((await raw(product, path)).headers['strict-transport-security'], path).toBe('max-age=31536000');
    const body = { email: EMAIL, password: PASSWORD };
    const under = (host: string) => post(product, '/api/session', body, { host, origin: `https://${host}` });
    expect((await under('evil.example')).status).toBe(421);
    expect((await under('watch.example')).status).toBe(204);
    const first = await startWithin({ LANTERN_BASE_URL: 'https://watch.example' });
    expect((await post(first, '/api/first-account', body)).status).toBe(422);
    await product.stop();
    await first.stop();
    for (const { folder } of [product, first]) rmSync(folder, { recursive: true });
  });

  it('keeps a token of the environment revoked over a start', async () => {
    const product = await startWithin();
    const [token] = (await product.api('GET', '/tokens')).body as { id: number }[];
    expect((await product.api('DELETE', `/tokens/${token!.id}`)).status).toBe(204);
    expect((await product.api('GET', '/watches')).status).toBe(401);
    await product.stop();
    const said = vi.spyOn(console, 'log').mockReturnValue();
    const again = await startWithin({}, product.folder);
    expect(said.mock.calls.flat().join('\n')).toContain('was revoked on the desk and stays so');
    said.mockRestore();
    expect((await again.api('GET', '/watches')).status).toBe(401);
    await again.stop();
    rmSync(product.folder, { recursive: true });
  });
});
