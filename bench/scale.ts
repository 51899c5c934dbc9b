import { DAY_MS } from '@/core/time/units';
import http from 'node:http';
import { readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import type { Knex } from 'knex';
import { newCheckinKey } from '@/accounts/secrets';
import { newStatus } from '@/core/lifecycle/status';
import { withRawConnection } from '@/store/db/connection';
import { openStore } from '@/store/db/open';
import {
  makeCheckin,
  makeWatch,
  periodConfig,
  tempStore,
  until,
  webConfig,
  type Product,
} from '../tests/integration/helpers';
import { startBare } from './load';
import { eightDesks } from './desks';
import { startSignedIn } from '../tests/integration/signed-in';
import type { BenchTable } from './table';

const FEW = 100;
const MANY = [1000, 5000];
/** Outages of each watch within ninety days. */
const OUTAGES = 10;
const ASKED = 7;
/** Ninety days of calm and trouble by turns: what lines are drawn from. */
const PERIOD_MS = (90 * DAY_MS) / OUTAGES;

const median = (values: number[]) => values.sort((a, b) => a - b)[Math.floor(values.length / 2)]!;

async function fill(db: Knex, count: number, address: string): Promise<void> {
  await db.raw('PRAGMA synchronous = OFF');
  const began = Date.now() - 90 * DAY_MS;
  const ids: number[] = [];
  for (let i = 0; i < count; i += 1) {
    const config = i % 5 === 4 ? periodConfig(86_400, 600) : webConfig(address, { every: 86_400 });
    const checkinKey = config.type === 'checkin' ? newCheckinKey() : null;
    ids.push(await makeWatch(db, config, { name: `Watch ${i + 1}`, createdAt: began, checkinKey }));
  }
  const now = Date.now();
  const calm = { ...newStatus(now - DAY_MS), state: 'up', lastAt: now, lastFine: true, due: now + DAY_MS };
  await db('watch_status').update({ state: 'up', since: now - DAY_MS, status: JSON.stringify(calm) });
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

/** A watch that is never at rest, and a job that never stops talking. */
async function fillExtremes(db: Knex, restless: number, talking: number): Promise<void> {
  const now = Date.now();
  await withRawConnection(db, (raw) => {
    raw.prepare('DELETE FROM outages WHERE watch_id = ?').run(restless);
    raw.prepare('DELETE FROM stretches WHERE watch_id = ?').run(restless);
    const stretch = raw.prepare('INSERT INTO stretches (watch_id, began, kind, ended) VALUES (?, ?, ?, ?)');
    const outage = raw.prepare(
      `INSERT INTO outages (watch_id, began, noticed, ended, cause, causes, detail) VALUES (?, ?, ?, ?, 'port.refused', '["port.refused"]', '{}')`,
    );
    const report = raw.prepare(
      `INSERT INTO reports (watch_id, at, kind, method, address, run_ms) VALUES (?, ?, ?, 'POST', '127.0.0.1', ?)`,
    );
    raw.transaction(() => {
      const step = Math.floor((89 * DAY_MS) / MOST_OUTAGES);
      for (let i = 0; i < MOST_OUTAGES; i += 1) {
        const from = now - 89 * DAY_MS + i * step;
        const down = from + step - 60_000;
        stretch.run(restless, from, 'up', down);
        stretch.run(restless, down, 'down', from + step);
        outage.run(restless, down, down, from + step);
      }
      const every = Math.floor((13 * DAY_MS) / MOST_REPORTS);
      for (let i = 0; i < MOST_REPORTS; i += 1) {
        const done = i % 2 === 1;
        report.run(
          talking,
          now - 13 * DAY_MS + i * every,
          done ? 'done' : 'begun',
          done ? 1000 + (i % 500) : null,
        );
      }
      raw
        .prepare(`INSERT OR REPLACE INTO settings (key, value) SELECT 'report_cursor', MAX(id) FROM reports`)
        .run();
    })();
  });
}

const MOST_OUTAGES = 30_000;
const MOST_REPORTS = 200_000;
const RESTLESS = 8;
const TALKING = 10;
/** So often a job reports while pages are drawn, and so many are drawn at once. */
const REPORT_EVERY_MS = 20;
const DRAWN_AT_ONCE = 4;
const DRAW_MS = 8_000;

/** What people and programs ask for, by what it is called in the table. */
const SCREENS = {
  'the page of a watch': '/watches/3',
  'the form of a watch': '/watches/3/change',
  'the page of a job': '/watches/5',
  jobs: '/jobs',
  overview: '/',
  'overview of 90 days': '/?range=90d',
  'overview, the worst first': '/?order=worst',
  'overview, narrowed to ten': '/?text=Watch%2077',
  'all watches': '/watches',
  messages: '/messages',
  'the page of a watch with 30,000 outages': `/watches/${RESTLESS}`,
  'the page of a job with 200,000 reports': `/watches/${TALKING}`,
  'what leads the desk': '/api/v1/overview',
  'a page of the API': '/api/v1/watches?limit=100',
  'watches by name': '/api/v1/watch-names?words=Watch%2042&limit=8',
};

const rssMb = (pid: number) =>
  Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))![1]) / 1024;

