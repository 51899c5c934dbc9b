import { DAY_MS } from '@/core/time/units';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import type { Knex } from 'knex';
import { withRawConnection } from '@/store/db/connection';
import { makeWatch, startProduct, tempStore, webConfig } from '../tests/integration/helpers';
import { startBare } from './load';
import type { BenchTable } from './table';

const WATCHES = 5000;
const OUTAGES = 30_000;
const MEASURED_MS = 90_000;

/** A long past of one watch: outages with what was seen, and findings that are to be let go of. */
async function fillPast(db: Knex, watchId: number): Promise<void> {
  const now = Date.now();
  await withRawConnection(db, (raw) => {
    const outage = raw.prepare(
      `INSERT INTO outages (watch_id, began, noticed, ended, cause, causes, detail)
       VALUES (?, ?, ?, ?, 'port.refused', '["port.refused"]', '{"port":443}')`,
    );
    const evidence = raw.prepare(
      `INSERT INTO evidence (watch_id, at, cause, detail, evidence) VALUES (?, ?, 'port.refused', '{}', '{}')`,
    );
    const finding = raw.prepare(
      'INSERT OR REPLACE INTO findings (watch_id, at, verdict, us) VALUES (?, ?, 0, 80000)',
    );
    raw.transaction(() => {
      for (let i = 0; i < OUTAGES; i += 1) {
        const began = now - 300 * DAY_MS + i * 600_000;
        outage.run(watchId, began, began + 1000, began + 300_000);
        evidence.run(watchId, began);
        evidence.run(watchId, began + 30_000);
        for (let j = 0; j < 10; j += 1) finding.run(watchId, began + j * 1000);
      }
    })();
  });
}

/** How long the right to write was held in one piece while 5,000 watches are looked at and a long past is let go of. */
export async function writeLock(table: BenchTable): Promise<void> {
  const store = await tempStore();
  const site = await startBare(['site']);
  await store.db.raw('PRAGMA synchronous = OFF');
  const ids: number[] = [];
  for (let i = 0; i < WATCHES; i += 1) {
    const host = `127.0.${Math.floor((i % 1000) / 250)}.${1 + (i % 250)}`;
    const config = webConfig(`http://${host}:${site.port}/?${i}`, { every: 30 });
    ids.push(await makeWatch(store.db, config, { name: `Watch ${i}`, createdAt: Date.now() - 300 * DAY_MS }));
  }
  await fillPast(store.db, ids[0]!);
  const product = await startProduct({ folder: store.folder });
  const raw = new Database(join(store.folder, 'lantern.db'), { timeout: 0 });
  const waits: number[] = [];
  let busySince: number | null = null;
  for (const until = performance.now() + MEASURED_MS; performance.now() < until;) {
    try {
      raw.exec('BEGIN IMMEDIATE');
      raw.exec('ROLLBACK');
      waits.push(busySince === null ? 0 : performance.now() - busySince);
      busySince = null;
    } catch (error) {
      if ((error as { code?: string }).code !== 'SQLITE_BUSY') throw error;
      busySince ??= performance.now();
    }
    await new Promise((resolve) => setTimeout(resolve, 1));
  }
  raw.close();
  waits.sort((a, b) => a - b);
  const what = `${WATCHES} watches every 30 s, ${OUTAGES} outages let go of: the right to write held`;
  table.figure(`${what}, p99.9`, `${Math.round(waits[Math.floor(waits.length * 0.999)]!)} ms`, 'stated');
  table.figure(`${what}, longest`, `${Math.round(waits.at(-1)!)} ms`, 'at most 100 ms');
  await product.stop();
  site.process.kill();
  await store.close();
}
