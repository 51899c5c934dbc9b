import { createReadStream } from 'node:fs';
import { mkdir, stat, writeFile } from 'node:fs/promises';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { dirname, extname, join, normalize } from 'node:path';

const TYPES: Readonly<Record<string, string>> = {
  '.html': 'text/html; charset=utf-8',
  '.css': 'text/css; charset=utf-8',
  '.js': 'text/javascript; charset=utf-8',
  '.svg': 'image/svg+xml',
  '.json': 'application/json',
  '.atom': 'application/atom+xml',
  '.ics': 'text/calendar; charset=utf-8',
  '.woff2': 'font/woff2',
};

/** A web server elsewhere: shows the files of a folder, and takes new ones by PUT, with their folders by MKCOL. */
export class Elsewhere {
  constructor(private readonly folder: string) {}

  async answer(
    { method }: IncomingMessage,
    response: ServerResponse,
    path: string,
    body: () => Promise<Buffer>,
  ): Promise<void> {
    const name = normalize(decodeURIComponent(path)).replace(/^\/+/, '');
    const file = join(this.folder, name);
    if (!file.startsWith(join(this.folder, '/'))) return void response.writeHead(404).end('nothing here\n');
    if (method === 'MKCOL') {
      await mkdir(file, { recursive: true });
      return void response.writeHead(201).end();
    }
    if (method === 'PUT') {
      await mkdir(dirname(file), { recursive: true });
      await writeFile(file, await body());
      return void response.writeHead(201).end();
    }
    const found = await stat(file).catch(() => null);
    if (!found?.isFile()) return void response.writeHead(404).end('nothing here\n');
    response.writeHead(200, {
      'content-type': TYPES[extname(file)] ?? 'application/octet-stream',
      'content-length': found.size,
      'cache-control': 'no-cache',
    });
    createReadStream(file).pipe(response);
  }
}
