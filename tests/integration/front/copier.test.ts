import {
  chmodSync,
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { Copier } from '@/server/site/copying/copier';
import { PictureShelf } from '@/server/pictures/shelf';
import { drawHere } from '@/server/site/drawing';
import { PageIndex } from '@/server/site/page-index';
import type { SiteAssets } from '@/server/site/assets';
import { fetchBrokenCopies, fetchCopyState } from '@/store/pages/copies';
import { saveNewIncident } from '@/store/pages/incidents';
import { fetchPage, saveNewPage, savePageChange, type PageContent } from '@/store/pages/pages';
import { openVault } from '@/store/db/vault';
import { makeWatch, tempStore, webConfig, type TempStore } from '../helpers';
import { incidentFacts, LETTERS, line, pageContent } from '../pages';

const NOW = Date.parse('2026-11-20T12:00:00Z');
const ASSET = { type: 'text/css', body: Buffer.from('p{}'), packed: null };

describe('a copy of a page elsewhere', () => {
  let store: TempStore;
  let folder: string;
  let index: PageIndex;
  let clock = 0;
  let pageId = 0;
  let copier: Copier;
  let server: Server | null = null;

  const makeCopier = () => {
    const site = { all: () => new Map([['page-X.css', ASSET]]) } as unknown as SiteAssets;
    return new Copier({
      ...{ db: store.db, index, site, folder, zone: 'UTC', vault: openVault(store.folder) },
      ...{ lookFile: () => null, lookOf: () => '', pictures: new PictureShelf(store.db) },
      now: () => NOW + clock,
      draw: drawHere({
        ...{ db: store.db, zone: 'UTC', now: () => NOW + clock, lookFile: () => null },
        assets: (name) => `assets/${name}`,
        ...{ letters: LETTERS, baseUrl: null },
      }),
      monotonic: () => clock,
      onError: (error) => {
        throw error;
      },
    });
  };

  beforeEach(async () => {
    store = await tempStore();
    folder = join(store.folder, 'copies');
    mkdirSync(folder);
    clock = 0;
    index = new PageIndex(store.db, () => clock);
    const watchId = await makeWatch(store.db, webConfig('http://site.test/'), { createdAt: NOW - 9e9 });
    pageId = await saveNewPage(store.db, pageContent([line(watchId, 'Booking')], { copied: true }));
    await saveNewIncident(store.db, incidentFacts(pageId, 'Fog', NOW - 3_600_000));
    copier = makeCopier();
    clock = 1000;
  });
  afterEach(async () => {
    server?.closeAllConnections();
    server?.close();
    server = null;
    await store.close();
  });

  const copy = async (later = 0) => {
    clock += later;
    await copier.copyAll();
  };
  const read = (name: string) => readFileSync(join(folder, 'ferries', name), 'utf8');
  const change = async (rest: Partial<PageContent>) => {
    const { id: _id, createdAt: _made, ...page } = (await fetchPage(store.db, pageId))!;
    await savePageChange(store.db, pageId, { ...page, ...rest });
    index.pageChanged(pageId);
    clock += 10;
  };
  const problem = async () => (await fetchCopyState(store.db, pageId)).problem;

  it('works from any folder: every link on it leads to a file that is there', async () => {
    await copy();
    const names = readdirSync(join(folder, 'ferries'), { recursive: true }).map(String);
    const sheets = names.filter((name) => name.endsWith('.html'));
    expect(sheets.length).toBeGreaterThan(95);
    for (const sheet of sheets) {
      const links = [...read(sheet).matchAll(/(?:href|src)="([^"#]*)/g)].map(([, link]) => link!);
      for (const link of links.filter((one) => one !== '' && !/assets\/(first|page|lantern)\./.test(one))) {
        const at = new URL(link, `file:///${sheet}`);
        expect(names, `${link} on ${sheet}`).toContain(at.pathname.slice(1));
        expect(at.search, `${link} on ${sheet}`).toBe('');
      }
    }
    expect(read('index.html')).toContain('Booking');
    expect(read('index.html')).toContain(`data-made="${NOW + 1000}"`);
    expect(read('incident/1.html')).toContain('Fog');
    expect(JSON.parse(read('state.json'))).toMatchObject({ page: { title: 'Tern Island Ferries' } });
    expect(names).not.toContain('metrics');
    expect((await fetchCopyState(store.db, pageId)).copiedAt).toBe(NOW + 1000);
    expect(names.filter((name) => name.endsWith('.part'))).toEqual([]);
  });

  it('is made anew when something changes, and every ten minutes, and else not', async () => {
    await copy();
    const before = read('index.html');
    await copy(60_000);
    expect(read('index.html')).toBe(before);
    await copy(600_000);
    expect(read('index.html')).toContain(`data-made="${NOW + 661_000}"`);
    await index.watchesChanged([1]);
    await copy(1);
    expect(read('index.html')).toContain(`data-made="${NOW + 661_001}"`);
    // What was before does not change with a look.
    const past = join(folder, 'ferries', 'day', '2026-11-01.html');
    const { mtimeMs } = statSync(past);
    await index.watchesChanged([1]);
    await copy(1);
    expect(statSync(past).mtimeMs).toBe(mtimeMs);
  });

  it('is taken away when the page is no longer for everyone, called otherwise, or not to be copied', async () => {
    const there = (slug = 'ferries') => existsSync(join(folder, slug, 'index.html'));
    writeFileSync(join(folder, 'mine.txt'), 'not ours');
    mkdirSync(join(folder, 'other'));
    await copy();
    expect(there()).toBe(true);
    await change({ slug: 'boats' });
    await copy();
    expect([there(), there('boats'), existsSync(join(folder, 'ferries'))]).toEqual([false, true, false]);
    writeFileSync(join(folder, 'boats', 'mine.txt'), 'not ours');
    await change({ audience: 'link', secret: 'x'.repeat(32) });
    await copy();
    expect(readdirSync(join(folder, 'boats'))).toEqual(['mine.txt']);
    expect(readdirSync(folder).sort()).toEqual(['boats', 'mine.txt', 'other']);
  });

  it('that cannot be made is told, tried again a minute later, and told to be made again', async () => {
    writeFileSync(join(folder, 'ferries'), 'a file where a folder should be');
    await copy();
    expect(await problem()).toMatch(/EEXIST|ENOTDIR/);
    expect(await fetchBrokenCopies(store.db)).toMatchObject([{ id: pageId, title: 'Tern Island Ferries' }]);
    rmSync(join(folder, 'ferries'));
    await copy(59_000);
    expect(await problem()).not.toBeNull();
    await copy(2_000);
    expect(await problem()).toBeNull();
    expect(read('index.html')).toContain('Booking');
  });

  it('is put on a web server with its account, folders first', async () => {
    const got = new Map<string, { type: string; auth: string; bytes: number }>();
    const made: string[] = [];
    let status = 201;
    server = createServer((request, response) => {
      const chunks: Buffer[] = [];
      request.on('data', (chunk: Buffer) => chunks.push(chunk));
      request.on('end', () => {
        const { url = '', method, headers } = request;
        if (method === 'MKCOL') made.push(url);
        else
          got.set(url, {
            type: String(headers['content-type']),
            auth: String(headers.authorization),
            bytes: Buffer.concat(chunks).length,
          });
        response.writeHead(method === 'MKCOL' ? 405 : status).end();
      });
    });
    await new Promise<void>((resolve) => server!.listen(0, '127.0.0.1', resolve));
    const address = `http://127.0.0.1:${(server.address() as AddressInfo).port}/status/`;
    await change({ copyTo: { address, user: 'ines' }, copyPassword: openVault(store.folder).seal('gulls') });
    await copy();
    expect(await problem()).toBeNull();
    expect(made.sort()).toEqual(['/status/assets/', '/status/day/', '/status/diary/', '/status/incident/']);
    const page = got.get('/status/index.html')!;
    expect(page).toMatchObject({
      type: 'text/html; charset=utf-8',
      auth: `Basic ${Buffer.from('ines:gulls').toString('base64')}`,
    });
    expect(page.bytes).toBeGreaterThan(1000);
    expect(got.has('/status/copy.json')).toBe(false);
    expect(existsSync(join(folder, 'ferries'))).toBe(false);
    status = 507;
    await index.watchesChanged([1]);
    await copy(1);
    expect(await problem()).toBe('PUT index.html was answered 507.');
  });

  it('that was begun by another process is gone on with', async () => {
    await copy();
    copier = makeCopier();
    chmodSync(join(folder, 'ferries'), 0o755);
    await copy(1);
    expect(read('index.html')).toContain(`data-made="${NOW + 1001}"`);
    expect((JSON.parse(read('copy.json')) as { page: number }).page).toBe(pageId);
  });
});
