import { join } from 'node:path';
import type { Knex } from 'knex';
import type { Engine } from '@/engine/engine';
import { offsetOf } from '@/core/schedule/schedule';
import { makeWatch, ROOT, tempStore, webConfig, type TempStore } from '../tests/integration/helpers';
import { saveNewChannel } from '@/store/messages/channels';
import { freshRequestsPerSecond, startBare } from './load';
import type { BenchTable } from './table';
import { engineOn as buildEngine } from '../tests/integration/engine-on';

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
/** Watches that go down while it is measured, each told to a room of its own: none waits for another. */
const BREAKING = 80;

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
  /** From being confirmed down to being handed over, ms. */
  told: { p50: number; p99: number; count: number };
}

/** The value so far into sorted ones. */
export const at = (sorted: readonly number[], q: number) =>
  sorted[Math.min(sorted.length - 1, Math.floor(q * sorted.length))] ?? Number.NaN;

/** Breaks watches one after the other over a time. */
async function breakSome(store: TempStore, engine: Engine, room: string, seconds: number): Promise<void> {
  for (let i = 0; i < BREAKING; i += 1) {
    const channel = await saveNewChannel(store.db, {
      kind: 'webhook',
      name: `Room ${i}`,
      settings: { address: `${room}${i}`, user: '', password: '' },
      enabled: true,
      createdAt: Date.now(),
    });
    await engine.handlers.channelsChanged({});
    const rest = { every: 3600, secondLooks: 0, tells: 'instead', tellsTo: [channel] };
    const id = await makeWatch(store.db, webConfig(`http://127.2.0.${1 + i}:1/`, rest), {
      name: `Broken ${i}`,
    });
    await engine.handlers.watchesChanged({ watchIds: [id] });
    await sleep(seconds / BREAKING);
  }
}

async function toldAfter({ db }: TempStore): Promise<number[]> {
  const rows = await db('deliveries')
    .join('messages', 'messages.id', 'deliveries.message_id')
    .join('attempts', 'attempts.delivery_id', 'deliveries.id')
    .join('outages', 'outages.watch_id', 'messages.watch_id')
    .where('messages.kind', 'down')
    .andWhere('attempts.ok', true)
    .select<{ handed: number; noticed: number }[]>('attempts.at as handed', 'outages.noticed as noticed');
  return rows.map(({ handed, noticed }) => handed - noticed).sort((a, b) => a - b);
}

/** How late looks began against their own grid, sorted, in ms; and how many never came. */
export async function lateLooks(
  db: Knex,
  ids: readonly number[],
  { from, to }: { from: number; to: number },
  everyMs = EVERY_SECONDS * 1000,
): Promise<{ late: number[]; skipped: number }> {
  const late: number[] = [];
  let skipped = 0;
  for (const id of ids) {
    const offset = offsetOf(id, everyMs);
    const first = Math.ceil((from - offset) / everyMs);
    const last = Math.floor((to - 1000 - offset) / everyMs);
    const rows = await db('findings').where('watch_id', id).andWhere('at', '>=', from).select('at');
    const seen = new Map(
      rows.map((row) => [Math.floor((row.at - offset) / everyMs), (row.at - offset) % everyMs]),
    );
    for (let slot = first; slot <= last; slot += 1) {
      const lateness = seen.get(slot);
      if (lateness === undefined) skipped += 1;
      else late.push(lateness);
    }
  }
  return { late: late.sort((a, b) => a - b), skipped };
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
  await breakSome(store, engine, `http://127.0.0.1:${site.port}/room/`, MEASURE_SECONDS);
  const to = Date.now();
  const rssMb = process.memoryUsage().rss / 1e6;
  await engine.close();
  const { late, skipped } = await lateLooks(store.db, ids, { from, to });
  const told = await toldAfter(store);
  site.process.kill();
  stuck.process.kill();
  await store.close();
  return {
    p50: at(late, 0.5),
    p99: at(late, 0.99),
    most: at(late, 1),
    skipped,
    rssMb,
    told: { p50: at(told, 0.5), p99: at(told, 0.99), count: told.length },
  };
}

export async function lateness(table: BenchTable): Promise<void> {
  for (const hanging of [0, HANGING]) {
    const { p50, p99, most, skipped, rssMb, told } = await measure(hanging);
    const what = `lateness of ${MANY} web watches every ${EVERY_SECONDS} s${hanging > 0 ? `, ${hanging} hanging targets beside them` : ''}`;
    table.figure(`${what}: p99`, `${p99} ms`, 'under 100 ms');
    table.figure(`${what}: median, most`, `${p50} ms, ${most} ms`, 'none');
    table.figure(`${what}: looks skipped`, String(skipped), '0');
    table.figure(
      `${what}: from down to handed over, ${told.count} of ${BREAKING}, p99`,
      `${told.p99} ms (median ${told.p50})`,
      'stated',
    );
    table.figure(`${what}: memory of the engine`, `${rssMb.toFixed(0)} MB`, 'stated');
  }
}
