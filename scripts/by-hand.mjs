// npm run mutants:by-hand [words …]: makes each change of tests/mutants/by-hand.mjs in a copy, runs the tests that have to
// notice it, and says which did not. With words, only the changes that have them in their name or file.
import { spawnSync } from 'node:child_process';
import { cpSync, existsSync, mkdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { CHANGES } from '../tests/mutants/by-hand.mjs';
import { ensureInstalled, root } from './ensure.mjs';

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

function makeCopy() {
  rmSync(COPY, { recursive: true, force: true });
  mkdirSync(COPY, { recursive: true });
  for (const part of PARTS) {
    if (existsSync(join(root, part))) cpSync(join(root, part), join(COPY, part), { recursive: true });
  }
  for (const part of ['node_modules', 'dist', '.next']) {
    if (existsSync(join(root, part))) symlinkSync(join(root, part), join(COPY, part));
  }
}

function isNoticed(tests) {
  const args = ['vitest', 'run', '--bail=1', '--reporter=dot', ...tests];
  const { status, stdout } = spawnSync('npx', args, {
    cwd: COPY,
    encoding: 'utf8',
    env: { ...process.env, TZ: 'UTC' },
  });
  if (/No test files found/.test(stdout)) return 'no such test';
  return status === 0 ? 'not noticed' : 'noticed';
}

ensureInstalled();
makeCopy();
const words = process.argv.slice(2);
const chosen = CHANGES.filter(({ what, file }) => words.every((word) => `${what} ${file}`.includes(word)));
const left = [];
for (const { what, file, from, to, tests } of chosen) {
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
    came = isNoticed(tests);
    writeFileSync(path, whole);
  }
  console.log(`${came === 'noticed' ? '✓' : '✗'} ${what}${came === 'noticed' ? '' : ` — ${came}`}`);
  if (came !== 'noticed') left.push(what);
}
console.log(`\n${chosen.length - left.length} of ${chosen.length} noticed.`);
process.exit(left.length === 0 ? 0 : 1);
