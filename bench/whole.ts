import { DAY_MS } from '@/core/time/units';
import { rmSync } from 'node:fs';
import { gzipSync } from 'node:zlib';
import type { Knex } from 'knex';
import { saveNewPage } from '@/store/pages/pages';
import { withRawConnection } from '@/store/db/connection';
import { openStore } from '@/store/db/open';
import {
  makeWatch,
  startProduct,
  tempStore,
  until,
  webConfig,
  type Product,
} from '../tests/integration/helpers';
import { line, pageContent } from '../tests/integration/pages';
import { startSignedIn } from '../tests/integration/signed-in';
import { startBare } from './load';
import type { BenchTable } from './table';

const MANY = 10_000;
const DESK = 1000;
const ON_PAGE = 100;
/** Single findings of each watch, and so many times more. */
const FEW_FINDINGS = 100;
const TIMES_MORE = 100;
const ASKED = 16;
/** A view of a page that changes all the time is drawn at leisure. */
const BETWEEN_MS = 700;

const median = (values: number[]) => values.sort((a, b) => a - b)[Math.floor(values.length / 2)]!;

async function fillWatches(db: Knex, count: number, config: (i: number) => ReturnType<typeof webConfig>) {
  await db.raw('PRAGMA synchronous = OFF');
  const ids: number[] = [];
  for (let i = 0; i < count; i += 1) {
    ids.push(await makeWatch(db, config(i), { name: `Watch ${i + 1}`, createdAt: Date.now() - 90 * DAY_MS }));
  }
  return ids;
}

/** How long after a kill, with 10,000 watches, until looks resume; and that it invents no outage. */
export async function restart(table: BenchTable): Promise<void> {
  const store = await tempStore();
  const site = await startBare(['site']);
  const host = (i: number) => `127.0.${Math.floor((i % 1000) / 250)}.${1 + (i % 250)}`;
  await fillWatches(store.db, MANY, (i) => webConfig(`http://${host(i)}:${site.port}/?${i}`, { every: 30 }));
  await store.db.destroy();
  const before = await startProduct({ folder: store.folder });
  const db = await openStore(store.folder, { migrate: false });
  const looks = async (since: number) =>
    Number((await db('findings').where('at', '>', since).count({ n: '*' }))[0]!.n);
  await until(async () => (await looks(0)) >= MANY, 'all are looked at once', 120_000);
  process.kill(before.enginePid(), 'SIGKILL');
  await before.kill();
  const killed = Date.now();
  const after = await startProduct({ folder: store.folder });
  const first = await until(
    async () => (await db('findings').where('at', '>', killed).min({ at: 'at' }))[0]!.at as number,
    'looks again',
  );
  table.figure(`restart with ${MANY} watches: until looks resume`, `${first - killed} ms`, 'under 3 s');
  await new Promise((resolve) => setTimeout(resolve, 35_000));
  const outages = Number((await db('outages').count({ n: '*' }))[0]!.n);
  table.figure(`restart with ${MANY} watches: outages invented`, String(outages), '0');
  await db.destroy();
  await after.stop();
  site.process.kill();
  rmSync(store.folder, { recursive: true, force: true });
}

async function fillFindings(db: Knex, ids: readonly number[], each: number): Promise<void> {
  const now = Date.now();
  await withRawConnection(db, (raw) => {
    const insert = raw.prepare(
      'INSERT OR REPLACE INTO findings (watch_id, at, verdict, us) VALUES (?, ?, 0, 80000)',
    );
    const step = Math.floor((14 * DAY_MS) / each);
    raw.transaction(() => {
      for (const id of ids) for (let i = 1; i <= each; i += 1) insert.run(id, now - i * step);
    })();
  });
}

/** Milliseconds until the first byte of a public page that was not drawn before. */
async function firstByte(product: Product): Promise<number> {
  const times: number[] = [];
  for (let i = 0; i < ASKED; i += 1) {
    await product.api('PATCH', '/pages/1', { intro: `Change ${i}` });
    await new Promise((resolve) => setTimeout(resolve, BETWEEN_MS));
    const started = performance.now();
    const response = await fetch(`${product.base}/p/ferries/`);
    times.push(performance.now() - started);
    if (response.status !== 200) throw new Error(`Expected 200, got ${response.status}`);
    await response.text();
  }
  return median(times.slice(ASKED / 4));
}

/** The page of ninety days of 100 watches, with little and with a hundred times more raw history. */
export async function history(table: BenchTable): Promise<void> {
  const store = await tempStore();
  const ids = await fillWatches(store.db, ON_PAGE, () => webConfig('http://127.0.0.1:9/', { every: 86_400 }));
  const lines = ids.map((watchId) => line(watchId, `Watch ${watchId}`));
  await saveNewPage(store.db, { ...pageContent(lines), createdAt: Date.now() });
  const measure = async (each: number) => {
    await fillFindings(store.db, ids, each);
    const product = await startProduct({ folder: store.folder });
    const ms = await firstByte(product);
    await product.stop();
    return ms;
  };
  const few = await measure(FEW_FINDINGS);
  const many = await measure(FEW_FINDINGS * TIMES_MORE);
  table.ratio(
    `page of ${ON_PAGE} watches, ms to the first byte with ${TIMES_MORE} times more findings`,
    many,
    few,
    1.2,
    'at most',
  );
  await store.close();
}

/** What the browser has to fetch and run for a desk with 1,000 watches. */
export async function desk(table: BenchTable): Promise<void> {
  const store = await tempStore();
  await fillWatches(store.db, DESK, () => webConfig('http://127.0.0.1:9/', { every: 86_400 }));
  const { product, cookie } = await startSignedIn(store.folder);
  const times: number[] = [];
  let html = '';
  for (let i = 0; i < 9; i += 1) {
    const started = performance.now();
    html = await (await fetch(product.base, { headers: { cookie } })).text();
    times.push(performance.now() - started);
  }
  // What is marked "nomodule" is for browsers of long ago; others do not fetch it.
  const tags = [...html.matchAll(/<script[^>]+src="([^"]+)"[^>]*>/g)].filter(
    (tag) => !/nomodule/i.test(tag[0]),
  );
  const scripts = new Set(tags.map((tag) => tag[1]!));
  let bytes = 0;
  for (const script of scripts) {
    bytes += gzipSync(Buffer.from(await (await fetch(product.base + script)).arrayBuffer())).length;
  }
  table.figure(`desk with ${DESK} watches: script, gzip`, `${Math.round(bytes / 1000)} kB`, 'at most 250 kB');
  table.figure(
    `desk with ${DESK} watches: page, gzip`,
    `${Math.round(gzipSync(html).length / 1000)} kB`,
    'stated',
  );
  table.figure(`desk with ${DESK} watches: drawn in`, `${Math.round(median(times))} ms`, 'stated');
  await product.stop();
  await store.close();
}
