// npm run mutants:by-hand [words …]: makes each change of scripts/mutants/by-hand.mjs and by-hand-product.mjs in a copy, runs
// the tests that have to notice it, and says which did not. With words, only the changes that have them in their name or
// file; `--product` stands for all that are noticed by tests which start the product. It is built with the change: a minute
// each.
import { spawnSync } from 'node:child_process';
import { cpSync, existsSync, mkdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { CHANGES } from './mutants/by-hand.mjs';
import { PRODUCT_CHANGES } from './mutants/by-hand-product.mjs';
import { ensureBuilt, ensureInstalled, root } from './ensure.mjs';

const COPY = join(root, '.cache', 'by-hand');
const PARTS = [
  'src',
  'tests',
  'tools',
  'package.json',
  'tsconfig.json',
  'vitest.config.ts',
  'README.md',
  'docs',
];
/** What the product is built with, and what comes of it. */
const PRODUCT_PARTS = [
  'scripts',
  'next.config.mjs',
  'postcss.config.mjs',
  'package-lock.json',
  'public',
  'dist',
];

function copyParts(parts) {
  for (const part of parts) {
    if (existsSync(join(root, part))) cpSync(join(root, part), join(COPY, part), { recursive: true });
  }
}

const run = (command, args) =>
  spawnSync(command, args, {
    cwd: COPY,
    encoding: 'utf8',
    env: { ...process.env, TZ: 'UTC', NEXT_TELEMETRY_DISABLED: '1' },
  });

/** The pages as they are without any change. */
function copyPages() {
  rmSync(join(COPY, '.next'), { recursive: true, force: true });
  cpSync(join(root, '.next'), join(COPY, '.next'), {
    recursive: true,
    verbatimSymlinks: true,
    filter: (source) => source !== join(root, '.next', 'cache'),
  });
}

function makeCopy(withProduct) {
  rmSync(COPY, { recursive: true, force: true });
  mkdirSync(COPY, { recursive: true });
  copyParts(PARTS);
  if (withProduct) {
    copyParts(PRODUCT_PARTS);
    copyPages();
    // What builds the pages takes no link for its packages.
    run('cp', ['-al', join(root, 'node_modules'), COPY]);
    return;
  }
  for (const part of ['node_modules', 'dist', '.next']) {
    if (existsSync(join(root, part))) symlinkSync(join(root, part), join(COPY, part));
  }
}

/** Whether pages were built with a change and have to go. */
let pagesAreChanged = false;

/** Builds the product with a change, and its pages where they need it; what went wrong, or nothing. */
function buildAnew(withPages) {
  if (pagesAreChanged && !withPages) copyPages();
  pagesAreChanged = withPages;
  const built = [
    run(process.execPath, ['scripts/build.mjs']),
    ...(withPages ? [run('npx', ['next', 'build'])] : []),
  ];
  return built.some(({ status }) => status !== 0) ? 'it cannot be built' : '';
}

function isNoticed(tests) {
  const { status, stdout } = run('npx', ['vitest', 'run', '--bail=1', '--reporter=dot', ...tests]);
  if (/No test files found/.test(stdout)) return 'no such test';
  return status === 0 ? 'not noticed' : 'noticed';
}

ensureInstalled();
const words = process.argv.slice(2);
const all = [
  ...CHANGES.map((change) => ({ ...change, product: false })),
  ...PRODUCT_CHANGES.map((change) => ({ ...change, product: true })),
];
const chosen = all.filter(({ what, file, product }) =>
  words.every((word) => `${what} ${file} ${product ? '--product' : ''}`.includes(word)),
);
const withProduct = chosen.some(({ product }) => product);
if (withProduct) ensureBuilt();
makeCopy(withProduct);
const left = [];
for (const { what, file, from, to, tests, product, withPages } of chosen) {
  const path = join(COPY, file);
  const whole = readFileSync(path, 'utf8');
  const places = whole.split(from).length - 1;
  const missing = tests.filter((test) => !existsSync(join(COPY, test)));
  let came = places === 1 ? '' : `its words stand ${places} times in ${file}`;
  if (missing.length > 0) came ||= `no such test: ${missing.join(', ')}`;
  if (came === '') {
    writeFileSync(
      path,
      whole.replace(from, () => to),
    );
    came = (product ? buildAnew(withPages) : '') || isNoticed(tests);
    writeFileSync(path, whole);
  }
  console.log(`${came === 'noticed' ? '✓' : '✗'} ${what}${came === 'noticed' ? '' : ` — ${came}`}`);
  if (came !== 'noticed') left.push(what);
}
console.log(`\n${chosen.length - left.length} of ${chosen.length} noticed.`);
process.exit(left.length === 0 ? 0 : 1);
