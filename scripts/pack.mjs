// npm run product: the product as one file that npm installs anywhere, built: nothing is built on the machine it is for.
import { spawnSync } from 'node:child_process';
import {
  chmodSync,
  cpSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  readlinkSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join, relative } from 'node:path';
import { ensureBuilt, ensureInstalled, root } from './ensure.mjs';
import { PACKAGES } from './build.mjs';

/** What a build leaves behind that no running product reads. */
const LEFT_OUT = /(^|\/)(cache|trace[\w-]*|diagnostics|types|build|node_modules)$|\.map$|\.nft\.json$/;
const own = JSON.parse(readFileSync(join(root, 'package.json'), 'utf8'));
const versionOf = (folder) => JSON.parse(readFileSync(join(folder, 'package.json'), 'utf8')).version;

/**
 * The pages ask for packages by names of their own, which are links where they were built. A package cannot hold links:
 * each becomes a few lines that lead to the package itself.
 */
function writeLinks(stage, dependencies) {
  const links = join(root, '.next', 'node_modules');
  for (const name of readdirSync(links)) {
    const target = join(links, readlinkSync(join(links, name)));
    const path = relative(join(root, 'node_modules'), target);
    const real = basename(target);
    const version = versionOf(target);
    // One that another package brings along has a version of its own, and a name beside the one we use.
    const asked = path === real ? real : `${real}-${version.split('.')[0]}`;
    dependencies[asked] = path === real ? version : `npm:${real}@${version}`;
    const folder = join(stage, '.next', 'node_modules', name);
    mkdirSync(folder, { recursive: true });
    const exports = { import: './index.mjs', require: './index.cjs' };
    writeFileSync(join(folder, 'package.json'), JSON.stringify({ name, version, exports }));
    writeFileSync(join(folder, 'index.cjs'), `module.exports = require('${asked}');\n`);
    writeFileSync(
      join(folder, 'index.mjs'),
      `import * as all from '${asked}';\nexport * from '${asked}';\nexport default all.default;\n`,
    );
  }
}

/** Puts the product together in a folder, as it is installed. */
function writeStage(stage) {
  for (const folder of ['dist', '.next', 'public', 'tools']) {
    const from = join(root, folder);
    cpSync(from, join(stage, folder), {
      recursive: true,
      filter: (source) => !LEFT_OUT.test(relative(join(root, folder), source)),
    });
  }
  for (const file of ['README.md', 'LICENSE', 'CHANGELOG.md', 'next.config.mjs']) {
    cpSync(join(root, file), join(stage, file));
  }
  for (const name of ['bare.js', 'bench.js', 'demo.js']) rmSync(join(stage, 'dist', name), { force: true });
  const dependencies = {};
  for (const name of [...PACKAGES, 'react', 'react-dom']) {
    dependencies[name] = versionOf(join(root, 'node_modules', name));
  }
  writeLinks(stage, dependencies);
  mkdirSync(join(stage, 'bin'));
  const bin = join(stage, 'bin', 'calm-lantern.mjs');
  writeFileSync(
    bin,
    `#!/usr/bin/env node
process.env.NODE_ENV = 'production';
process.env.NEXT_TELEMETRY_DISABLED ??= '1';
const [word] = process.argv.splice(2, 1);
if (word !== undefined && word !== 'new-password') {
  console.error('Expected nothing, or new-password [E-MAIL], got ' + JSON.stringify(word.slice(0, 80)) + '.');
  process.exit(2);
}
await import(word === undefined ? '../dist/server.js' : '../dist/new-password.js');
`,
  );
  chmodSync(bin, 0o755);
  const { name, version, description, license, type, engines } = own;
  const described = { name, version, description, license, type, engines };
  const files = ['dist', '.next', 'public', 'tools', 'bin', 'CHANGELOG.md', 'next.config.mjs'];
  writeFileSync(
    join(stage, 'package.json'),
    JSON.stringify(
      { ...described, bin: { 'calm-lantern': 'bin/calm-lantern.mjs' }, files, dependencies },
      null,
      2,
    ),
  );
  return Object.keys(dependencies).length;
}

ensureInstalled();
ensureBuilt();
const out = process.argv[2] ?? root;
const stage = mkdtempSync(join(tmpdir(), 'lantern-pack-'));
try {
  const count = writeStage(stage);
  const packed = spawnSync('npm', ['pack', '--json', '--pack-destination', out], {
    cwd: stage,
    encoding: 'utf8',
  });
  if (packed.status !== 0) throw new Error(packed.stderr);
  const [{ filename, size, unpackedSize, entryCount }] = JSON.parse(packed.stdout);
  const mb = (bytes) => (bytes / 1e6).toFixed(1);
  console.log(join(out, filename));
  console.log(
    `${mb(size)} MB, ${mb(unpackedSize)} MB unpacked in ${entryCount} files; asks for ${count} packages by name`,
  );
} finally {
  rmSync(stage, { recursive: true, force: true });
}
