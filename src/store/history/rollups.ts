import { DAY_MS, HOUR_MS } from '@/core/time/units';
import type Database from 'better-sqlite3';
import type { Knex } from 'knex';
import { addToHistogram, decodeHistogram, emptyHistogram, encodeHistogram } from '@/core/history/histogram';
import { mergeReadings, mergeRollups, type Rollup } from '@/core/history/rollup';
import type { Db } from '@/store/db/connection';
import { fetchLastPackedDay, fetchPackedHours, packer, withLate } from './packed-hours';
import { VERDICTS } from './recorder';
import { fetchSetting, saveSetting } from '@/store/db/settings';
import { inSteps } from '@/store/db/steps';
import type { RollupRow } from '@/store/db/tables';

/** Findings of one watch that are rolled up in one go. */
const PIECE_MS = 6 * HOUR_MS;
const CURSOR = 'rollup_until';

/** Findings before this time are rolled up. */
export async function fetchRollupCursor(db: Db): Promise<number> {
  return Number((await fetchSetting(db, CURSOR)) ?? 0);
}

interface Row {
  at: number;
  verdict: number;
  us: number | null;
  value: number | null;
}

function rollUp(rows: readonly Row[]): Rollup[] {
  const hours: Rollup[] = [];
  for (const row of rows) {
    const hour = Math.floor(row.at / HOUR_MS) * HOUR_MS;
    let open = hours.at(-1);
    if (open?.hour !== hour) {
      open = { hour, fine: 0, failed: 0, times: emptyHistogram(), readings: null };
      hours.push(open);
    }
    const fine = row.verdict !== VERDICTS.indexOf('failed');
    if (fine) open.fine += 1;
    else open.failed += 1;
    if (row.value !== null) {
      const { value } = row;
      open.readings = mergeReadings(open.readings, { least: value, most: value, total: value, count: 1 });
    }
    if (fine && row.us !== null) addToHistogram(open.times, row.us / 1000);
  }
  return hours;
}

const WRITE = (table: string) =>
  `INSERT OR REPLACE INTO ${table} (watch_id, hour, fine, failed, histogram, least, most, total, read)
   VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)`;

function valuesOf(watchId: number, { hour, fine, failed, times, readings: r }: Rollup): unknown[] {
  const read = r ? [r.least, r.most, r.total, r.count] : [null, null, null, null];
  return [watchId, hour, fine, failed, encodeHistogram(times), ...read];
}

async function fetchAllWatchIds(db: Knex): Promise<number[]> {
  return db('watches').orderBy('id').pluck('id');
}

/**
 * Rolls every whole hour before `until` up, once: a mergeable histogram of the fine findings' times, counts and
 * readings; then every whole day (UTC) from its hours. Works in small steps; can be broken off and run again at any
 * point, as the cursor moves when all is written, and never beyond the newest of what there is.
 */
export async function saveRollups(db: Knex, until: number): Promise<void> {
  const to = Math.floor(until / HOUR_MS) * HOUR_MS;
  const kept = await fetchRollupCursor(db);
  // A clock that was wrong for a while may have taken it ahead of all that is: what came since is rolled up, from the
  // last hour on that was before.
  const from = kept <= to ? kept : await lastHourBefore(db, to);
  if (from < kept) await saveSetting(db, CURSOR, String(from));
  if (to <= from) return;
  const ids = await fetchAllWatchIds(db);
  const newest = await rollUpHours(db, ids, from, to);
  await rollUpDays(db, ids, Math.floor(to / DAY_MS) * DAY_MS);
  if (newest !== null) await saveSetting(db, CURSOR, String(Math.min(to, hourOf(newest) + HOUR_MS)));
}

/** The newest hour before a time that was rolled up, or the day it is packed in; its findings are still there. */
async function lastHourBefore(db: Knex, time: number): Promise<number> {
  const row = await db('rollups').where('hour', '<', time).max({ hour: 'hour' }).first();
  const packed = await fetchLastPackedDay(db, time);
  return Math.max(Number(row?.hour ?? 0), packed ?? 0);
}

function hourOf(at: number): number {
  return Math.floor(at / HOUR_MS) * HOUR_MS;
}

/**
 * Goes through what there is of each watch in [from, to), piece after piece, without a step for time in which there is
 * nothing: a clock that was wrong for a while may leave years of that.
 */
async function walkWatches(
  db: Knex,
  ids: readonly number[],
  from: number,
  prepare: (raw: Database.Database) => (id: number, from: number) => number | null,
): Promise<void> {
  let at = from;
  function* pieces() {
    for (const id of ids) for (at = from; at !== Infinity;) yield id;
  }
  await inSteps(db, pieces(), (raw) => {
    const work = prepare(raw);
    return (id) => {
      at = work(id, at) ?? Infinity;
    };
  });
}

