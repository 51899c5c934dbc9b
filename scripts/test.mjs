// npm test: the one gate. Installs what is missing, runs every check, and ends with "N passed, N failed".
import { spawn } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, relative } from 'node:path';
import { ensureInstalled, isBuilt, root } from './ensure.mjs';
import { ensureTools } from './tools.mjs';

const folder = mkdtempSync(join(tmpdir(), 'lantern-gate-'));
const total = { passed: 0, failed: 0, skipped: 0 };
const failures = [];
const leftOut = [];
const notRun = [];

function count(name, { passed, failed, skipped = 0, failing = [], left = [], after = [] }) {
  total.passed += passed;
  total.failed += failed;
  total.skipped += skipped;
  leftOut.push(...left);
  notRun.push(...after);
  if (failed > 0) failures.push(name, ...failing.map((test) => `  ${test}`));
}

/** What failed and the first lines of why, so that the end of a long log says what to look at. */
const failure = (title, why = '') =>
  `${title}\n${why
    .split('\n')
    .slice(0, 12)
    .map((line) => `      ${line}`)
    .join('\n')}`;

/** Every test below a suite of the browser tests' report. */
const specsOf = (suite) => [...(suite.specs ?? []), ...(suite.suites ?? []).flatMap(specsOf)];

/** Browser tests that did not run: those that say so of themselves, or those that stand behind one that failed. */
const skippedOf = (suites, bySelf) =>
  suites
    .flatMap(specsOf)
    .filter(({ tests }) => tests[0]?.status === 'skipped')
    .filter(({ tests }) => tests[0].annotations.some(({ type }) => type === 'skip') === bySelf)
    .map((spec) => `${spec.file} > ${spec.title}`);

/** While steps run beside each other, what each prints is held back until it has ended. */
let beside = true;

/** Runs a step and resolves to its exit code. */
function step(name, command, args, env = {}) {
  const started = Date.now();
  const title = `\n── ${name}\n`;
  if (!beside) process.stdout.write(title);
  const child = spawn(command, args, {
    cwd: root,
    stdio: beside ? ['ignore', 'pipe', 'pipe'] : 'inherit',
    env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1', ...env },
  });
  const printed = [];
  for (const stream of [child.stdout, child.stderr]) stream?.on('data', (chunk) => printed.push(chunk));
  return new Promise((resolve, reject) => {
    child.once('error', reject);
    child.once('close', (code) => {
      if (beside) process.stdout.write(title + Buffer.concat(printed).toString());
      console.log(`── ${name}: ${((Date.now() - started) / 1000).toFixed(1)} s`);
      resolve(code ?? 1);
    });
  });
}

/** A check that passes or fails as a whole. */
async function check(name, command, args) {
  const status = await step(name, command, args);
  count(name, { passed: status === 0 ? 1 : 0, failed: status === 0 ? 0 : 1 });
  return status === 0;
}

/** A runner that writes its counts; a run that counted nothing has failed. */
async function runner(name, command, args, report, read, env = {}) {
  const status = await step(name, command, args, env);
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
    `${project}*`,
    '--reporter=default',
    '--reporter=json',
    `--outputFile.json=${report}`,
  ];
  return runner(`${project} tests`, 'npx', args, report, (r) => ({
    passed: r.numPassedTests,
    failed: r.numFailedTests,
    skipped: r.numPendingTests,
    left: r.testResults.flatMap((file) =>
      file.assertionResults
        .filter(({ status }) => status !== 'passed' && status !== 'failed')
        .map((one) => `${relative(root, file.name)} > ${one.fullName}`),
    ),
    failing: r.testResults.flatMap((file) => [
      // A file that could not be loaded has no test that failed.
      ...(file.status === 'failed' && file.assertionResults.length === 0
        ? [failure(file.name, file.message)]
        : []),
      ...file.assertionResults
        .filter(({ status }) => status === 'failed')
        .map((one) => failure(`${relative(root, file.name)} > ${one.fullName}`, one.failureMessages[0])),
    ]),
  }));
}

function playwright() {
  const report = join(folder, 'interface.json');
  return runner(
    'interface tests',
    'npx',
    ['playwright', 'test', '--reporter=list,json'],
    report,
    ({ stats, suites }) => ({
      passed: stats.expected + stats.flaky,
      failed: stats.unexpected,
      skipped: stats.skipped,
      left: skippedOf(suites, true),
      // A story is not told further than to what failed in it.
      after: skippedOf(suites, false),
      failing: suites
        .flatMap(specsOf)
        .filter(({ ok }) => !ok)
        .map((spec) =>
          failure(`${spec.file} > ${spec.title}`, spec.tests[0]?.results.at(-1)?.error?.message),
        ),
    }),
    { PLAYWRIGHT_JSON_OUTPUT_NAME: report },
  );
}

ensureInstalled();
ensureTools();
// What starts nothing runs in two rows, one for each of two cores.
const [, isReady] = await Promise.all([
  (async () => {
    await check('types and lint', 'npx', ['oxlint']);
    await vitest('unit');
  })(),
  (async () => {
    await check('formatting', 'npx', ['oxfmt', '--check', '.']);
    await check('boundaries and circles', 'npx', ['depcruise', 'src', '--config', '.dependency-cruiser.cjs']);
    await check('dead code', 'npx', ['knip']);
    return check('build', 'npm', ['run', '--silent', 'build']);
  })(),
]);
beside = false;
if (isReady && isBuilt()) {
  await vitest('integration');
  await playwright();
}
rmSync(folder, { recursive: true, force: true });
if (failures.length > 0) console.log(`\nFailed:\n${failures.join('\n')}`);
if (leftOut.length > 0)
  console.log(`\nLeft out, for this machine has not what they need:\n  ${leftOut.join('\n  ')}`);
if (notRun.length > 0)
  console.log(`\nNot run, for what stands before them failed:\n  ${notRun.join('\n  ')}`);
const skipped = total.skipped > 0 ? `, ${total.skipped} skipped` : '';
console.log(`\n${total.passed} passed, ${total.failed} failed${skipped}`);
process.exit(total.failed === 0 ? 0 : 1);
