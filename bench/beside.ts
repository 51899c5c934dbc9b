import http from 'node:http';
import { rmSync } from 'node:fs';
import { openStore } from '@/store/db/open';
import { saveNewPage } from '@/store/pages/pages';
import { makeWatch, startProduct, tempStore, until, webConfig } from '../tests/integration/helpers';
import { line, pageContent } from '../tests/integration/pages';
import { at, lateLooks } from './looks';
import { startBare } from './load';
import type { BenchTable } from './table';

const WATCHES = 2000;
const EVERY_SECONDS = 30;
const ON_PAGE = 100;
const A_SECOND = 500;
const MEASURE_SECONDS = 35;

const sleep = (seconds: number) => new Promise<void>((resolve) => setTimeout(resolve, seconds * 1000));

/** Asks for a page so many times a second, whatever comes; how many were answered with it, and how long the slowest took. */
async function askFor(url: URL, seconds: number): Promise<{ answered: number; slowestMs: number }> {
  const agent = new http.Agent({ keepAlive: true, maxSockets: 256 });
  let answered = 0;
  let slowestMs = 0;
  const one = () => {
    const asked = performance.now();
    const request = http.get(url, { agent }, (response) => {
      response.resume();
      response.on('end', () => {
        if (response.statusCode === 200) answered += 1;
        slowestMs = Math.max(slowestMs, performance.now() - asked);
      });
    });
    request.on('error', () => undefined);
  };
  const began = performance.now();
  let sent = 0;
  while (performance.now() - began < seconds * 1000) {
    const due = Math.floor(((performance.now() - began) / 1000) * A_SECOND);
    for (; sent < due; sent += 1) one();
    await new Promise((resolve) => setTimeout(resolve, 5));
  }
  await sleep(1);
  agent.destroy();
  return { answered: answered / seconds, slowestMs };
}

/** What a page that very many look at does to the looks beside it: the whole product, on the same two cores. */
export async function beside(table: BenchTable): Promise<void> {
  const store = await tempStore();
  const site = await startBare(['site']);
  await store.db.raw('PRAGMA synchronous = OFF');
  const ids: number[] = [];
  for (let i = 0; i < WATCHES; i += 1) {
    const host = `127.0.${Math.floor((i % 500) / 250)}.${1 + (i % 250)}`;
    const config = webConfig(`http://${host}:${site.port}/?${i}`, { every: EVERY_SECONDS });
    ids.push(await makeWatch(store.db, config, { name: `Watch ${i + 1}` }));
  }
  await saveNewPage(
    store.db,
    pageContent(
      ids.slice(0, ON_PAGE).map((id) => line(id, `Line ${id}`)),
      { slug: 'busy' },
    ),
  );
  await store.db.destroy();
  const product = await startProduct({ folder: store.folder });
  const db = await openStore(store.folder, { migrate: false });
  const looked = async () => Number((await db('findings').count({ n: '*' }))[0]!.n);
  await until(async () => (await looked()) >= WATCHES, 'all are looked at once', 120_000);
  await sleep(3);
  const lateness = async (work: () => Promise<void>) => {
    const from = Date.now();
    await work();
    const { late, skipped } = await lateLooks(db, ids, { from, to: Date.now() });
    return { p99: at(late, 0.99), skipped };
  };
  const calm = await lateness(() => sleep(MEASURE_SECONDS));
  let asked = { answered: 0, slowestMs: 0 };
  const busy = await lateness(async () => {
    asked = await askFor(new URL(`${product.base}/p/busy/`), MEASURE_SECONDS);
  });
  const what = `a page of ${ON_PAGE} asked for ${A_SECOND} times a second beside ${WATCHES} watches every ${EVERY_SECONDS} s`;
  table.figure(`${what}: lateness of looks, p99`, `${busy.p99} ms (${calm.p99} at rest)`, 'under 100 ms');
  table.figure(`${what}: looks skipped`, String(busy.skipped), '0');
  table.figure(
    `${what}: pages answered a second, slowest`,
    `${asked.answered.toFixed(0)}, ${asked.slowestMs.toFixed(0)} ms`,
    'stated',
  );
  await db.destroy();
  await product.stop();
  site.process.kill();
  rmSync(store.folder, { recursive: true, force: true });
}
