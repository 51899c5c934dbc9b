// Installs packages and builds, each only where it is missing or older than what it is made from.
import { spawnSync } from 'node:child_process';
import { existsSync, readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';

export const root = join(import.meta.dirname, '..');

export function run(command, args, options = {}) {
  const { status, error } = spawnSync(command, args, {
    cwd: root,
    stdio: 'inherit',
    env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1' },
    ...options,
  });
  if (error) throw error;
  return status ?? 1;
}

function must(command, args) {
  const status = run(command, args);
  if (status !== 0) process.exit(status);
}

function newestIn(folder) {
  let newest = 0;
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name);
    newest = Math.max(newest, entry.isDirectory() ? newestIn(path) : statSync(path).mtimeMs);
  }
  return newest;
}

const SOURCES = [
  'package-lock.json',
  'next.config.mjs',
  'postcss.config.mjs',
  'tsconfig.json',
  'scripts/build.mjs',
];

export function ensureInstalled() {
  const marker = join(root, 'node_modules', '.package-lock.json');
  const lock = join(root, 'package-lock.json');
  if (existsSync(marker) && statSync(marker).mtimeMs >= statSync(lock).mtimeMs) return;
  console.log('Installing packages (the database driver may take a few minutes to compile) …');

  must('npm', ['ci', '--no-audit', '--no-fund']);
}

export function isBuilt() {
  const built = join(root, '.next', 'BUILD_ID');
  const bundled = join(root, 'dist', 'server.js');
  if (!existsSync(built) || !existsSync(bundled)) return false;
  const made = Math.min(statSync(built).mtimeMs, statSync(bundled).mtimeMs);
  const changed = Math.max(
    newestIn(join(root, 'src')),
    ...SOURCES.map((f) => statSync(join(root, f)).mtimeMs),
  );
  return changed <= made;
}

export function ensureBuilt() {
  if (isBuilt()) return;
  console.log('Building …');
  must('npm', ['run', '--silent', 'build']);
}
