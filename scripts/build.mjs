// Bundles the processes that are not pages: the front door, the engine, the stand-ins and the demo filler.
import { join } from 'node:path';
import { build } from 'esbuild';
import { buildSite } from './build-site.mjs';

/** What is native, or looks for parts of itself at run time, stays a package. */
const PACKAGES_OF_OURS = ['better-sqlite3', 'next', 'sharp'];
/** What an installation needs besides what is bundled; pages are not bundled here, and ask for it by name. */
export const PACKAGES = [...PACKAGES_OF_OURS, 'knex'];
/** What packages ask for and can do without: drivers and speed-ups that are not installed. */
const ABSENT = ['pg-native', 'bufferutil', 'utf-8-validate', 'sqlite3'];

/** Of the query builder only the part for our database is bundled; the others would bring drivers along. */
const oneDialect = {
  name: 'one-dialect',
  setup: ({ onResolve }) =>
    onResolve({ filter: /^\.\// }, ({ path, importer }) =>
      importer.endsWith(join('knex', 'lib', 'dialects', 'index.js')) && path !== './better-sqlite3'
        ? { path: `knex/lib/dialects/${path.slice(2)}`, external: true }
        : undefined,
    ),
};

/** How anything of ours is bundled for Node. */
export const forNode = {
  bundle: true,
  packages: 'external',
  platform: 'node',
  target: 'node20',
  format: 'esm',
  jsx: 'automatic',
  logLevel: 'warning',
};

export const options = {
  ...forNode,
  // Thousands of small files take a start longer to find than to read: packages go into one file with what uses them.
  packages: 'bundle',
  // The front door is read only once the engine is being started.
  external: [...PACKAGES_OF_OURS, ...ABSENT, './door.js'],
  // What packages written for CommonJS expect to be there.
  banner: {
    js: [
      "import { createRequire as requireFrom } from 'node:module';",
      'const require = requireFrom(import.meta.url);',
      'const __dirname = import.meta.dirname;',
    ].join('\n'),
  },
  entryPoints: {
    server: 'src/server/main.ts',
    door: 'src/server/door.ts',
    desk: 'src/server/desk/main.ts',
    'new-password': 'src/server/new-password.ts',
    engine: 'src/engine/main.ts',
    'look-thread': 'src/engine/looks/look-thread.ts',
    'mail-worker': 'src/server/checkins/mail-worker.ts',
    'calendar-worker': 'src/server/workers/calendar-worker.ts',
    'draw-worker': 'src/server/workers/draw-worker.ts',
    'picture-worker': 'src/server/workers/picture-worker.ts',
    'past-worker': 'src/server/workers/past-worker.ts',
    standins: 'src/standins/main.ts',
    demo: 'src/demo/main.ts',
  },
  outdir: 'dist',
  sourcemap: true,
  plugins: [oneDialect],
  // Half of what is read at each start would be spaces.
  minifyWhitespace: true,
  minifySyntax: true,
};

if (process.argv[1] === import.meta.filename) {
  await build(options);
  await buildSite();
}
