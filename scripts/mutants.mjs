// npm run mutants [piece …]: changes the code on purpose, piece by piece, and counts what no test notices. Writes the
// scores into docs/mutants.md; those of pieces that are not run stay. What survived is listed in .cache/mutants/. After a
// run `core/telling:shift.ts,hours.ts` tries some files of a piece anew, and counts the others as they came out. A piece
// that takes hours is tried in part: `engine@10` takes every tenth strip of ten lines, each file from a place of its own.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join, relative } from 'node:path';
import { ensureBuilt, ensureInstalled, root } from './ensure.mjs';

/** The tests in memory of one folder. */
const of = (folder) => `tests/unit/${folder}/*.test.ts`;
const CORE_AIM = 92;
const AIM = 80;

/** Some of those on a database or a product, by their names. */
const inRoom = (room, names) => names.split(' ').map((name) => `tests/integration/${room}/${name}.test.ts`);

/** The tests that have a database of their own and start no product. */
const DATABASE = [
  of('desk'),
  of('engine'),
  of('followers'),
  ...inRoom(
    'store',
    'store access preflight vault pages history-kept retention kept-pasts watches-alike shared-plans tied tables',
  ),
  ...inRoom('front', 'public-page self-telling copies'),
  ...inRoom(
    'views',
    'large-desk small-desk cards outage-lines watch-view planned pages-of-desk jobs-views settings-views digests readings',
  ),
  ...inRoom('messages', 'heard-table teller served-rooms waiting-for-an-answer'),
  ...inRoom('maintenance', 'series'),
  ...inRoom('followers', 'kept-letters'),
  ...inRoom('api', 'live'),
];

/** Those whose product lives in the process of the test; what waits for minutes, or goes through everything, less. */
const WITHIN = [
  ...inRoom('api', 'api api-contract api-sharing left-out batch export proof-of-life api-why lines'),
  ...inRoom('messages', 'asked-topics texts channel-change routes-api route-trial sent take-link drill'),
  ...inRoom('maintenance', 'maintenance'),
  ...inRoom('followers', 'following'),
  ...inRoom('front', 'pictures public-told public-site'),
  ...inRoom('checkins', 'checkin-address'),
];

/** Pieces that are tried by the same tests, a room each. */
const rooms = (part, names, tests = DATABASE) =>
  Object.fromEntries(names.split(' ').map((name) => [`${part}/${name}`, tests]));

/** What is changed, by which tests it is tried, and how much is to be noticed. A product that was built is not the changed code. */
const PIECES = {
  'core/lifecycle': [of('lifecycle'), of('text'), 'tests/unit/desk/trouble.test.ts'],
  'core/limits': [of('limits'), of('schedule'), of('text')],
  'core/messages': [of('messages'), of('text'), of('lifecycle'), of('causes')],
  'core/settings': [of('settings'), of('text')],
  'core/history': [of('history'), of('text')],
  'core/time': [of('time'), of('text'), of('schedule')],
  'core/text': [of('text'), of('history')],
  'core/expect': [of('expect'), of('causes')],
  'core/reports': [of('reports'), of('text')],
  'core/causes': [of('causes'), of('text')],
  'core/imports': [of('imports'), of('causes')],
  'core/schedule': [
    of('schedule'),
    of('text'),
    'tests/unit/reports/runs.test.ts',
    'tests/unit/lifecycle/decide-upstream.test.ts',
  ],
  'core/telling': [of('telling')],
  'core/followers': [of('followers'), of('text')],
  'core/maintenance': [of('maintenance'), of('text')],
  'core/pages': [of('pages'), of('text')],
  'server/access': [of('server')],
  server: [of('server'), of('pages'), of('followers'), ...WITHIN, ...DATABASE],
  'cases/frame': [of('cases')],
  api: [of('server'), of('cases'), of('project'), ...WITHIN],
  engine: [
    ...DATABASE,
    ...WITHIN,
    ...inRoom('engine', 'engine why-engine look-threads lost-key'),
    'tests/unit/server/engine-place.test.ts',
  ],
  ...rooms('store', 'access db history maintenance'),
  'store/followers': [...DATABASE, ...inRoom('followers', 'following'), ...inRoom('front', 'public-told')],
  ...rooms('store', 'messages pages watches', [...DATABASE, ...WITHIN]),
  ...rooms('views', 'history jobs maintenance messages outages overview pages settings troubles watch'),
};

const OUT = join(root, '.cache', 'mutants');
const RESULTS = join(root, 'docs', 'mutants.json');

const reportOf = (name) => join(OUT, `${name.replaceAll('/', '-')}.json`);

const STRIP_LINES = 10;

