import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Knex } from 'knex';
import type { WatchConfig } from '@/core/settings/watch-config';
import { web } from '@/probes/kinds/web';
import { openStore } from '@/store/db/open';
import { saveNewWatch } from '@/store/watches/watches';

/** npm runs everything from the root of the project. */
export const ROOT = process.cwd();
export const TOKEN = 'test-token-tern-island-ferries';
export const EMAIL = 'ines@ternferry.test';
export const PASSWORD = 'the boats sail at dawn';

export function tempFolder(): string {
  return mkdtempSync(join(tmpdir(), 'lantern-test-'));
}

export interface TempStore {
  db: Knex;
  folder: string;
  close: () => Promise<void>;
}

/** A database with all its tables and nothing in them. All steps to it take longer than most tests: once a process. */
let emptyFile: Promise<Buffer> | null = null;

async function makeEmptyFile(): Promise<Buffer> {
  const folder = tempFolder();
  const mask = process.umask();
  try {
    const db = await openStore(folder);
    await db.destroy();
    return readFileSync(join(folder, 'lantern.db'));
  } finally {
    // Whoever starts a product opens no database, and keeps the mask that is theirs.
    process.umask(mask);
    rmSync(folder, { recursive: true, force: true });
  }
}

/** A folder as the first start leaves it where nothing was done after the steps of the database. */
export async function preparedFolder(): Promise<string> {
  const folder = tempFolder();
  writeFileSync(join(folder, 'lantern.db'), await (emptyFile ??= makeEmptyFile()), { mode: 0o600 });
  return folder;
}

