import { readdirSync, readFileSync } from 'node:fs';
import { builtinModules } from 'node:module';
import { dirname, join } from 'node:path';
import { describe, expect, it } from 'vitest';

interface Manifest {
  dependencies: Record<string, string>;
  devDependencies: Record<string, string>;
  scripts: Record<string, string>;
}

interface Lock {
  packages: Record<string, { optionalDependencies?: Record<string, string> }>;
}

const manifest = JSON.parse(readFileSync('package.json', 'utf8')) as Manifest;
const lock = JSON.parse(readFileSync('package-lock.json', 'utf8')) as Lock;

function filesIn(folder: string): string[] {
  return readdirSync(folder, { withFileTypes: true }).flatMap((entry) => {
    const path = join(folder, entry.name);
    return entry.isDirectory() ? filesIn(path) : /\.tsx?$/.test(path) ? [path] : [];
  });
}

/** The packages a file imports, types left out. */
function packagesOf(path: string): string[] {
  const text = readFileSync(path, 'utf8').replaceAll(/^import type [^;]+;/gm, '');
  const from = [...text.matchAll(/(?:from |import\(|^import )'([^'.][^']*)'/gm)].map((match) => match[1]!);
  return from
    .filter((name) => !name.startsWith('@/') && !name.startsWith('node:') && !builtinModules.includes(name))
    .map((name) => name.split('/', name.startsWith('@') ? 2 : 1).join('/'));
}

describe('what runs', () => {
  const rooms = readdirSync('src').filter((room) => room !== 'standins');
  const used = new Set(rooms.flatMap((room) => filesIn(join('src', room)).flatMap(packagesOf)));

  it('imports nothing that is there for building and testing only', () => {
    expect([...used].filter((name) => !Object.hasOwn(manifest.dependencies, name))).toEqual([]);
  });

  it('comes without packages that nothing of it imports', () => {
    // Loaded by name, by the query builder and by the framework.
    const byName = ['pg', 'mysql2', 'react-dom', 'better-sqlite3'];
    const idle = Object.keys(manifest.dependencies).filter(
      (name) => !used.has(name) && !byName.includes(name),
    );
    expect(idle).toEqual([]);
  });

  it('comes without types and build tools', () => {
    const strange = Object.keys(manifest.dependencies).filter((name) =>
      /^@types\/|^(typescript|esbuild|tailwindcss|postcss|aedes|reflect-metadata|@peculiar\/x509)$/.test(
        name,
      ),
    );
    expect(strange).toEqual([]);
  });
});

describe('the lock file', () => {
  it('knows the packages of every system, so that “npm ci” takes it on each', () => {
    const names = new Set(
      Object.keys(lock.packages).map((path) => path.slice(path.lastIndexOf('node_modules/') + 13)),
    );
    const missing = Object.values(lock.packages).flatMap(({ optionalDependencies = {} }) =>
      Object.keys(optionalDependencies).filter((name) => !names.has(name)),
    );
    expect(missing).toEqual([]);
    for (const system of ['linux-x64', 'darwin-arm64', 'win32-x64'])
      expect(names).toContain(`@esbuild/${system}`);
  });
});

describe('what contributors are told', () => {
  it('names scripts there are', () => {
    const text = readFileSync('CONTRIBUTING.md', 'utf8');
    const named = [...text.matchAll(/`npm (?:run )?([a-z:]+)`/g)].map((match) => match[1]!);
    expect(named.length).toBeGreaterThan(8);
    for (const name of named) expect(manifest.scripts, name).toHaveProperty([name]);
  });

  it('names files there are', () => {
    for (const file of ['CONTRIBUTING.md', 'docs/architecture.md']) {
      const text = readFileSync(file, 'utf8');
      const paths = [
        ...text.matchAll(
          /`((?:src|core|cases|store|engine|server|api|probes|views|ui|outside|tests|channels)\/[\w./-]+\.\w+)`/g,
        ),
      ].map((match) => match[1]!);
      expect(paths.length).toBeGreaterThan(5);
      for (const path of paths) {
        const at = /^(src|tests)\//.test(path) ? path : `src/${path}`;
        expect(() => readFileSync(at), `${path} in ${file}`).not.toThrow();
      }
    }
  });
});

describe('files of the code', () => {
  const files = filesIn('src');
  const FOLDER_MOST = 20;

  it('are short, or say in their first line why not', () => {
    expect(files.length).toBeGreaterThan(400);
    const long = files.filter((file) => {
      const lines = readFileSync(file, 'utf8').split('\n');
      return lines.length > 301 && !/^\/\/ Long\. \S/.test(lines[0]!);
    });
    expect(long).toEqual([]);
  });

  it('lie no more than twenty to a folder, tests too', () => {
    const counts = new Map<string, number>();
    for (const file of [...files, ...filesIn('tests')])
      counts.set(dirname(file), (counts.get(dirname(file)) ?? 0) + 1);
    expect([...counts].filter(([, n]) => n > FOLDER_MOST)).toEqual([]);
  });
});