/** Rolls findings up by hour; answers when the newest of them was made, null where there was none. */
async function rollUpHours(
  db: Knex,
  ids: readonly number[],
  from: number,
  to: number,
): Promise<number | null> {
  let newest: number | null = null;
  await walkWatches(db, ids, from, (raw) => {
    const first = raw.prepare<[number, number, number], { at: number }>(
      'SELECT at FROM findings WHERE watch_id = ? AND at >= ? AND at < ? ORDER BY at LIMIT 1',
    );
    const read = raw.prepare<[number, number, number], Row>(
      'SELECT at, verdict, us, value FROM findings WHERE watch_id = ? AND at >= ? AND at < ? ORDER BY at',
    );
    const write = raw.prepare(WRITE('rollups'));
    return (id, after) => {
      const next = first.get(id, after, to);
      if (!next) return null;
      const begin = hourOf(next.at);
      const end = Math.min(to, begin + PIECE_MS);
      const rows = read.all(id, begin, end);
      for (const rollup of rollUp(rows)) write.run(...valuesOf(id, rollup));
      newest = Math.max(newest ?? 0, rows.at(-1)!.at);
      return end;
    };
  });
  return newest;
}

/**
 * Puts whole days (UTC) together from their hours, which are packed then: a day of them takes a third of what they
 * take one by one. Hours that come late are added to the others.
 */
async function rollUpDays(db: Knex, ids: readonly number[], to: number): Promise<void> {
  await walkWatches(db, ids, 0, (raw) => {
    const read = raw.prepare<[number, number, number], RollupRow>(
      'SELECT * FROM rollups WHERE watch_id = ? AND hour >= ? AND hour < ? ORDER BY hour',
    );
    const first = raw.prepare<[number, number], { hour: number }>(
      'SELECT hour FROM rollups WHERE watch_id = ? AND hour < ? ORDER BY hour LIMIT 1',
    );
    const write = raw.prepare(WRITE('rollups_by_day'));
    const loose = raw.prepare('DELETE FROM rollups WHERE watch_id = ? AND hour >= ? AND hour < ?');
    const pack = packer(raw);
    return (id) => {
      const next = first.get(id, to);
      if (!next) return null;
      const day = Math.floor(next.hour / DAY_MS) * DAY_MS;
      const hours = pack.add(id, day, read.all(id, day, day + DAY_MS).map(rollupOf));
      write.run(...valuesOf(id, mergeRollups(day, hours)));
      loose.run(id, day, day + DAY_MS);
      return day + DAY_MS;
    };
  });
}

/** Deletes hours older than the one time, days older than the other. */
export async function deleteRollupsBefore(db: Knex, before: { hours: number; days: number }): Promise<void> {
  await inSteps(db, await fetchAllWatchIds(db), (raw) => {
    const loose = raw.prepare('DELETE FROM rollups WHERE watch_id = ? AND hour < ?');
    const packed = raw.prepare('DELETE FROM packed_hours WHERE watch_id = ? AND day <= ?');
    const days = raw.prepare('DELETE FROM rollups_by_day WHERE watch_id = ? AND hour < ?');
    return (id) => {
      loose.run(id, before.hours);
      // A day goes once all of it is that old.
      packed.run(id, before.hours - DAY_MS);
      days.run(id, before.days);
    };
  });
}

function rollupOf(row: RollupRow): Rollup {
  return {
    hour: row.hour,
    fine: row.fine,
    failed: row.failed,
    times: decodeHistogram(row.histogram),
    readings: row.read ? { least: row.least!, most: row.most!, total: row.total!, count: row.read } : null,
  };
}

/** What was rolled up of whole days (UTC) that begin in [from, to). */
export async function fetchDays(db: Db, watchId: number, from: number, to: number): Promise<Rollup[]> {
  return (await rowsOf(db, 'rollups_by_day', watchId, from, to)).map(rollupOf);
}

/** What was rolled up of hours that begin in [from, to), packed or not. */
export async function fetchHours(db: Db, watchId: number, from: number, to: number): Promise<Rollup[]> {
  // In this order: what is packed meanwhile is seen twice, and not missed.
  const loose = (await rowsOf(db, 'rollups', watchId, from, to)).map(rollupOf);
  return withLate(await fetchPackedHours(db, watchId, from, to), loose);
}

function rowsOf(
  db: Db,
  table: 'rollups' | 'rollups_by_day',
  watchId: number,
  from: number,
  to: number,
): Promise<RollupRow[]> {
  return db(table)
    .where('watch_id', watchId)
    .andWhere('hour', '>=', from)
    .andWhere('hour', '<', to)
    .orderBy('hour');
}
