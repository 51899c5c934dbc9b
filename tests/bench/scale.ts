import { rmSync } from 'node:fs';
import type { Knex } from 'knex';
import { withRawConnection } from '@/store/db/connection';
import { periodConfig, makeWatch, tempStore, webConfig } from '../integration/helpers';
import { startSignedIn } from './signed-in';
import type { BenchTable } from './table';

const DAY_MS = 86_400_000;
const FEW = 100;
const MANY = [1000, 5000];
/** Outages of each watch within ninety days. */
const OUTAGES = 10;
const ASKED = 7;
/** Ninety days of calm and trouble by turns: what lines are drawn from. */
const PERIOD_MS = (90 * DAY_MS) / OUTAGES;

const median = (values: number[]) => values.sort((a, b) => a - b)[Math.floor(values.length / 2)]!;

export async function fill(db: Knex, count: number): Promise<void> {
  await db.raw('PRAGMA synchronous = OFF');
  const began = Date.now() - 90 * DAY_MS;
  const ids: number[] = [];
  for (let i = 0; i < count; i += 1) {
    const config =
      i % 5 === 4 ? periodConfig(86_400, 600) : webConfig('http://127.0.0.1:9/', { every: 86_400 });
    ids.push(await makeWatch(db, config, { name: `Watch ${i + 1}`, createdAt: began }));
  }
  await withRawConnection(db, (raw) => {
    raw.exec('DELETE FROM stretches');
    const stretch = raw.prepare('INSERT INTO stretches (watch_id, began, kind, ended) VALUES (?, ?, ?, ?)');
    const outage = raw.prepare(
      `INSERT INTO outages (watch_id, began, noticed, ended, cause, causes, detail) VALUES (?, ?, ?, ?, 'port.refused', '["port.refused"]', '{}')`,
    );
    raw.transaction(() => {
      for (const id of ids) {
        for (let k = 0; k < OUTAGES; k += 1) {
          const from = began + k * PERIOD_MS;
          const down = from + PERIOD_MS - 600_000;
          const to = k === OUTAGES - 1 ? null : from + PERIOD_MS;
          stretch.run(id, from, 'up', down);
          stretch.run(id, down, 'down', to ?? down + 300_000);
          outage.run(id, down, down, to ?? down + 300_000);
          if (to === null) stretch.run(id, down + 300_000, 'up', null);
        }
      }
    })();
  });
}

/** What people and programs ask for, by what it is called in the table. */
const SCREENS = {
  'the page of a watch': '/watches/3',
  'the form of a watch': '/watches/3/change',
  'the page of a job': '/watches/5',
  jobs: '/jobs',
  overview: '/',
  'watches by name': '/api/v1/watch-names?words=Watch%2042&limit=8',
};

async function measure(count: number): Promise<Map<string, number>> {
  const store = await tempStore();
  await fill(store.db, count);
  await store.db.destroy();
  const { product, cookie } = await startSignedIn(store.folder);
  const took = new Map<string, number>();
  const time = async (what: string, work: (i: number) => Promise<number>) => {
    const times: number[] = [];
    for (let i = 0; i < ASKED; i += 1) times.push(await work(i));
    // The first pays for what is loaded once.
    took.set(what, median(times.slice(1)));
  };
  for (const [what, path] of Object.entries(SCREENS)) {
    await time(what, async () => {
      const started = performance.now();
      const answer = await fetch(product.base + path, { headers: { cookie } });
      await answer.text();
      if (answer.status !== 200) throw new Error(`Expected 200 at ${path}, got ${answer.status}`);
      return performance.now() - started;
    });
  }
  await time('making a watch', async (i) => {
    const started = performance.now();
    const settings = { address: 'http://127.0.0.1:9/' };
    const made = await product.api('POST', '/watches', { kind: 'web', name: `New ${i}`, settings });
    if (made.status !== 201) throw new Error(`Expected 201, got ${made.status}`);
    return performance.now() - started;
  });
  await product.stop();
  rmSync(store.folder, { recursive: true, force: true });
  return took;
}

/** What shows the same amount takes the same time, however much else there is. */
export async function scale(table: BenchTable): Promise<void> {
  const few = await measure(FEW);
  for (const count of MANY) {
    const many = await measure(count);
    for (const [what, ms] of many) {
      const aim = what === 'overview' || what === 'jobs' ? 4 : 1.5;
      table.ratio(`${what}, ms with ${count} watches and with ${FEW}`, ms, few.get(what)!, aim, 'at most');
    }
  }
}
