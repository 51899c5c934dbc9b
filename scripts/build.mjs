// Bundles the processes that are not pages: the front door, the engine, the stand-ins and the demo filler.
import { build } from 'esbuild';

/** How anything of ours is bundled for Node. */
export const forNode = {
  bundle: true,
  packages: 'external',
  platform: 'node',
  target: 'node20',
  format: 'esm',
  logLevel: 'warning',
};

export const options = {
  ...forNode,
  entryPoints: {
    server: 'src/server/main.ts',
    engine: 'src/engine/main.ts',
    'look-thread': 'src/engine/looks/look-thread.ts',
    'mail-worker': 'src/server/checkins/mail-worker.ts',
    'calendar-worker': 'src/server/workers/calendar-worker.ts',
    'past-worker': 'src/server/workers/past-worker.ts',
    standins: 'src/standins/main.ts',
    demo: 'src/demo/main.ts',
  },
  outdir: 'dist',
  sourcemap: true,
};

if (process.argv[1] === import.meta.filename) await build(options);
