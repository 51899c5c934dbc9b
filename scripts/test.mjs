// npm test: the one gate. Installs what is missing, runs every check, and ends with "N passed, N failed".
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ensureInstalled, isBuilt, run } from './ensure.mjs';
import { ensureTools } from './tools.mjs';

const folder = mkdtempSync(join(tmpdir(), 'lantern-gate-'));
const total = { passed: 0, failed: 0, skipped: 0 };
const failures = [];

function count(name, { passed, failed, skipped = 0 }) {
  total.passed += passed;
  total.failed += failed;
  total.skipped += skipped;
  if (failed > 0) failures.push(name);
}

function step(name, work) {
  const started = Date.now();
  console.log(`\n── ${name}`);
  const result = work();
  console.log(`── ${name}: ${((Date.now() - started) / 1000).toFixed(1)} s`);
  return result;
}

/** A check that passes or fails as a whole. */
function check(name, command, args) {
  const status = step(name, () => run(command, args));
  count(name, { passed: status === 0 ? 1 : 0, failed: status === 0 ? 0 : 1 });
  return status === 0;
}

/** A runner that writes its counts; a run that counted nothing has failed. */
function runner(name, command, args, report, read, env = {}) {
  const status = step(name, () => run(command, args, { env: { ...process.env, ...env } }));
  let counts = { passed: 0, failed: 1 };
  try {
    counts = read(JSON.parse(readFileSync(report, 'utf8')));
  } catch (error) {
    console.error(`${name} left no report: ${error.message}`);
  }
  if (counts.passed === 0 || (status !== 0 && counts.failed === 0)) counts.failed += 1;
  count(name, counts);
}

function vitest(project) {
  const report = join(folder, `${project}.json`);
  const args = [
    'vitest',
    'run',
    '--project',
    project,
    '--reporter=default',
    '--reporter=json',
    `--outputFile.json=${report}`,
  ];
  runner(`${project} tests`, 'npx', args, report, (r) => ({
    passed: r.numPassedTests,
    failed: r.numFailedTests,
    skipped: r.numPendingTests,
  }));
}

ensureInstalled();
ensureTools();
check('formatting', 'npx', ['prettier', '--check', '--log-level', 'warn', '.']);
check('lint', 'npx', ['eslint', '.']);
check('types', 'npx', ['tsc', '--noEmit']);
check('boundaries and circles', 'npx', ['depcruise', 'src', '--config', '.dependency-cruiser.cjs']);
check('dead code', 'npx', ['knip']);
vitest('unit');
if (check('build', 'npm', ['run', '--silent', 'build']) && isBuilt()) {
  vitest('integration');
  const report = join(folder, 'interface.json');
  runner(
    'interface tests',
    'npx',
    ['playwright', 'test', '--reporter=list,json'],
    report,
    ({ stats }) => ({
      passed: stats.expected + stats.flaky,
      failed: stats.unexpected,
      skipped: stats.skipped,
    }),
    { PLAYWRIGHT_JSON_OUTPUT_NAME: report },
  );
}
rmSync(folder, { recursive: true, force: true });
if (failures.length > 0) console.log(`\nFailed: ${failures.join(', ')}`);
const skipped = total.skipped > 0 ? `, ${total.skipped} skipped` : '';
console.log(`\n${total.passed} passed, ${total.failed} failed${skipped}`);
process.exit(total.failed === 0 ? 0 : 1);
