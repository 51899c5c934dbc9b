// Bundles what ships with public pages: style with its letters, scripts, and the lantern, under names that hold what is
// in them. manifest.json tells which is which.
import { rmSync, writeFileSync } from 'node:fs';
import { basename } from 'node:path';
import { build } from 'esbuild';

const OUT = 'dist/site';

/** Where the look begins: letters first, so that the rules below may name them. */
const STYLE = [
  "@import '@fontsource-variable/newsreader/wght.css';",
  "@import '@fontsource-variable/atkinson-hyperlegible-next/wght.css';",
  "@import './page.css';",
].join('\n');

export async function buildSite() {
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
      entryPoints: ['src/site/script/page.ts', 'src/site/script/first.ts', 'src/site/script/bar.ts'],
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
