// npm run demo: installs, builds, fills ninety days of demo data, starts the product and its stand-ins.
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { ensureBuilt, ensureInstalled, root } from './ensure.mjs';

const harbourPort = Number(process.env.STANDIN_PORT || 4790);
const dataFolder = process.env.LANTERN_DATA || join(root, 'data', 'demo');
const port = process.env.PORT || '4780';
const email = 'ines@ternferry.test';
const password = 'the boats sail at dawn';
const token = 'demo-token-tern-island-ferries';
const hosts = [
  'booking',
  'tides',
  'rota',
  'kiosk-north',
  'kiosk-south',
  'mail',
  'desk',
  'ledger',
  'house',
  'doorbell',
]
  .map((name) => `${name}.ternferry.test=127.0.0.1`)
  .join(',');

const env = {
  ...process.env,
  PORT: port,
  LANTERN_DATA: dataFolder,
  LANTERN_ADMIN_EMAIL: email,
  LANTERN_ADMIN_PASSWORD: password,
  LANTERN_API_TOKEN: token,
  LANTERN_ZONE: process.env.LANTERN_ZONE || 'Europe/Lisbon',
  LANTERN_HOSTS: hosts,
  STANDIN_PORT: String(harbourPort),
  STANDIN_STATUS_PAGE: `http://127.0.0.1:${port}/p/ferries/`,
  STANDIN_JOBS: join(dataFolder, 'practice-jobs.json'),
  LANTERN_COPIES: process.env.LANTERN_COPIES || join(dataFolder, 'elsewhere'),
  LANTERN_SCRIPTS: process.env.LANTERN_SCRIPTS || join(root, 'practice', 'scripts'),
  // The practice authority signs the certificate of the crew rota.
  NODE_EXTRA_CA_CERTS: join(dataFolder, 'practice-ca.pem'),
  NEXT_TELEMETRY_DISABLED: '1',
};

ensureInstalled();
ensureBuilt();

const bare = { ...env };
delete bare.NODE_EXTRA_CA_CERTS;
if (!process.env.LANTERN_DATA) rmSync(dataFolder, { recursive: true, force: true });
// What the demo writes last: a folder that has it was filled, one that has other data is somebody's own.
if (existsSync(env.STANDIN_JOBS)) {
  console.log(`Going on with what an earlier demo filled into ${dataFolder}.`);
} else if (existsSync(join(dataFolder, 'lantern.db'))) {
  console.error(
    `Expected LANTERN_DATA to be an empty folder, or one that a demo has filled; ${dataFolder} has data of its own. It was left as it is.`,
  );
  process.exit(1);
} else {
  console.log(`Filling ninety days of Tern Island Ferries into ${dataFolder} …`);
  const filled = spawnSync(process.execPath, [join(root, 'dist', 'demo.js')], {
    stdio: 'inherit',
    env: bare,
  });
  if (filled.status !== 0) process.exit(filled.status ?? 1);
}

// Groups of their own: Ctrl-C comes to this process, which ends them in order.
const harbour = spawn(process.execPath, [join(root, 'dist', 'standins.js')], {
  stdio: ['ignore', 'pipe', 'inherit'],
  env: bare,
  detached: true,
});
await new Promise((resolve, reject) => {
  harbour.stdout.once('data', resolve);
  harbour.once('exit', () => reject(new Error('The practice harbour did not start; is its port taken?')));
});
// The story goes on: the booking site is broken when the demo begins.
await fetch(`http://127.0.0.1:${harbourPort}/stand-ins/booking?mode=status%20500`, { method: 'POST' });
// One room does not take what is sent there.
await fetch(`http://127.0.0.1:${harbourPort}/rooms/events/mode?mode=busy`, { method: 'POST' });

const server = spawn(process.execPath, [join(root, 'dist', 'server.js')], {
  stdio: ['ignore', 'inherit', 'inherit'],
  env,
  detached: true,
});
let stopping = false;
const stop = () => {
  if (stopping) return;
  stopping = true;
  server.kill('SIGTERM');
};
process.on('SIGINT', stop);
process.on('SIGTERM', stop);
server.once('exit', (code) => {
  harbour.kill('SIGTERM');
  process.exitCode = stopping ? 0 : (code ?? 1);
});

const address = `http://127.0.0.1:${port}`;
for (let i = 0; i < 100 && !stopping; i += 1) {
  const ready = await fetch(`${address}/readyz`)
    .then((r) => r.ok)
    .catch(() => false);
  if (ready) {
    console.log(`
  Calm Lantern      ${address}
  sign in with      ${email}  /  ${password}
  API token         ${token}
  public pages      ${address}/p/ferries/  and /p/partners/ (the tide waits for nobody)
  a copy elsewhere  http://127.0.0.1:${harbourPort}/elsewhere/ferries/index.html
  practice harbour  http://127.0.0.1:${harbourPort}   (break and mend things, and read what arrives where)

  Ctrl-C stops everything.
`);
    break;
  }
  await new Promise((resolve) => setTimeout(resolve, 200));
}
