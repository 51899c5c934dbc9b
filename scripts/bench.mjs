// npm run bench [-- PART…], of checkins, pages, looks, lateness and bytes: prints each figure as a ratio, in one run, against the bare thing it is built from.
import { build } from 'esbuild';
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { ensureBuilt, ensureInstalled, root } from './ensure.mjs';

ensureInstalled();
ensureBuilt();
await build({
  entryPoints: { bench: 'tests/bench/main.ts', bare: 'tests/bench/bare.ts' },
  absWorkingDir: root,
  outdir: 'dist',
  bundle: true,
  packages: 'external',
  platform: 'node',
  target: 'node20',
  format: 'esm',
  logLevel: 'warning',
});
const { status } = spawnSync(process.execPath, [join(root, 'dist', 'bench.js'), ...process.argv.slice(2)], {
  cwd: root,
  stdio: 'inherit',
});
process.exit(status ?? 1);
