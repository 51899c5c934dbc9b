import { HOUR_MS } from '@/core/time/units';
import { statSync } from 'node:fs';
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Finding } from '@/core/causes/finding';
import { encodeHistogram } from '@/core/history/histogram';
import { newStatus } from '@/core/lifecycle/status';
import {
  KEEP_DELETED_MS,
  fetchDeletedWatches,
  purgeWatches,
  fetchDeletedTogether,
  fetchRestorable,
  restoreWatches,
} from '@/store/watches/deleted-watches';
import { deleteEvidenceBefore, fetchEvidence } from '@/store/history/evidence';
import { deleteFindingsBefore, fetchFindings, fetchValues } from '@/store/history/findings';
import { Recorder } from '@/store/history/recorder';
import { deleteMessagesBefore, giveBackSpace } from '@/store/db/retention';
import {
  deleteRollupsBefore,
  fetchRollupCursor,
  fetchDays,
  fetchHours,
  saveRollups,
} from '@/store/history/rollups';
import {
  clearOutputsBefore,
  deleteReportsBefore,
  fetchReports,
  fetchReportTimes,
  saveReports,
} from '@/store/history/reports';
import { inSteps } from '@/store/db/steps';
import { openVault } from '@/store/db/vault';
import { deleteWatches, fetchWatch } from '@/store/watches/watches';
import { fetchColumns } from '@/views/history/columns';
import { fetchReadings } from '@/views/history/readings';
import { makeWatch, tempStore, webConfig, type TempStore } from '../helpers';

const DAY_MS = 24 * HOUR_MS;
const T0 = Date.parse('2026-11-01T00:00:00Z');

