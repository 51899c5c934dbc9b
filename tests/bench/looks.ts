import { join } from 'node:path';
import type { Engine } from '@/engine/engine';
import { offsetOf } from '@/core/schedule/schedule';
import { makeWatch, ROOT, tempStore, webConfig, type TempStore } from '../integration/helpers';
import { freshRequestsPerSecond, startBare } from './load';
import type { BenchTable } from './table';
import { engineOn as buildEngine } from '../integration/engine-on';

const CONNECTIONS = 64;
const LOOK_SECONDS = 12;
const WATCHES = 20_000;

/** Of the measure of lateness: 10,000 web watches every 30 seconds, on as many hosts as a large desk has. */
const MANY = 10_000;
const EVERY_SECONDS = 30;
const HOSTS = 1000;
const HANGING = 100;
const SETTLE_SECONDS = 35;
const MEASURE_SECONDS = 45;

function engineOn(store: TempStore, looksAtOnce: number, looksPerHost: number): Engine {
  return buildEngine(store, {
    looksAtOnce,
    looksPerHost,
    lookThreads: {
      script: join(ROOT, 'dist/look-thread.js'),
      threads: 1,
      data: { dataFolder: store.folder, hosts: '' },
    },
    keepFindingsDays: 14,
    onError: (error) =>
      process.stderr.write(`${String(error)}
`),
  });
}

const sleep = (seconds: number) => new Promise((resolve) => setTimeout(resolve, seconds * 1000));

async function looked(store: TempStore): Promise<number> {
  const [{ n }] = (await store.db('findings').count({ n: '*' })) as unknown as [{ n: number }];
  return n;
}

/** Looks a second, engine with everything on, against a bare loop of the same requests. */
export async function looksPerSecond(table: BenchTable): Promise<void> {
  const store = await tempStore();
  const site = await startBare(['site']);
  const address = `http://127.0.0.1:${site.port}/`;
  await store.db.raw('PRAGMA synchronous = OFF');
  for (let i = 0; i < WATCHES; i += 1) {
    await makeWatch(store.db, webConfig(`${address}?${i}`, { every: 5 }), { name: `w${i}` });
  }
  await store.db.raw('PRAGMA synchronous = NORMAL');
  const lookFor = async (seconds: number) => {
    const engine = engineOn(store, CONNECTIONS, CONNECTIONS);
    await engine.start();
    // First looks are an exception: each begins a history. What is measured is the everyday after them.
    while ((await looked(store)) < WATCHES) await sleep(0.5);
    const before = await looked(store);
    const started = performance.now();
    await sleep(seconds);
    await engine.close();
    return ((await looked(store)) - before) / ((performance.now() - started) / 1000);
  };
  await table.rounds(
    `looks a second, ${WATCHES} watches every 5 s`,
    () => lookFor(LOOK_SECONDS),
    () => freshRequestsPerSecond(new URL(address), 10_000, CONNECTIONS),
    0.7,
    3,
  );
  site.process.kill();
  await store.close();
}

interface Lateness {
  p50: number;
  p99: number;
  most: number;
  skipped: number;
  rssMb: number;
}

/** How late looks begin against their own grid, once all have settled; what hangs is not counted. */
async function measure(hanging: number): Promise<Lateness> {
  const store = await tempStore();
  const site = await startBare(['site']);
  const stuck = await startBare(['hanging']);
  await store.db.raw('PRAGMA synchronous = OFF');
  const ids: number[] = [];
  for (let i = 0; i < MANY; i += 1) {
    const host = `127.0.${Math.floor((i % HOSTS) / 250)}.${1 + ((i % HOSTS) % 250)}`;
    ids.push(
      await makeWatch(store.db, webConfig(`http://${host}:${site.port}/?${i}`, { every: EVERY_SECONDS })),
    );
  }
  for (let i = 0; i < hanging; i += 1) {
    const rest = { every: EVERY_SECONDS, timeout: 10, secondLooks: 0 };
    await makeWatch(store.db, webConfig(`http://127.1.0.${1 + (i % 250)}:${stuck.port}/`, rest));
  }
  await store.db.raw('PRAGMA synchronous = NORMAL');
  const engine = engineOn(store, CONNECTIONS, 4);
  await engine.start();
  await sleep(SETTLE_SECONDS);
  const from = Date.now();
  await sleep(MEASURE_SECONDS);
  const to = Date.now();
  const rssMb = process.memoryUsage().rss / 1e6;
  await engine.close();
  const everyMs = EVERY_SECONDS * 1000;
  const late: number[] = [];
  let skipped = 0;
  for (const id of ids) {
    const offset = offsetOf(id, everyMs);
    const first = Math.ceil((from - offset) / everyMs);
    const last = Math.floor((to - 1000 - offset) / everyMs);
    const rows = await store.db('findings').where('watch_id', id).andWhere('at', '>=', from).select('at');
    const seen = new Map(
      rows.map((row) => [Math.floor((row.at - offset) / everyMs), (row.at - offset) % everyMs]),
    );
    for (let slot = first; slot <= last; slot += 1) {
      const lateness = seen.get(slot);
      if (lateness === undefined) skipped += 1;
      else late.push(lateness);
    }
  }
  late.sort((a, b) => a - b);
  const at = (q: number) => late[Math.min(late.length - 1, Math.floor(q * late.length))] ?? Number.NaN;
  site.process.kill();
  stuck.process.kill();
  await store.close();
  return { p50: at(0.5), p99: at(0.99), most: at(1), skipped, rssMb };
}

export async function lateness(table: BenchTable): Promise<void> {
  for (const hanging of [0, HANGING]) {
    const { p50, p99, most, skipped, rssMb } = await measure(hanging);
    const what = `lateness of ${MANY} web watches every ${EVERY_SECONDS} s${hanging > 0 ? `, ${hanging} hanging targets beside them` : ''}`;
    table.figure(`${what}: p99`, `${p99} ms`, 'under 100 ms');
    table.figure(`${what}: median, most`, `${p50} ms, ${most} ms`, 'none');
    table.figure(`${what}: looks skipped`, String(skipped), '0');
    table.figure(`${what}: memory of the engine`, `${rssMb.toFixed(0)} MB`, 'stated');
  }
}
