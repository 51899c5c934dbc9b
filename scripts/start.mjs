// npm start: an empty product on a data folder. LANTERN_PRACTICE=1 starts the practice harbour beside it.
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { ensureBuilt, ensureInstalled, root } from './ensure.mjs';

ensureInstalled();
ensureBuilt();
if (process.env.LANTERN_PRACTICE === '1') {
  const harbour = spawn(process.execPath, [join(root, 'dist', 'standins.js')], { stdio: 'inherit' });
  process.on('exit', () => harbour.kill('SIGTERM'));
}
await import('../dist/server.js');
