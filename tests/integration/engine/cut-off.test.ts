import { execFileSync, spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { existsSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { openStore } from '@/store/db/open';
import { freePort, ROOT, startProduct, tempStore, until, type MadeWatch, type Product } from '../helpers';

const possible =
  process.getuid?.() === 0 &&
  existsSync('/usr/sbin/ip') &&
  spawnSync('unshare', ['-n', 'true'], { stdio: 'ignore' }).status === 0;
if (!possible) process.stderr.write('No network of our own can be made here: its tests are left out\n');

/** A page of the crew rota, inside the network of the engine. */
const PAGE = `require('http').createServer((_, r) => r.end('Who sails today')).listen(Number(process.argv[1]))`;

/** It never leaves the network made here (RFC 5737: for documentation). */
const NET = '192.0.2.10/24';

interface Look {
  verdict: string;
  cause?: string;
  detail?: Record<string, unknown>;
  sentence: string;
}

describe.runIf(possible)('an engine in a network of its own, whose cable is pulled', () => {
  let product: Product;
  let engine: ChildProcess;
  let id: number;
  let port: number;

  const cable = (state: 'add' | 'del') =>
    execFileSync('nsenter', ['-t', String(engine.pid), '-n', 'ip', 'address', state, NET, 'dev', 'lo']);
  const look = async () => (await product.api('POST', `/watches/${id}/look`)).body as Look;
  const watch = async () => (await product.api('GET', `/watches/${id}`)).body as MadeWatch;
  const outages = async () => (await product.api('GET', '/outages')).body as { cause: string }[];
  const losses = async () =>
    (await product.api('GET', '/own-line/losses')).body as { endedAt: string | null }[];
  const setLine = (addresses: string[]) =>
    product.api('PATCH', '/own-line', { addresses }, { 'if-match': '*' });

  beforeAll(async () => {
    const store = await tempStore();
    await store.db.destroy();
    port = await freePort();
    const script =
      'ip link set lo up && ip address add "$3" dev lo && { "$0" -e "$1" "$2" & exec "$0" dist/engine.js; }';
    engine = spawn('unshare', ['-n', 'sh', '-c', script, process.execPath, PAGE, String(port), NET], {
      cwd: ROOT,
      stdio: 'ignore',
      detached: true,
      env: { ...process.env, LANTERN_DATA: store.folder, LANTERN_ZONE: 'UTC' },
    });
    await until(() => existsSync(join(store.folder, 'engine.sock')), 'the engine');
    product = await startProduct({ folder: store.folder });
    const made = await product.api('POST', '/watches', {
      name: 'Crew rota',
      settings: { address: `http://192.0.2.10:${port}/` },
      everySeconds: 3600,
      timeoutSeconds: 2,
      secondLooks: 0,
    });
    expect(made.status).toBe(201);
    id = (made.body as MadeWatch).id;
    await until(async () => (await watch()).state === 'up', 'the rota is up');
  }, 60_000);

  afterAll(async () => {
    await product.stop();
    // The page beside the engine goes with it.
    process.kill(-engine.pid!, 'SIGKILL');
    rmSync(product.folder, { recursive: true });
  });

  it('says that there is no route, which is not what a page that is away looks like', async () => {
    cable('del');
    expect(await look()).toMatchObject({
      verdict: 'failed',
      cause: 'host.no-route',
      sentence: 'There is no route to 192.0.2.10.',
    });
    expect((await watch()).state).toBe('down');
    expect(await outages()).toMatchObject([{ cause: 'host.no-route' }]);
    cable('add');
    expect((await look()).verdict).toBe('fine');
    expect((await watch()).state).toBe('up');
  });

  it('with addresses that tell whether it can reach out, concludes nothing and says so once', async () => {
    expect((await setLine([`192.0.2.11:${port}`])).body).toMatchObject({ out: false });
    cable('del');
    await until(async () => (await look()).cause === 'look.no-line', 'the line is lost');
    expect((await watch()).state).toBe('up');
    expect(await losses()).toMatchObject([{ endedAt: null }]);
    cable('add');
    await until(async () => (await losses())[0]!.endedAt !== null, 'the line is back');
    await until(async () => (await look()).verdict === 'fine', 'looked at again');
    expect(await outages()).toHaveLength(1);
    const db = await openStore(product.folder, { migrate: false });
    const happened = (await db('happenings').orderBy('id').pluck('happening')) as string[];
    const phases = happened.map(
      (text) => (JSON.parse(text) as { happening: { thread: string; phase: string } }).happening,
    );
    expect(phases.map(({ thread, phase }) => `${thread} ${phase}`)).toEqual([
      `w${id} opens`,
      `w${id} closes`,
      'line opens',
      'line closes',
    ]);
    expect(await db('stretches').where({ kind: 'unobserved', watch_id: id })).toHaveLength(1);
    await db.destroy();
  });
});
