// npm run dev: the product from its sources. Pages reload by themselves; a change to front door or engine restarts both.
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { context } from 'esbuild';
import { options } from './build.mjs';
import { ensureInstalled, root } from './ensure.mjs';

ensureInstalled();
const env = {
  ...process.env,
  NODE_ENV: 'development',
  NEXT_TELEMETRY_DISABLED: '1',
  LANTERN_DATA: process.env.LANTERN_DATA || join(root, 'data', 'dev'),
};

let running = null;
let stopping = false;

async function stop() {
  if (!running || running.exitCode !== null) return;
  const ended = new Promise((resolve) => running.once('exit', resolve));
  running.kill('SIGTERM');
  await ended;
}

async function restart() {
  await stop();
  if (stopping) return;
  running = spawn(process.execPath, ['--enable-source-maps', join(root, 'dist', 'server.js')], {
    cwd: root,
    stdio: 'inherit',
    env,
  });
}

let turn = Promise.resolve();
const restarts = {
  name: 'restarts',
  setup: (build) => {
    build.onEnd(({ errors }) => {
      if (errors.length === 0) turn = turn.then(restart);
    });
  },
};

const bundles = await context({ ...options, plugins: [restarts] });
await bundles.watch();
for (const signal of ['SIGINT', 'SIGTERM']) {
  process.on(signal, () => {
    stopping = true;
    void bundles
      .dispose()
      .then(() => turn)
      .then(stop)
      .then(() => process.exit(0));
  });
}
