import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';

export interface Asset {
  type: string;
  body: Buffer;
  /** The same packed; null where that makes it no smaller. */
  packed: Buffer | null;
}

const TYPES: Readonly<Record<string, string>> = {
  css: 'text/css; charset=utf-8',
  js: 'text/javascript; charset=utf-8',
  svg: 'image/svg+xml',
  woff2: 'font/woff2',
};

/** What ships with public pages: style, script, letters. Their names hold what is in them, so they are kept for good. */
export class SiteAssets {
  private readonly files = new Map<string, Asset>();
  private readonly names: Readonly<Record<string, string>>;

  constructor(folder: string) {
    this.names = JSON.parse(readFileSync(join(folder, 'manifest.json'), 'utf8')) as Record<string, string>;
    for (const file of readdirSync(folder)) {
      const type = TYPES[file.split('.').at(-1)!];
      if (!type) continue;
      const body = readFileSync(join(folder, file));
      const packed = type.startsWith('font') ? null : gzipSync(body, { level: 9 });
      this.files.set(file, { type, body, packed: packed && packed.length < body.length ? packed : null });
    }
  }

  /** Where a file of the source is found from where a page begins. */
  readonly nameOf = (source: string): string => {
    const name = this.names[source];
    if (!name) throw new Error(`No file called ${source} ships with public pages.`);
    return `assets/${name}`;
  };

  get(name: string): Asset | null {
    return this.files.get(name) ?? null;
  }

  /** All files, for a copy in a folder. */
  all(): ReadonlyMap<string, Asset> {
    return this.files;
  }
}