/** The slowest of many check-ins, each sent when it is due and not when the one before was answered. */
async function slowestCheckin(address: string, goesOn: () => boolean): Promise<number> {
  const took: Promise<number>[] = [];
  while (goesOn()) {
    const sent = performance.now();
    took.push(
      fetch(`${address}?is=note`, { method: 'POST' }).then(async (answer) => {
        await answer.text();
        if (answer.status !== 200) throw new Error(`Expected 200, got ${answer.status}`);
        return performance.now() - sent;
      }),
    );
    await new Promise((resolve) => setTimeout(resolve, REPORT_EVERY_MS));
  }
  return Math.max(...(await Promise.all(took)));
}

function forMs(ms: number): () => boolean {
  const began = performance.now();
  return () => performance.now() - began < ms;
}

/** Check-ins beside changes to many, each of which makes the front door forget where addresses lead. */
async function besideChanges(
  table: BenchTable,
  count: number,
  product: Product,
  took: Map<string, number>,
): Promise<void> {
  const { checkinAddress } = await makeCheckin(product, { name: 'Tide table' });
  let changing = true;
  const slowest = slowestCheckin(checkinAddress, () => changing);
  await timeMany(product, took);
  const shared = { level: 'instance', secondLooks: 1 };
  const answer = await product.api('PATCH', '/shared-settings', shared);
  if (answer.status !== 200) throw new Error(`Expected 200, got ${answer.status}`);
  changing = false;
  table.figure(
    `slowest check-in while 1,000 of ${count} watches and more are made, changed, deleted and brought back, and what all share is changed`,
    `${(await slowest).toFixed(0)} ms`,
    'under 100 ms',
  );
}

async function besideDrawing(
  table: BenchTable,
  count: number,
  product: Product,
  cookie: string,
): Promise<void> {
  const { checkinAddress } = await makeCheckin(product, { name: 'Weather pull' });
  const rest = await slowestCheckin(checkinAddress, forMs(DRAW_MS / 2));
  let drawing = true;
  let drawn = 0;
  const draw = async () => {
    while (drawing) {
      await (await fetch(`${product.base}/?range=90d`, { headers: { cookie } })).text();
      drawn += 1;
    }
  };
  const drawers = Array.from({ length: DRAWN_AT_ONCE }, draw);
  const slowest = await slowestCheckin(checkinAddress, forMs(DRAW_MS));
  drawing = false;
  await Promise.all(drawers);
  const what = `slowest check-in while ${DRAWN_AT_ONCE} overviews of ${count} watches are drawn all the time`;
  table.figure(what, `${slowest.toFixed(0)} ms (${rest.toFixed(0)} at rest; ${drawn} drawn)`, 'under 100 ms');
  const parts = [
    product.process.pid!,
    Number(readFileSync(join(product.folder, 'desk.pid'), 'utf8')),
    product.enginePid(),
  ];
  const [door, desk, engine] = parts.map((pid) => rssMb(pid).toFixed(0));
  table.figure(
    `memory with ${count} watches after that: front door, desk, engine`,
    `${door}, ${desk}, ${engine} MB`,
    'stated',
  );
}

const MOST_LINES = 500;

/** A sheet of a public page as it is sent packed, drawn for nobody before. */
async function drawnPage(url: string): Promise<{ ms: number; kb: number }> {
  const started = performance.now();
  const answer = await new Promise<{ status: number; bytes: number }>((resolve, reject) => {
    const asked = http.get(url, { headers: { 'accept-encoding': 'gzip' } }, (response) => {
      let bytes = 0;
      response.on('data', (piece: Buffer) => (bytes += piece.length));
      response.on('end', () => resolve({ status: response.statusCode!, bytes }));
    });
    asked.on('error', reject);
  });
  if (answer.status !== 200) throw new Error(`Expected 200, got ${answer.status}`);
  return { ms: performance.now() - started, kb: answer.bytes / 1000 };
}