/** Every so manieth strip of a piece, the same ones each time. */
function stripsOf(name, part) {
  const files = readdirSync(join(root, 'src', name), { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile() && entry.name.endsWith('.ts'))
    .map((entry) => relative(root, join(entry.parentPath, entry.name)))
    .sort();
  const strips = files.flatMap((file) => {
    const count = Math.ceil(readFileSync(join(root, file), 'utf8').split('\n').length / STRIP_LINES);
    return Array.from({ length: count }, (_, i) => `${file}:${i * STRIP_LINES + 1}-${(i + 1) * STRIP_LINES}`);
  });
  return strips.filter((_, place) => place % part === 0);
}

function mutateOf(name, { files, part }) {
  if (part === 1)
    return files.length > 0 ? files.map((file) => `src/${name}/**/${file}`) : [`src/${name}/**/*.ts`];
  const isAsked = (strip) => files.length === 0 || files.some((file) => strip.includes(`/${file}:`));
  return stripsOf(name, part).filter(isAsked);
}

function runPiece(name, tests, { files, part }) {
  const report = reportOf(name);
  const before = files.length > 0 ? JSON.parse(readFileSync(report, 'utf8')) : { files: {} };
  const config = {
    testRunner: 'vitest',
    vitest: { configFile: 'scripts/mutants/vitest.config.ts' },
    // The door is opened by a process of its own: it is tried by tests that start a whole product.
    mutate: [...mutateOf(name, { files, part }), '!src/store/migrations/**', '!src/server/door.ts'],
    coverageAnalysis: 'perTest',
    concurrency: 2,
    dryRunTimeoutMinutes: 20,
    ignoreStatic: true,
    reporters: ['json', 'progress-append-only'],
    jsonReporter: { fileName: report },
    tempDirName: join('.cache', 'mutants', 'work'),
    ignorePatterns: ['.next', '.cache', 'data', 'docs', 'test-results'],
    disableTypeChecks: false,
    allowConsoleColors: false,
  };
  const file = join(OUT, 'stryker.json');
  writeFileSync(file, JSON.stringify(config, null, 2));
  const { status } = spawnSync('npx', ['stryker', 'run', file], {
    cwd: root,
    stdio: 'inherit',
    env: { ...process.env, MUTANT_TESTS: tests.join(','), TZ: 'UTC' },
  });
  if (status !== 0 || !existsSync(report)) throw new Error(`${name} could not be tried.`);
  const ran = JSON.parse(readFileSync(report, 'utf8'));
  const all = { ...ran, files: { ...before.files, ...ran.files } };
  writeFileSync(report, JSON.stringify(all));
  return all;
}

function scoreOf({ files }) {
  const mutants = Object.entries(files).flatMap(([file, { mutants: all }]) =>
    all.map((m) => ({ file, ...m })),
  );
  const counted = mutants.filter((m) => ['Killed', 'Timeout', 'Survived', 'NoCoverage'].includes(m.status));
  const noticed = counted.filter((m) => m.status === 'Killed' || m.status === 'Timeout');
  return {
    changes: counted.length,
    noticed: noticed.length,
    left: counted
      .filter((m) => !noticed.includes(m))
      .map((m) =>
        `${m.file}:${m.location.start.line} ${m.mutatorName} ${m.status}: ${m.replacement ?? ''}`.slice(
          0,
          200,
        ),
      ),
  };
}

function writePage(results) {
  const rows = Object.entries(results)
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([name, { changes, noticed, at, part = 1 }]) => {
      const aim = name.startsWith('core/') ? CORE_AIM : AIM;
      const lines = part > 1 ? `1 in ${part}` : 'all';
      return `| \`${name}\` | ${lines} | ${changes} | ${noticed} | ${((100 * noticed) / changes).toFixed(1)} % | ${aim} % | ${at} |`;
    });
  const page = [
    '# What the tests notice',
    '',
    'The code is changed on purpose, one change at a time, and the tests are run: what no test notices is nobody’s promise.',
    '`npm run mutants` does it for all pieces, `npm run mutants core/time` for one; it takes from a minute to half an hour a',
    'piece on two cores, and is no part of `npm test`. What is tried goes by tests that start no product, or have one in their own',
    'process. Of those that take hours a part is tried: every so manieth strip of ten lines.',
    '',
    'Beside them stand the changes of `scripts/mutants/by-hand.mjs`: guards, bounds and promises that are taken away one by',
    'one (`npm run mutants:by-hand`). All of them have to be noticed.',
    '',
    '| piece | lines | changes | noticed | score | aim | tried on |',
    '| ----- | ----- | ------: | ------: | ----: | --: | -------- |',
    ...rows,
    '',
  ].join('\n');
  writeFileSync(join(root, 'docs', 'mutants.md'), page);
  spawnSync('npx', ['oxfmt', 'docs/mutants.md', 'docs/mutants.json'], { cwd: root });
}

ensureInstalled();
// Parts that are threads of their own are those that were built.
ensureBuilt();
mkdirSync(OUT, { recursive: true });
const asked = process.argv.slice(2).map((one) => {
  const [, name, part = '1', files] = /^([^:@]+)(?:@(\d+))?(?::(.+))?$/.exec(one) ?? [null, one];
  return { name, part: Number(part), files: files?.split(',') ?? [] };
});
const strange = asked.map(({ name }) => name).find((name) => !Object.hasOwn(PIECES, name));
if (strange) throw new Error(`Expected one of ${Object.keys(PIECES).join(', ')}; got ${strange}.`);
const results = existsSync(RESULTS) ? JSON.parse(readFileSync(RESULTS, 'utf8')) : {};
const all = Object.keys(PIECES).map((name) => ({ name, part: 1, files: [] }));
for (const { name, part, files } of asked.length > 0 ? asked : all) {
  const { changes, noticed, left } = scoreOf(runPiece(name, PIECES[name], { files, part }));
  results[name] = { changes, noticed, at: new Date().toISOString().slice(0, 10), ...(part > 1 && { part }) };
  writeFileSync(join(OUT, `${name.replaceAll('/', '-')}.left.txt`), `${left.join('\n')}\n`);
  writeFileSync(RESULTS, JSON.stringify(results, null, 2));
  writePage(results);
  console.log(`${name}: ${noticed} of ${changes} noticed; the rest in .cache/mutants/`);
}
