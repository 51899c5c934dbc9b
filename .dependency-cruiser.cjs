// The order of the folders: each knows only what stands before it (docs/architecture.md).
const MAY_KNOW = {
  core: [],
  outside: [],
  probes: ['core', 'outside'],
  channels: ['core', 'outside'],
  store: ['core'],
  accounts: [],
  engine: ['core', 'outside', 'probes', 'channels', 'store'],
  views: ['core', 'probes', 'channels', 'store'],
  cases: ['core', 'outside', 'probes', 'channels', 'store', 'engine', 'accounts', 'views'],
  site: ['core', 'store', 'views'],
  server: ['core', 'outside', 'probes', 'store', 'engine', 'accounts', 'views', 'cases', 'site'],
  api: ['core', 'outside', 'probes', 'channels', 'store', 'engine', 'accounts', 'views', 'cases', 'server'],
  ui: ['core', 'probes', 'store', 'views'],
  app: ['core', 'channels', 'store', 'accounts', 'cases', 'server', 'api', 'views', 'ui'],
  standins: [],
  demo: ['core', 'store', 'accounts', 'site', 'standins'],
};

const boundaries = Object.entries(MAY_KNOW).map(([folder, known]) => ({
  name: `${folder}-boundary`,
  severity: 'error',
  comment: `src/${folder} may know only: ${known.join(', ') || 'nobody'}.`,
  from: { path: `^src/${folder}/` },
  to: { path: '^src/', pathNot: [folder, ...known].map((name) => `^src/${name}/`) },
}));

const outside = (name, from, packages) => ({
  name,
  severity: 'error',
  from: { path: from },
  to: { path: packages },
});

module.exports = {
  forbidden: [
    ...boundaries,
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
    outside('core-is-pure', '^src/core/', [
      '^(node:)?(fs|net|http|https|tls|dns|child_process|worker_threads|os|process)$',
      'node_modules/(react|next|knex|better-sqlite3)/',
    ]),
    {
      name: 'calendars-are-read-apart',
      severity: 'error',
      comment:
        'A rule of a calendar may never come to an end: they are read in a worker that has so much time.',
      from: { path: '^src/', pathNot: '^src/server/workers/calendar-worker\\.ts$' },
      to: {
        path: '^src/core/(schedule/days-off|maintenance/calendar-read)\\.ts$',
        dependencyTypesNot: ['type-only'],
      },
    },
    {
      name: 'only-the-store-knows-sql',
      severity: 'error',
      from: { path: '^src/', pathNot: '^src/(store/|probes/kinds/database)' },
      to: { path: 'node_modules/(knex|better-sqlite3)/', dependencyTypesNot: ['type-only'] },
    },
    {
      name: 'pages-open-no-database',
      severity: 'error',
      comment: 'They are handed one that is open: what it takes to open one takes long to read.',
      from: { path: '^src/(app|api|cases|views)/' },
      to: { path: '^src/store/(db/open|migrations/)', reachable: true },
    },
    {
      name: 'interface-code-reads-no-database-by-itself',
      severity: 'error',
      comment: 'Components are handed data; from the store they take types only.',
      from: { path: '^src/ui/' },
      to: { path: '^src/(store|views)/', dependencyTypesNot: ['type-only'] },
    },
    outside('tests-stay-outside', '^src/', ['^tests/', 'node_modules/(vitest|fast-check)/']),
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: { conditionNames: ['import', 'types', 'default'] },
  },
};
