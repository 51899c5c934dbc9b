import { spawn, spawnSync } from 'node:child_process';
import { cpSync, mkdirSync, readdirSync, rmSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { ask, EMAIL, freePort, PASSWORD, ROOT, tempFolder, TOKEN, until } from '../helpers';

const NO_REGISTRY = /ENOTFOUND|EAI_AGAIN|ECONNREFUSED|ENETUNREACH|ETIMEDOUT|ENOTCACHED/;
/** Compiled for this machine already; compiling it takes minutes, and has nothing to do with what is tried here. */
const COMPILED = 'node_modules/better-sqlite3/build/Release';

it('the product as one file is installed into an empty folder, starts with one command, and does its work', async (context) => {
  const folder = tempFolder();
  const packed = spawnSync(process.execPath, [join(ROOT, 'scripts/pack.mjs'), folder], { encoding: 'utf8' });
  expect(packed.status, packed.stderr).toBe(0);
  const file = readdirSync(folder).find((name) => name.endsWith('.tgz'))!;
  expect(statSync(join(folder, file)).size).toBeLessThan(25_000_000);
  const place = join(folder, 'place');
  mkdirSync(place);
  const flags = ['--ignore-scripts', '--no-audit', '--no-fund', '--prefer-offline'];
  const installed = spawnSync('npm', ['install', ...flags, join(folder, file)], {
    cwd: place,
    encoding: 'utf8',
  });
  if (NO_REGISTRY.test(installed.stderr)) context.skip('There is no registry to install from.');
  expect(installed.status, installed.stderr).toBe(0);
  cpSync(join(ROOT, COMPILED), join(place, COMPILED), { recursive: true });
  const command = join(place, 'node_modules/.bin/calm-lantern');
  const other = spawnSync(command, ['help'], { cwd: place, encoding: 'utf8' });
  expect([other.status, other.stderr]).toEqual([
    2,
    'Expected nothing, or new-password [E-MAIL], got "help".\n',
  ]);
  const early = spawnSync(command, ['new-password'], { cwd: place, encoding: 'utf8' });
  expect([early.status, early.stderr]).toEqual([
    1,
    expect.stringMatching(/^Expected LANTERN_DATA to be the folder of a Calm Lantern; there is none in /),
  ]);
  const port = await freePort();
  const base = `http://127.0.0.1:${port}`;
  const product = spawn(command, [], {
    cwd: place,
    stdio: ['ignore', 'pipe', 'pipe'],
    env: {
      ...process.env,
      PORT: String(port),
      LANTERN_API_TOKEN: TOKEN,
      LANTERN_ZONE: 'UTC',
      LANTERN_DATA: '',
    },
  });
  let said = '';
  for (const stream of [product.stdout, product.stderr])
    stream.on('data', (text: Buffer) => (said += text.toString()));
  const ended = new Promise((resolve) => product.once('exit', resolve));
  try {
    await until(
      () =>
        fetch(`${base}/readyz`).then(
          ({ ok }) => ok,
          () => false,
        ),
      'ready',
      60_000,
    );
    const send = (path: string, body: object, headers: Record<string, string>) =>
      ask(base + path, {
        method: 'POST',
        headers: { 'content-type': 'application/json', ...headers },
        body: JSON.stringify(body),
      });
    // The story's first steps: an account, a watch by its address alone, a look, its screen, a page for the public.
    const account = { email: EMAIL, password: PASSWORD };
    const first = await send('/api/first-account', account, { origin: base });
    expect(first.status, first.text).toBeLessThan(300);
    const cookie = first.headers.get('set-cookie')!.split(';')[0]!;
    const token = { authorization: `Bearer ${TOKEN}` };
    const made = await send(
      '/api/v1/watches',
      { kind: 'web', settings: { address: `${base}/healthz` } },
      token,
    );
    expect(made.status, made.text).toBe(201);
    const { id } = JSON.parse(made.text) as { id: number };
    const looked = await send(`/api/v1/watches/${id}/look`, {}, token);
    expect(JSON.parse(looked.text), looked.text).toMatchObject({ verdict: 'fine' });
    const screen = await ask(`${base}/watches/${id}`, { headers: { cookie } });
    expect([screen.status, screen.text.includes('/healthz')]).toEqual([200, true]);
    const style = /href="(\/_next\/static\/[^"]+\.css)"/.exec(screen.text)![1]!;
    expect((await ask(base + style, { headers: { cookie } })).status).toBe(200);
    const page = {
      title: 'Ferries',
      slug: 'ferries',
      sections: [{ title: '', items: [{ watchIds: [id], label: 'Sailings' }] }],
    };
    expect((await send('/api/v1/pages', page, token)).status).toBe(201);
    const shown = await ask(`${base}/p/ferries/`);
    expect([shown.status, shown.text.includes('Sailings')]).toEqual([200, true]);
    expect((await ask(`${base}/lantern-run`)).text).toContain('#!/bin/sh');
  } catch (error) {
    throw new Error(`${String(error)}\n${said}`, { cause: error });
  } finally {
    product.kill('SIGTERM');
    await ended;
    rmSync(folder, { recursive: true, force: true });
  }
}, 400_000);