/** The first sheet there is, and others once whoever draws has begun: with and without the restless watch. */
async function publicPages(table: BenchTable, product: Product, count: number): Promise<void> {
  const lines = Math.min(count, MOST_LINES);
  const make = async (slug: string, ids: readonly number[]) => {
    const items = ids.map((id) => ({ watchIds: [id], label: `Line ${id}` }));
    const made = await product.api('POST', '/pages', {
      title: 'Ferries',
      slug,
      sections: [{ title: '', items }],
    });
    if (made.status !== 201) throw new Error(`Expected 201, got ${made.status}`);
    return `${product.base}/p/${slug}/`;
  };
  const all = Array.from({ length: lines }, (_, i) => i + 1);
  const restless = await make('ferries', all);
  const calm = await make(
    'calm',
    all.filter((id) => id !== RESTLESS),
  );
  const first = await drawnPage(restless);
  const told = ({ ms, kb }: { ms: number; kb: number }) => `${ms.toFixed(0)} ms, ${kb.toFixed(0)} kB`;
  const what = `public page of ${lines} lines over 90 days, drawn`;
  table.figure(`${what}, the first of all`, told(first), 'stated');
  table.figure(`${what}, one with 30,000 outages`, told(await drawnPage(`${restless}?lang=de`)), 'stated');
  table.figure(what, told(await drawnPage(`${calm}?lang=de`)), 'under 500 ms, 150 kB');
}

/** Many by many: made, changed, deleted, brought back. */
async function timeMany(product: Product, took: Map<string, number>): Promise<void> {
  const time = async (what: string, path: string, body: object) => {
    const started = performance.now();
    const answer = await product.api('POST', path, body);
    if (answer.status !== 200) throw new Error(`Expected 200 at ${path}, got ${answer.status}`);
    took.set(what, performance.now() - started);
    return answer.body as { id: number; deletedAt: string }[];
  };
  const watches = Array.from({ length: 1000 }, (_, i) => ({
    ...{ kind: 'web', name: `Many ${i}`, everySeconds: 86_400, settings: { address: 'http://127.0.0.1:9/' } },
  }));
  const ids = (await time('making 1,000 watches', '/watch-batches', { watches })).map(({ id }) => id);
  await time('changing 1,000 watches', '/watches/changes', { ids, secondLooks: 3, addTags: ['many'] });
  await time('deleting 1,000 watches', '/watches/changes', { ids, action: 'delete' });
  await time('bringing 1,000 watches back', '/deleted-watches/restores', { ids });
  await time('deleting them for good', '/watches/changes', { ids, action: 'delete' });
}

/** The rows of an overview, and the addresses of jobs among them and beside them. */
async function fetchTurning(folder: string, base: string) {
  const db = await openStore(folder, { migrate: false });
  const rows: number[] = await db('watches').whereNull('deleted_at').orderBy('id').limit(100).pluck('id');
  const keys = await db('watches')
    .whereNotNull('checkin_key')
    .whereNull('deleted_at')
    .pluck<string[]>('checkin_key');
  await db.destroy();
  return { rows, addresses: keys.map((key) => `${base}/in/${key}`) };
}

async function measure(table: BenchTable, count: number): Promise<Map<string, number>> {
  const store = await tempStore();
  const site = await startBare(['site']);
  await fill(store.db, count, `http://127.0.0.1:${site.port}/`);
  await fillExtremes(store.db, RESTLESS, TALKING);
  await store.db.destroy();
  const { product, cookie } = await startSignedIn(store.folder);
  const db = await openStore(store.folder, { migrate: false });
  const looked = async () => Number((await db('findings').count({ n: '*' }))[0]!.n);
  await until(async () => (await looked()) >= count * 0.8, 'all are looked at once', 180_000);
  await db.destroy();
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
  await publicPages(table, product, count);
  await besideChanges(table, count, product, took);
  await besideDrawing(table, count, product, cookie);
  await eightDesks(table, count, product, cookie, await fetchTurning(product.folder, product.base));
  await product.stop();
  site.process.kill();
  rmSync(store.folder, { recursive: true, force: true });
  return took;
}

/** What shows the same amount takes the same time, however much else there is. */
export async function scale(table: BenchTable): Promise<void> {
  const few = await measure(table, FEW);
  for (const count of MANY) {
    const many = await measure(table, count);
    for (const [what, ms] of many) {
      const aim = what === 'jobs' ? 4 : 1.5;
      table.ratio(`${what}, ms with ${count} watches and with ${FEW}`, ms, few.get(what)!, aim, 'at most');
    }
  }
}
