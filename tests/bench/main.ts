import { rmSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { Engine } from '../../src/engine/engine';
import { lookupWith } from '../../src/probes/lookup';
import { newStatus } from '../../src/core/status';
import { fetchFindings } from '../../src/store/findings';
import { Recorder, type Outcome } from '../../src/store/recorder';
import { saveRollups } from '../../src/store/rollups';
import { openVault } from '../../src/store/vault';
import {
  makeCheckin,
  makeWatch,
  startProduct,
  tempFolder,
  tempStore,
  webConfig,
} from '../integration/helpers';
import { freshRequestsPerSecond, requestsPerSecond, startBare } from './load';

/* eslint-disable no-console */

const CHECKINS = 20_000;
const PAGES = 2_000;
const CONNECTIONS = 64;
const LOOK_SECONDS = 12;
const WATCHES = 20_000;
const FINDINGS = 200_000;

function say(what: string, ours: number, bare: number, aim: number): void {
  const ratio = (ours / bare).toFixed(2);
  console.log(
    `${what.padEnd(44)} ${ours.toFixed(0).padStart(7)}  bare ${bare.toFixed(0).padStart(7)}  ratio ${ratio}  (aim ${aim})`,
  );
}

async function checkinsAndPages(): Promise<void> {
  const product = await startProduct();
  const folder = tempFolder();
  const bare = await startBare(['checkins', join(folder, 'bare.db')]);
  const { id, checkinAddress } = await makeCheckin(product);
  const own = new URL(`${checkinAddress}?is=note`);
  const plain = new URL(`http://127.0.0.1:${bare.port}/note`);
  for (const url of [own, plain]) await requestsPerSecond(url, 2000, CONNECTIONS);
  say(
    'check-ins a second, durable',
    await requestsPerSecond(own, CHECKINS, CONNECTIONS),
    await requestsPerSecond(plain, CHECKINS, CONNECTIONS),
    0.6,
  );
  bare.process.kill();

  await product.api('POST', '/pages', {
    title: 'Tern Island Ferries',
    slug: 'ferries',
    sections: [{ title: '', items: [{ watchId: id, label: 'Manifest' }] }],
  });
  const address = new URL(`${product.base}/p/ferries`);
  const bytes = await (await fetch(address)).text();
  const page = await startBare(['page'], bytes);
  const pages = await requestsPerSecond(address, PAGES, 16);
  say(
    'public pages a second',
    pages,
    await requestsPerSecond(new URL(`http://127.0.0.1:${page.port}/`), PAGES * 5, 16),
    0.5,
  );
  page.process.kill();
  await product.stop();
  for (const gone of [folder, product.folder]) rmSync(gone, { recursive: true, force: true });
}

async function looks(): Promise<void> {
  const store = await tempStore();
  const site = await startBare(['site']);
  const address = `http://127.0.0.1:${site.port}/`;
  const bare = await freshRequestsPerSecond(new URL(address), 10_000, CONNECTIONS);
  await store.db.raw('PRAGMA synchronous = OFF');
  for (let i = 0; i < WATCHES; i += 1) {
    await makeWatch(store.db, webConfig(`${address}?${i}`, { every: 5 }), { name: `w${i}` });
  }
  await store.db.raw('PRAGMA synchronous = NORMAL');
  const engine = new Engine(
    {
      db: store.db,
      vault: openVault(store.folder),
      now: () => Date.now(),
      monotonic: () => performance.now(),
      lookup: lookupWith(new Map()),
      zone: 'UTC',
      linkBase: 'http://desk.test',
      looksAtOnce: CONNECTIONS,
      looksPerHost: CONNECTIONS,
      keepFindingsDays: 30,
      onNews: () => undefined,
      onError: (error) => console.error(error),
    },
    () => undefined,
  );
  await engine.start();
  const started = performance.now();
  await new Promise((resolve) => setTimeout(resolve, LOOK_SECONDS * 1000));
  await engine.close();
  const seconds = (performance.now() - started) / 1000;
  const [{ n }] = (await store.db('findings').count({ n: '*' })) as unknown as [{ n: number }];
  say(`looks a second, ${WATCHES} watches every 5 s`, n / seconds, bare, 0.7);
  site.process.kill();
  await store.close();
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
  console.log(
    `bytes on disk a finding, rollups included      ${(((await size()) - before) / kept.length).toFixed(1)}  (aim at most 40)`,
  );
  await store.close();
}

await checkinsAndPages();
await looks();
await bytesOnDisk();
