// Bundles what ships with public pages: style with its letters, scripts, and the lantern, under names that hold what is
// in them. manifest.json tells which is which.
import { copyFileSync, mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { basename } from 'node:path';
import { build } from 'esbuild';

const OUT = 'dist/site';

/** Where the look begins: letters first, so that the rules below may name them. */
const STYLE = [
  "@import '@fontsource-variable/newsreader/wght.css';",
  "@import '@fontsource-variable/atkinson-hyperlegible-next/wght.css';",
  "@import './page.css';",
].join('\n');

/** What pictures are written with, by what for; as fonts that are read here and go nowhere. */
const LETTERS_OUT = 'dist/letters';
const LETTERS = {
  reading: ['atkinson-hyperlegible-next', 400],
  strong: ['atkinson-hyperlegible-next', 600],
  leading: ['newsreader', 500],
};

function copyLetters() {
  mkdirSync(LETTERS_OUT, { recursive: true });
  for (const [face, [family, weight]] of Object.entries(LETTERS)) {
    for (const part of ['latin', 'latin-ext']) {
      const file = `node_modules/@fontsource/${family}/files/${family}-${part}-${weight}-normal.woff`;
      copyFileSync(file, `${LETTERS_OUT}/${face}-${part}.woff`);
    }
  }
}

export async function buildSite() {
  copyLetters();
  rmSync(OUT, { recursive: true, force: true });
  const common = {
    bundle: true,
    minify: true,
    outdir: OUT,
    entryNames: '[name]-[hash]',
    assetNames: '[name]-[hash]',
    logLevel: 'warning',
    metafile: true,
    target: ['chrome100', 'firefox100', 'safari15'],
  };
  const results = [
    await build({
      ...common,
      stdin: { contents: STYLE, resolveDir: 'src/site/look', loader: 'css', sourcefile: 'style.css' },
      entryNames: 'page-[hash]',
      loader: { '.woff2': 'file' },
    }),
    await build({
      ...common,
      entryPoints: ['page', 'first', 'bar', 'follow', 'push'].map((name) => `src/site/script/${name}.ts`),
      format: 'iife',
    }),
    await build({ ...common, entryPoints: ['src/app/icon.svg'], loader: { '.svg': 'copy' } }),
  ];
  const manifest = {};
  for (const { metafile } of results) {
    for (const file of Object.keys(metafile.outputs)) {
      const name = basename(file);
      const source = name.replace(/-[A-Z0-9]{8}(?=\.)/, '');
      manifest[source === 'icon.svg' ? 'lantern.svg' : source] = name;
    }
  }
  writeFileSync(`${OUT}/manifest.json`, `${JSON.stringify(manifest, null, 1)}\n`);
}

if (process.argv[1] === import.meta.filename) await buildSite();