describe('what is kept for a time', () => {
  let store: TempStore;
  let id: number;

  beforeEach(async () => {
    store = await tempStore();
    id = await makeWatch(store.db, webConfig('http://site.test/'), { createdAt: T0 });
  });
  afterEach(() => store.close());

  /** A look every ten minutes for some days; every tenth fails, each fine one reads a number. */
  async function fill(days: number): Promise<void> {
    const recorder = new Recorder(store.db);
    const status = newStatus(T0);
    const findings = Array.from({ length: days * 144 }, (_, i): Finding => {
      const at = T0 + i * 600_000;
      return i % 10 === 9
        ? { at, ms: 9, verdict: 'failed', cause: 'port.refused', detail: { port: 80 } }
        : { at, ms: 100 + (i % 50), verdict: 'fine', evidence: { reading: { value: i % 24, unit: '°C' } } };
    });
    await recorder.save(findings.map((finding) => ({ watchId: id, status, events: [], finding })));
  }

  it('is rolled up by hour and by day, and days are their hours put together', async () => {
    await fill(3);
    await saveRollups(store.db, T0 + 2.5 * DAY_MS);
    const hours = await fetchHours(store.db, id, T0, T0 + 3 * DAY_MS);
    const days = await fetchDays(store.db, id, T0, T0 + 3 * DAY_MS);
    expect([hours.length, days.length]).toEqual([60, 2]);
    for (const day of days) {
      const own = hours.filter((h) => h.hour >= day.hour && h.hour < day.hour + DAY_MS);
      expect(own.reduce((sum, h) => sum + h.fine, 0)).toBe(day.fine);
      expect(own.reduce((sum, h) => sum + h.failed, 0)).toBe(day.failed);
      expect(own.reduce((sum, h) => sum + h.readings!.total, 0)).toBe(day.readings!.total);
      expect(day.times.count).toBe(day.fine);
    }
    expect(days[0]!.readings).toMatchObject({ least: 0, most: 23 });
    // Run again, nothing changes; run on, the third day follows.
    await saveRollups(store.db, T0 + 2.5 * DAY_MS);
    expect(await fetchHours(store.db, id, T0, T0 + 3 * DAY_MS)).toEqual(hours);
    await saveRollups(store.db, T0 + 3 * DAY_MS);
    expect(await fetchDays(store.db, id, T0, T0 + 3 * DAY_MS)).toHaveLength(3);
  });

  it('a day is one, whenever in it the first look was and the last rollup', async () => {
    const recorder = new Recorder(store.db);
    const look = (at: number) => ({ watchId: id, status: newStatus(T0), events: [], finding: fine(at) });
    const fine = (at: number): Finding => ({ at, ms: 5, verdict: 'fine' });
    const midnight = Math.floor(T0 / DAY_MS) * DAY_MS + DAY_MS;
    await recorder.save([look(midnight + 6.5 * HOUR_MS)]);
    await saveRollups(store.db, midnight + 8 * HOUR_MS);
    await recorder.save([look(midnight + 14.5 * HOUR_MS), look(midnight + DAY_MS + 1)]);
    await saveRollups(store.db, midnight + DAY_MS + 2 * HOUR_MS);
    const days = await fetchDays(store.db, id, midnight, midnight + 3 * DAY_MS);
    expect(days.map(({ hour, fine: count }) => [(hour - midnight) / DAY_MS, count])).toEqual([[0, 2]]);
  });

  it('charts of a year take whole days, and say the same as the hours', async () => {
    await fill(3);
    await saveRollups(store.db, T0 + 3 * DAY_MS);
    const from = T0 - 2 * HOUR_MS;
    const wide = await fetchColumns(store.db, id, from, T0 + 2.5 * DAY_MS, 48 * HOUR_MS);
    expect(wide).toHaveLength(2 + 12);
    const fine = (rollups: { fine: number }[]) => rollups.reduce((sum, r) => sum + r.fine, 0);
    expect(fine(wide)).toBe(fine(await fetchColumns(store.db, id, from, T0 + 2.5 * DAY_MS, 12 * HOUR_MS)));
    const range = { from: T0, to: T0 + 3 * DAY_MS };
    const readings = await fetchReadings(store.db, id, range, 12 * HOUR_MS);
    expect(readings).toHaveLength(6);
    expect(readings[0]).toMatchObject({ least: 0, most: 23 });
    const exact = await fetchValues(store.db, id, T0, T0 + DAY_MS / 2);
    expect(readings[0]!.mean).toBeCloseTo(exact.reduce((sum, v) => sum + v.value, 0) / exact.length, 9);
  });

  it('hours are packed once their day is over, and say the same; one that comes late is added', async () => {
    await fill(3);
    await saveRollups(store.db, T0 + 0.9 * DAY_MS);
    const loose = await fetchHours(store.db, id, T0, T0 + 3 * DAY_MS);
    expect([loose.length, await store.db('packed_hours')]).toEqual([21, []]);
    await saveRollups(store.db, T0 + 2.5 * DAY_MS);
    const rows = async (table: 'rollups' | 'packed_hours') =>
      Number((await store.db(table).count({ n: '*' }))[0]!.n);
    expect([await rows('packed_hours'), await rows('rollups')]).toEqual([2, 12]);
    const packed = (await fetchHours(store.db, id, T0, T0 + 3 * DAY_MS)).slice(0, loose.length);
    const told = (list: typeof loose) =>
      list.map(({ hour, fine, failed, readings, times }) => [hour, fine, failed, readings, times.buckets]);
    expect(told(packed)).toEqual(told(loose));
    // Asked for a piece of a day, that piece is answered.
    const piece = await fetchHours(store.db, id, T0 + 5 * HOUR_MS, T0 + 7 * HOUR_MS);
    expect(piece.map(({ hour }) => (hour - T0) / HOUR_MS)).toEqual([5, 6]);
    // The clock was ahead when a day was packed, and is back: what came since belongs to that day.
    const late = { watchId: id, status: newStatus(T0), events: [] };
    const findings = [1, 2].map((i): Finding => ({ at: T0 + 9.5 * HOUR_MS + i, ms: 5, verdict: 'fine' }));
    await new Recorder(store.db).save(findings.map((finding) => ({ ...late, finding })));
    await store
      .db('settings')
      .where({ key: 'rollup_until' })
      .update({ value: String(T0 + 9 * HOUR_MS) });
    await saveRollups(store.db, T0 + 2.5 * DAY_MS);
    const [first] = await fetchDays(store.db, id, T0, T0 + DAY_MS);
    expect(first!.fine).toBe(loose.reduce((sum, hour) => sum + hour.fine, 0) + 2 + 3 * 6 - 2);
    const hour = (await fetchHours(store.db, id, T0, T0 + DAY_MS))[9]!;
    expect([hour.fine, await rows('packed_hours'), await rows('rollups')]).toEqual([7, 2, 12]);
  });

  it('what was packed before there was such a thing is packed with the rest', async () => {
    await fill(3);
    await saveRollups(store.db, T0 + 2 * DAY_MS);
    const hours = await fetchHours(store.db, id, T0, T0 + 2 * DAY_MS);
    await store.db('packed_hours').delete();
    const rows = hours.map(({ hour, fine, failed, times }) => ({
      ...{ watch_id: id, hour, fine, failed, histogram: encodeHistogram(times) },
      ...{ least: null, most: null, total: null, read: null },
    }));
    await store.db.batchInsert('rollups', rows, 50);
    await saveRollups(store.db, T0 + 2.1 * DAY_MS);
    expect(await store.db('packed_hours').pluck('day')).toEqual([T0, T0 + DAY_MS]);
    expect((await fetchHours(store.db, id, T0, T0 + 2 * DAY_MS)).map((h) => h.fine)).toEqual(
      hours.map((h) => h.fine),
    );
  });

  it('hours go before days do, and charts show the day in their place', async () => {
    await fill(3);
    await saveRollups(store.db, T0 + 3 * DAY_MS);
    const range = { from: T0, to: T0 + 3 * DAY_MS };
    const all = (await fetchColumns(store.db, id, range.from, range.to, HOUR_MS)).reduce(
      (n, r) => n + r.fine,
      0,
    );
    await deleteRollupsBefore(store.db, { hours: T0 + 1.5 * DAY_MS, days: T0 });
    const columns = await fetchColumns(store.db, id, range.from, range.to, HOUR_MS);
    // The second day is kept whole until all of it is that old.
    expect(columns.map(({ hour }) => (hour - T0) / HOUR_MS)).toEqual([
      0,
      ...Array.from({ length: 48 }, (_, i) => 24 + i),
    ]);
    expect(columns.reduce((n, r) => n + r.fine, 0)).toBe(all);
  });

  it('findings and rollups go at their time, and not before', async () => {
    await fill(3);
    await saveRollups(store.db, T0 + 3 * DAY_MS);
    expect(await deleteFindingsBefore(store.db, [id, 999], T0 + DAY_MS)).toBe(144);
    expect((await fetchFindings(store.db, id, { limit: 1000 })).at(-1)!.at).toBe(T0 + DAY_MS);
    await deleteRollupsBefore(store.db, { hours: T0 + DAY_MS, days: T0 + DAY_MS });
    expect((await fetchHours(store.db, id, T0, T0 + 3 * DAY_MS))[0]!.hour).toBe(T0 + DAY_MS);
    expect(await fetchDays(store.db, id, T0, T0 + 3 * DAY_MS)).toHaveLength(2);
  });

  it('runs stay when their output goes, and go themselves long after, only as far as the engine has come', async () => {
    const at = (day: number) => T0 + day * DAY_MS;
    const report = (day: number) => ({
      watchId: id,
      at: at(day),
      kind: 'done' as const,
      code: 0,
      run: null,
      method: 'POST',
      address: '127.0.0.1',
      output: `day ${day}`,
    });
    await saveReports(
      store.db,
      Array.from({ length: 1200 }, (_, i) => report(Math.floor(i / 100))),
    );
    await clearOutputsBefore(store.db, at(5));
    const kept = await fetchReports(store.db, id, { limit: 5000 });
    expect(kept).toHaveLength(1200);
    expect(kept.filter((one) => one.output === null)).toHaveLength(500);
    await deleteReportsBefore(store.db, at(3), 250);
    expect(await fetchReports(store.db, id, { limit: 5000 })).toHaveLength(950);
    await deleteReportsBefore(store.db, at(3), 5000);
    expect(await fetchReports(store.db, id, { limit: 5000 })).toHaveLength(900);
    expect(await fetchReportTimes(store.db, id, at(10), 50)).toHaveLength(50);
  });

  it('work is cut into steps by the clock, each piece done once', async () => {
    let clock = 0;
    const done: number[] = [];
    const pieces = Array.from({ length: 100 }, (_, i) => i);
    const steps = await inSteps(
      store.db,
      pieces,
      () => (piece) => {
        done.push(piece);
        clock += 4;
      },
      () => clock,
    );
    expect(done).toEqual(pieces);
    // Four pieces of four milliseconds fill a step of fifteen.
    expect(steps).toBe(26);
  });

  it('whoever reads and then writes is not refused while another process writes', async () => {
    const writer = new Worker(
      `const Database = require('better-sqlite3');
       const { workerData, parentPort } = require('node:worker_threads');
       const db = new Database(workerData.file, { timeout: 5000 });
       const end = Date.now() + 1500;
       const put = db.prepare("INSERT OR REPLACE INTO settings (key, value) VALUES ('noise', ?)");
       const turn = () => (Date.now() < end ? (put.run(String(Math.random())), setImmediate(turn)) : parentPort.postMessage('done'));
       turn();`,
      { eval: true, workerData: { file: join(store.folder, 'lantern.db') } },
    );
    let noisy = true;
    writer.once('message', () => (noisy = false));
    let made = 0;
    for (; noisy && made < 2000; made += 1) {
      await makeWatch(store.db, webConfig(`http://site.test/${made}`));
      // The driver is synchronous: without a breath, the end would never be heard of.
      await new Promise((resolve) => setImmediate(resolve));
    }
    expect(made).toBeGreaterThan(0);
    expect(await store.db('watches')).toHaveLength(made + 1);
    await writer.terminate();
  });

  it('evidence goes with its findings, but stays with an outage', async () => {
    const recorder = new Recorder(store.db);
    const failing = (at: number) => ({
      watchId: id,
      status: newStatus(T0),
      events: [],
      keepEvidence: {
        at,
        ms: 1,
        verdict: 'failed' as const,
        cause: 'port.refused' as const,
        detail: { port: 80 },
      },
    });
    await recorder.save([
      failing(T0 + 1000),
      {
        ...failing(T0 + 60_000),
        events: [
          {
            type: 'outage-began',
            began: T0 + 60_000,
            noticed: T0 + 70_000,
            cause: 'port.refused',
            detail: { port: 80 },
          },
        ],
      },
    ]);
    await deleteEvidenceBefore(store.db, [id], T0 + DAY_MS);
    expect((await fetchEvidence(store.db, id, { limit: 9 })).map((kept) => kept.at)).toEqual([T0 + 60_000]);
  });

  it('evidence of thirty thousand outages is gone through once, in small steps', async () => {
    const outages: object[] = [];
    const evidence: object[] = [];
    for (let i = 0; i < 30_000; i += 1) {
      const began = T0 + i * 60_000;
      const row = { watch_id: id, cause: 'port.refused', detail: '{}' };
      outages.push({ ...row, began, noticed: began, ended: began + 20_000, causes: '[]' });
      evidence.push({ ...row, at: began, evidence: '{}' }, { ...row, at: began + 30_000, evidence: '{}' });
    }
    await store.db.raw('PRAGMA synchronous = OFF');
    await store.db.transaction(async (trx) => {
      await trx.batchInsert('outages', outages, 100);
      await trx.batchInsert('evidence', evidence, 100);
    });
    const BUSY_MS = 10_000;
    const other = new Worker(
      `const D=require('better-sqlite3');const {parentPort,workerData}=require('worker_threads');
       const d=new D(workerData);d.pragma('busy_timeout = ${BUSY_MS}');let most=0,stop=false;
       parentPort.once('message',()=>{stop=true});
       (function turn(){const t=performance.now();d.exec('BEGIN IMMEDIATE; ROLLBACK');most=Math.max(most,performance.now()-t);
       if(stop)parentPort.postMessage(most);else setTimeout(turn,2)})();`,
      { eval: true, workerData: join(store.folder, 'lantern.db') },
    );
    const count = async () => Number((await store.db('evidence').count({ n: '*' }).first())!.n);
    const began = performance.now();
    await deleteEvidenceBefore(store.db, [id], T0 + 40 * DAY_MS);
    const whole = performance.now() - began;
    expect(await count()).toBe(30_000);
    // Nothing is gone through twice, however often it is asked.
    const again = performance.now();
    for (let i = 0; i < 20; i += 1) await deleteEvidenceBefore(store.db, [id], T0 + 40 * DAY_MS + i);
    const once = performance.now() - again;
    const longest = await new Promise<number>((resolve) => {
      other.once('message', resolve);
      other.postMessage('stop');
    });
    await other.terminate();
    // Nobody gives up waiting for it; and twenty times nothing is less than once all of it, however slow the machine.
    expect(longest).toBeLessThan(BUSY_MS);
    expect(once).toBeLessThan(5 * whole);
  });

  it('a clock that was wrong by years for a while costs no history, and is no end of rolling up', async () => {
    await fill(3);
    const wrong = T0 + 3 * 365 * DAY_MS;
    await saveRollups(store.db, wrong);
    // Never beyond the newest of what there is.
    expect(await fetchRollupCursor(store.db)).toBe(T0 + 3 * DAY_MS);
    const recorder = new Recorder(store.db);
    const at = (time: number) => ({
      watchId: id,
      status: newStatus(T0),
      events: [],
      finding: { at: time, ms: 100, verdict: 'fine' as const },
    });
    // Looks by the wrong clock, then by the right one again.
    await recorder.save([at(wrong), at(wrong + 60_000)]);
    await saveRollups(store.db, wrong + 2 * HOUR_MS);
    expect(await fetchRollupCursor(store.db)).toBeGreaterThan(wrong);
    await recorder.save([at(T0 + 3 * DAY_MS + 1000), at(T0 + 3 * DAY_MS + HOUR_MS + 1000)]);
    await saveRollups(store.db, T0 + 3 * DAY_MS + HOUR_MS);
    expect(await fetchRollupCursor(store.db)).toBeLessThanOrEqual(T0 + 3 * DAY_MS + HOUR_MS);
    await saveRollups(store.db, T0 + 3 * DAY_MS + 2 * HOUR_MS);
    const hours = await fetchHours(store.db, id, T0, T0 + 4 * DAY_MS);
    expect(hours.map((hour) => hour.fine + hour.failed).reduce((a, b) => a + b, 0)).toBe(3 * 144 + 2);
  });

  it('messages go with their deliveries after their time, but for what still waits; the file grows smaller', async () => {
    const [channel] = await store.db('channels').insert({
      kind: 'webhook',
      name: 'Crew room',
      settings: '{}',
      created_at: T0,
    });
    const text = JSON.stringify({ title: 'x'.repeat(2000), lines: [], link: '' });
    const messages = Array.from({ length: 12_000 }, (_, i) => ({ kind: 'down', text, created_at: T0 + i }));
    await store.db.batchInsert('messages', messages, 100);
    await store.db.batchInsert(
      'deliveries',
      messages.map((_, i) => ({
        message_id: i + 1,
        channel_id: channel,
        state: i === 5 ? 'waiting' : 'delivered',
        attempts: 1,
        next_at: T0,
      })),
      100,
    );
    await store.db.batchInsert(
      'attempts',
      messages.map((_, i) => ({ delivery_id: i + 1, at: T0, ok: true, said: '200' })),
      100,
    );
    await store.db('line_losses').insert([
      { began: T0, ended: T0 + 1000 },
      { began: T0, ended: null },
    ]);
    const size = async () => {
      await store.db.raw('PRAGMA wal_checkpoint(TRUNCATE)');
      return statSync(join(store.folder, 'lantern.db')).size;
    };
    const before = await size();
    await deleteMessagesBefore(store.db, T0 + 11_990);
    const counts = await Promise.all(
      ['messages', 'deliveries', 'attempts', 'line_losses'].map(async (table) =>
        Number((await store.db(table).count({ n: '*' }).first())!.n),
      ),
    );
    expect(counts).toEqual([11, 11, 11, 1]);
    await giveBackSpace(store.db);
    expect(await size()).toBeLessThan(before / 2);
  });

  it('a deleted watch can be brought back with its history for seven days, then all of it goes', async () => {
    await fill(2);
    await saveRollups(store.db, T0 + 2 * DAY_MS);
    const deleted = T0 + 2 * DAY_MS;
    await deleteWatches(store.db, [id], deleted);
    expect(await fetchWatch(store.db, id)).toBeNull();
    expect(await fetchDeletedWatches(store.db, deleted + 1)).toMatchObject([
      { id, name: 'Booking site', deletedAt: deleted },
    ]);
    await purgeWatches(store.db, deleted - 1);
    expect([...(await fetchRestorable(store.db, [id, 999], deleted + KEEP_DELETED_MS - 1))]).toEqual([
      [id, 'Booking site'],
    ]);
    expect(await fetchDeletedTogether(store.db, deleted)).toEqual([id]);
    await restoreWatches(store.db, [id]);
    expect((await fetchWatch(store.db, id))!.name).toBe('Booking site');
    expect(await fetchFindings(store.db, id, { limit: 1000 })).toHaveLength(288);

    await deleteWatches(store.db, [id], deleted);
    expect((await fetchRestorable(store.db, [id], deleted + KEEP_DELETED_MS + 1)).size).toBe(0);
    await purgeWatches(store.db, deleted + 1);
    for (const table of [
      'watches',
      'watch_status',
      'stretches',
      'findings',
      'rollups',
      'rollups_by_day',
      'packed_hours',
    ]) {
      expect(await store.db(table), table).toEqual([]);
    }
  });
});

describe('secrets in the database', () => {
  it('are sealed with a key of their own, and opened by no other', async () => {
    const [one, other] = [await tempStore(), await tempStore()];
    const vault = openVault(one.folder);
    const sealed = vault.seal('the boats sail at dawn');
    expect(sealed).not.toContain('boats');
    expect(vault.seal('the boats sail at dawn')).not.toBe(sealed);
    expect(vault.open(sealed)).toBe('the boats sail at dawn');
    expect(openVault(one.folder).open(sealed)).toBe('the boats sail at dawn');
    expect([vault.seal(''), vault.open('never sealed')]).toEqual(['', 'never sealed']);
    expect(() => openVault(other.folder).open(sealed)).toThrow('cannot be opened');
    const bytes = Buffer.from(sealed.slice('sealed:1:'.length), 'base64url');
    for (const at of bytes.keys()) {
      const changed = Buffer.from(bytes);
      changed[at]! ^= 1;
      expect(() => vault.open(`sealed:1:${changed.toString('base64url')}`)).toThrow('cannot be opened');
    }
    await one.close();
    await other.close();
  });
});
