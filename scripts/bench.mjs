// npm run bench [-- PART…], of checkins, pages, looks, lateness, messages and others: prints each figure as a ratio, in one run, against the bare thing it is built from.
import { build } from 'esbuild';
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { forNode } from './build.mjs';
import { ensureBuilt, ensureInstalled, root } from './ensure.mjs';

ensureInstalled();
ensureBuilt();
await build({
  ...forNode,
  entryPoints: { bench: 'bench/main.ts', bare: 'bench/bare.ts' },
  absWorkingDir: root,
  outdir: 'dist',
});
const { status } = spawnSync(process.execPath, [join(root, 'dist', 'bench.js'), ...process.argv.slice(2)], {
  cwd: root,
  stdio: 'inherit',
});
process.exit(status ?? 1);