export async function tempStore(): Promise<TempStore> {
  const folder = await preparedFolder();
  const db = await openStore(folder);
  return {
    db,
    folder,
    close: async () => {
      await db.destroy();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

/** A probe of any kind that is told by its first failed look. */
export function probeConfig(settings: object, rest: object = {}): WatchConfig {
  return {
    type: 'probe',
    settings,
    every: 60,
    timeout: 5,
    secondLooks: 0,
    secondLookGap: 1,
    slowAfter: null,
    slowLooks: 3,
    ...rest,
  } as WatchConfig;
}

export function webConfig(address: string, rest: object = {}): WatchConfig {
  return probeConfig({ ...web.defaults, address }, rest);
}

export function periodConfig(every: number, leeway: number): WatchConfig {
  return { type: 'checkin', schedule: { type: 'period', every }, leeway, longestRun: null };
}

export function makeWatch(
  db: Knex,
  config: WatchConfig,
  rest: { name?: string; checkinKey?: string | null; createdAt?: number; section?: string | null } = {},
): Promise<number> {
  return saveNewWatch(db, {
    kind: config.type === 'checkin' ? 'checkin' : 'web',
    name: rest.name ?? 'Booking site',
    section: rest.section ?? null,
    config,
    checkinKey: rest.checkinKey ?? null,
    createdAt: rest.createdAt ?? Date.now(),
  });
}

/** Some servers refuse to run as root; then they run as an account of their own. */
export function ownAccount(name: string): { uid?: number; gid?: number } {
  if (process.getuid?.() !== 0) return {};
  const id = (flag: string) => Number(execFileSync('id', [flag, name]).toString());
  return { uid: id('-u'), gid: id('-g') };
}

/** Whether a port of this machine can be listened at, on whichever address. */
async function isFree(port: number): Promise<boolean> {
  const canListen = (host?: string) =>
    new Promise<boolean>((resolve) => {
      const server = createServer();
      server.once('error', () => resolve(false));
      server.listen({ port, ...(host !== undefined && { host }) }, () => server.close(() => resolve(true)));
    });
  return (await canListen('127.0.0.1')) && canListen();
}

/**
 * Below what systems hand out by themselves, and a stretch of its own for each of the files that are tried at once: two
 * that shared one would be given the same port between the question and its use.
 */
const STRETCH = 2_500;
const POOL = process.env['VITEST_POOL_ID'] ?? process.env['TEST_PARALLEL_INDEX'] ?? 0;
const FIRST_PORT = 10_000 + (Number(POOL) % 8) * STRETCH;
let nextPort = FIRST_PORT + ((process.pid * 50) % STRETCH);

/** A port nobody listens at, and nobody else will be given; with so many behind it that are left alone too. */
export async function freePort(behind = 0): Promise<number> {
  for (;;) {
    if (nextPort + behind >= FIRST_PORT + STRETCH) nextPort = FIRST_PORT;
    const port = nextPort++;
    if (!(await isFree(port))) continue;
    nextPort += behind;
    return port;
  }
}

/** Waits until `check` returns something; fails loudly when it never does. */
export async function until<T>(
  check: () => Promise<T | null | undefined | false> | T | null | undefined | false,
  what: string,
  limitMs = 30_000,
): Promise<T> {
  const end = Date.now() + limitMs;
  for (;;) {
    const value = await check();
    if (value) return value;
    if (Date.now() > end) throw new Error(`Waited ${limitMs} ms in vain: ${what}`);
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}

export interface Product {
  base: string;
  port: number;
  folder: string;
  output: () => string;
  process: ChildProcess;
  /** Calls the API with the token. */
  api: (
    method: string,
    path: string,
    body?: unknown,
    headers?: Record<string, string>,
  ) => Promise<{ status: number; body: never; headers: Headers }>;
  /** Ends it in good order and resolves to its exit code. */
  stop: () => Promise<number | null>;
  kill: () => Promise<void>;
  enginePid: () => number;
}

export interface ProductOptions {
  /** Which question it has to answer before the test goes on. */
  until?: 'readyz' | 'healthz';
  folder?: string;
  port?: number;
  env?: Record<string, string>;
}

/** Calls the API of a product with its token. */
export function apiOf(base: string): Product['api'] {
  return async (method, path, body, headers = {}) => {
    const response = await fetch(`${base}/api/v1${path}`, {
      method,
      headers: { authorization: `Bearer ${TOKEN}`, 'content-type': 'application/json', ...headers },
      ...(body !== undefined && { body: typeof body === 'string' ? body : JSON.stringify(body) }),
    });
    const answer = await response.text();
    const { status } = response;
    return {
      status,
      headers: response.headers,
      body: (answer === '' ? null : JSON.parse(answer)) as never,
    };
  };
}

/** Starts the built product on a data folder of its own and waits until it is ready. */
export async function startProduct(options: ProductOptions = {}): Promise<Product> {
  const folder = options.folder ?? (await preparedFolder());
  const port = options.port ?? (await freePort());
  const child = spawn(process.execPath, [join(ROOT, 'dist/server.js')], {
    cwd: ROOT,
    stdio: ['ignore', 'pipe', 'pipe'],
    env: {
      ...process.env,
      NODE_ENV: 'production',
      PORT: String(port),
      LANTERN_DATA: folder,
      LANTERN_API_TOKEN: TOKEN,
      LANTERN_ZONE: 'UTC',
      ...options.env,
    },
  });
  // A test that fails before it stops its product must not leave it behind.
  const endWithUs = () => void child.kill('SIGTERM');
  process.once('exit', endWithUs);
  child.once('exit', () => process.off('exit', endWithUs));
  let text = '';
  child.stdout.on('data', (chunk: Buffer) => (text += chunk.toString()));
  child.stderr.on('data', (chunk: Buffer) => (text += chunk.toString()));
  const base = `http://127.0.0.1:${port}`;
  const exited = new Promise<number | null>((resolve) => child.once('exit', (code) => resolve(code)));
  await until(
    async () => {
      if (child.exitCode !== null) throw new Error(`It ended with ${child.exitCode}:\n${text}`);
      return fetch(`${base}/${options.until ?? 'readyz'}`).then(
        (r) => r.ok,
        () => false,
      );
    },
    `ready at ${base}`,
    60_000,
  );
  return {
    base,
    port,
    folder,
    process: child,
    output: () => text,
    api: apiOf(base),
    stop: () => {
      child.kill('SIGTERM');
      return exited;
    },
    kill: async () => {
      child.kill('SIGKILL');
      await exited;
    },
    enginePid: () => Number([...text.matchAll(/watching \(pid (\d+)\)/g)].at(-1)![1]),
  };
}

export function isAlive(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch {
    return false;
  }
}

export interface Answer {
  status: number;
  text: string;
  headers: Headers;
}

export async function ask(url: string, init: RequestInit = {}): Promise<Answer> {
  const response = await fetch(url, { redirect: 'manual', ...init });
  return { status: response.status, text: await response.text(), headers: response.headers };
}

export interface MadeWatch {
  id: number;
  checkinAddress: string;
  state: string;
}

export async function makeCheckin(
  product: Pick<Product, 'api'>,
  rest: Record<string, unknown> = {},
): Promise<MadeWatch> {
  const made = await product.api('POST', '/watches', {
    kind: 'checkin',
    name: 'Nightly manifest backup',
    schedule: { type: 'period', everySeconds: 3600 },
    leewaySeconds: 60,
    ...rest,
  });
  if (made.status !== 201) throw new Error(`Expected 201, got ${made.status}`);
  return made.body as MadeWatch;
}
