import { rmSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { newStatus } from '@/core/lifecycle/status';
import { fetchStorage } from '@/store/db/file-size';
import { deleteFindingsBefore, fetchFindings } from '@/store/history/findings';
import { Recorder, type Outcome } from '@/store/history/recorder';
import { saveRollups } from '@/store/history/rollups';
import {
  makeCheckin,
  makeWatch,
  startProduct,
  tempFolder,
  tempStore,
  webConfig,
  type Product,
} from '../tests/integration/helpers';
import { writeLock } from './locks';
import { requestsPerSecond, startBare } from './load';
import { beside } from './beside';
import { scale } from './scale';
import { lateness, looksPerSecond } from './looks';
import { messages } from './messages';
import { BenchTable } from './table';
import { desk, history, restart } from './whole';

/** Of one round. */
const CHECKINS = 6000;
const JOBS = 1000;
const BURST = 5000;
const PAGES = 6000;
const CHANGE_MS = 500;
const CONNECTIONS = 64;
const FINDINGS = 200_000;
const GROWTH_DAYS = 60;
const table = new BenchTable();

async function checkins(product: Product): Promise<void> {
  const folder = tempFolder();
  const bare = await startBare(['checkins', join(folder, 'bare.db')]);
  // As many jobs as a large desk has: one that reported all this by itself would be slowed.
  const jobs = [];
  for (let i = 0; i < JOBS; i += 1) jobs.push(await makeCheckin(product, { name: `Job ${i}` }));
  const own = jobs.map((job) => new URL(`${job.checkinAddress}?is=note`));
  const plain = [new URL(`http://127.0.0.1:${bare.port}/note`)];
  for (const urls of [own, plain]) await requestsPerSecond(urls, 2000, CONNECTIONS);
  await table.rounds(
    'check-ins a second, durable',
    () => requestsPerSecond(own, CHECKINS, CONNECTIONS),
    () => requestsPerSecond(plain, CHECKINS, CONNECTIONS),
    0.6,
  );
  bare.process.kill();
  await burst(own);
  rmSync(folder, { recursive: true, force: true });
}

async function pages(product: Product): Promise<void> {
  const { id, checkinAddress } = await makeCheckin(product, { name: 'Manifest' });
  await product.api('POST', '/pages', {
    title: 'Tern Island Ferries',
    slug: 'ferries',
    sections: [{ title: '', items: [{ watchIds: [id], label: 'Manifest' }] }],
  });
  const address = new URL(`${product.base}/p/ferries/`);
  const bytes = await (await fetch(address)).text();
  const page = await startBare(['page'], bytes);
  const bare = new URL(`http://127.0.0.1:${page.port}/`);
  // As many as look at once while something is down.
  for (const url of [address, bare]) await requestsPerSecond([url], 1000, CONNECTIONS);
  await table.rounds(
    `public pages a second, changing every ${CHANGE_MS} ms`,
    async () => {
      // Nor does such a page stay as it is meanwhile.
      const changing = setInterval(() => void fetch(checkinAddress, { method: 'POST' }), CHANGE_MS);
      const own = await requestsPerSecond([address], PAGES, CONNECTIONS);
      clearInterval(changing);
      return own;
    },
    () => requestsPerSecond([bare], PAGES, CONNECTIONS),
    0.5,
  );
  await table.rounds(
    'public pages a second, while nothing changes',
    () => requestsPerSecond([address], PAGES, CONNECTIONS),
    () => requestsPerSecond([bare], PAGES, CONNECTIONS),
    0.8,
  );
  page.process.kill();
}

async function onProduct(measure: (product: Product) => Promise<void>): Promise<void> {
  const product = await startProduct();
  await measure(product);
  await product.stop();
  rmSync(product.folder, { recursive: true, force: true });
}

/** Everything at the full hour: so many check-ins at once, each on a connection of its own. */
async function burst(urls: readonly URL[]): Promise<void> {
  const times: number[] = [];
  let refused = 0;
  await Promise.all(
    Array.from({ length: BURST }, async (_, i) => {
      const started = performance.now();
      const answer = await fetch(urls[i % urls.length]!, { method: 'POST' }).catch(() => null);
      if (answer?.status !== 200) refused += 1;
      times.push(performance.now() - started);
    }),
  );
  table.figure(`burst of ${BURST} check-ins at once: refused or lost`, String(refused), '0');
  table.figure('burst: slowest answer', `${Math.round(Math.max(...times))} ms`, 'stated');
}

async function bytesOnDisk(): Promise<void> {
  const store = await tempStore();
  const recorder = new Recorder(store.db);
  const id = await makeWatch(store.db, webConfig('http://site.test/'), { createdAt: 0 });
  const first = Date.parse('2026-08-01T00:00:00Z');
  const size = async () => {
    await store.db.raw('PRAGMA wal_checkpoint(TRUNCATE)');
    return statSync(join(store.folder, 'lantern.db')).size;
  };
  const before = await size();
  let batch: Outcome[] = [];
  for (let i = 0; i < FINDINGS; i += 1) {
    const ms = 80 + ((i * 7919) % 1000) / 10;
    batch.push({
      watchId: id,
      status: newStatus(0),
      events: [],
      finding: { at: first + i * 60_000, verdict: 'fine', ms },
    });
    if (batch.length === 5000) {
      await recorder.save(batch);
      batch = [];
    }
  }
  await saveRollups(store.db, first + FINDINGS * 60_000);
  const kept = await fetchFindings(store.db, id, { limit: FINDINGS + 1 });
  const bytes = ((await size()) - before) / kept.length;
  table.figure('bytes on disk a finding, rollups included', bytes.toFixed(1), 'at most 40');
  await store.close();
}

/** What a year of a probe leaves behind that is kept for good or for years. */
async function growth(): Promise<void> {
  const store = await tempStore();
  const id = await makeWatch(store.db, webConfig('http://site.test/'), { createdAt: 0 });
  const first = Date.parse('2026-01-01T00:00:00Z');
  const used = async () => (await fetchStorage(store.db, first)).usedBytes;
  const before = await used();
  const recorder = new Recorder(store.db);
  for (let day = 0; day < GROWTH_DAYS; day += 1) {
    const batch: Outcome[] = [];
    for (let i = 0; i < 1440; i += 1) {
      // Times that lie as those of a site do: most near each other, some far above.
      const ms =
        120 *
        Math.exp(0.25 * Math.sqrt(-2 * Math.log(1 - Math.random())) * Math.cos(2 * Math.PI * Math.random()));
      const at = first + day * 86_400_000 + i * 60_000;
      batch.push({ watchId: id, status: newStatus(0), events: [], finding: { at, verdict: 'fine', ms } });
    }
    await recorder.save(batch);
    const over = first + (day + 1) * 86_400_000;
    await saveRollups(store.db, over);
    await deleteFindingsBefore(store.db, [id], over);
  }
  const mb = ((((await used()) - before) / GROWTH_DAYS) * 365.25) / 1_000_000;
  table.figure('growth a year by a probe that looks every 60 s', `${mb.toFixed(2)} MB`, 'at most 0.4 MB');
  await store.close();
}

const PARTS: Record<string, () => Promise<void>> = {
  checkins: () => onProduct(checkins),
  pages: () => onProduct(pages),
  looks: () => looksPerSecond(table),
  lateness: () => lateness(table),
  beside: () => beside(table),
  scale: () => scale(table),
  bytes: bytesOnDisk,
  growth,
  restart: () => restart(table),
  history: () => history(table),
  messages: () => messages(table),
  locks: () => writeLock(table),
  desk: () => desk(table),
};
const wanted = process.argv.slice(2);
for (const [name, measure] of Object.entries(PARTS)) {
  if (wanted.length === 0 || wanted.includes(name)) await measure();
}
// Only a whole run is written down.
if (wanted.length === 0) writeFileSync(join(process.cwd(), 'docs/bench.md'), table.markdown());
