import { DAY_MS, HOUR_MS } from '@/core/time/units';
import type Database from 'better-sqlite3';
import type { Knex } from 'knex';
import {
  addToHistogram,
  decodeHistogram,
  emptyHistogram,
  encodeHistogram,
  mergeHistograms,
  type Histogram,
} from '@/core/history/histogram';
import type { Db } from '@/store/db/connection';
import { VERDICTS } from './recorder';
import { fetchSetting, saveSetting } from '@/store/db/settings';
import { inSteps } from '@/store/db/steps';
import type { RollupRow } from '@/store/db/tables';

/** Findings of one watch that are rolled up in one go. */
const PIECE_MS = 6 * HOUR_MS;
const CURSOR = 'rollup_until';

interface Rollup {
  hour: number;
  fine: number;
  failed: number;
  times: Histogram;
  /** Readings of the hour: least, most, their sum, and how many; null where nothing was read. */
  readings: { least: number; most: number; total: number; count: number } | null;
}

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
    if (row.value !== null) open.readings = withReading(open.readings, row.value);
    if (fine && row.us !== null) addToHistogram(open.times, row.us / 1000);
  }
  return hours;
}

function withReading(readings: Rollup['readings'], value: number): NonNullable<Rollup['readings']> {
  if (!readings) return { least: value, most: value, total: value, count: 1 };
  return {
    least: Math.min(readings.least, value),
    most: Math.max(readings.most, value),
    total: readings.total + value,
    count: readings.count + 1,
  };
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

/** The rollups of one day put together. */
function mergeDay(day: number, hours: readonly Rollup[]): Rollup {
  return {
    hour: day,
    fine: hours.reduce((sum, h) => sum + h.fine, 0),
    failed: hours.reduce((sum, h) => sum + h.failed, 0),
    times: mergeHistograms(hours.map((h) => h.times)),
    readings: hours.reduce<Rollup['readings']>((sum, { readings: r }) => {
      if (!r || !sum) return r ?? sum;
      return {
        least: Math.min(sum.least, r.least),
        most: Math.max(sum.most, r.most),
        total: sum.total + r.total,
        count: sum.count + r.count,
      };
    }, null),
  };
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
  await rollUpDays(db, ids, from, Math.floor(to / DAY_MS) * DAY_MS);
  if (newest !== null) await saveSetting(db, CURSOR, String(Math.min(to, hourOf(newest) + HOUR_MS)));
}

/** The newest hour before a time that was rolled up; its findings are still there. */
async function lastHourBefore(db: Knex, time: number): Promise<number> {
  const row = await db('rollups').where('hour', '<', time).max({ hour: 'hour' }).first();
  return Number(row?.hour ?? 0);
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

/** Puts whole days (UTC) from the one of `from` on together from their hours. */
async function rollUpDays(db: Knex, ids: readonly number[], from: number, to: number): Promise<void> {
  await walkWatches(db, ids, Math.floor(from / DAY_MS) * DAY_MS, (raw) => {
    const read = raw.prepare<[number, number, number], RollupRow>(
      'SELECT * FROM rollups WHERE watch_id = ? AND hour >= ? AND hour < ? ORDER BY hour',
    );
    const first = raw.prepare<[number, number, number], { hour: number }>(
      'SELECT hour FROM rollups WHERE watch_id = ? AND hour >= ? AND hour < ? ORDER BY hour LIMIT 1',
    );
    const write = raw.prepare(WRITE('rollups_by_day'));
    return (id, after) => {
      const next = first.get(id, after, to);
      if (!next) return null;
      const day = Math.floor(next.hour / DAY_MS) * DAY_MS;
      const rows = read.all(id, day, day + DAY_MS);
      write.run(...valuesOf(id, mergeDay(day, rows.map(rollupOf))));
      return day + DAY_MS;
    };
  });
}

/** Deletes rollups, of hours and of days, older than `before`. */
export async function deleteRollupsBefore(db: Knex, before: number): Promise<void> {
  await inSteps(db, await fetchAllWatchIds(db), (raw) => {
    const removals = ['rollups', 'rollups_by_day'].map((table) =>
      raw.prepare(`DELETE FROM ${table} WHERE watch_id = ? AND hour < ?`),
    );
    return (id) => {
      for (const removal of removals) removal.run(id, before);
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

/** The rollups of one watch that begin in [from, to): of hours, or of whole days (UTC). */
export async function fetchRollups(
  db: Db,
  watchId: number,
  from: number,
  to: number,
  by: 'hour' | 'day' = 'hour',
): Promise<Rollup[]> {
  const rows = await db(by === 'hour' ? 'rollups' : 'rollups_by_day')
    .where('watch_id', watchId)
    .andWhere('hour', '>=', from)
    .andWhere('hour', '<', to)
    .orderBy('hour');
  return rows.map(rollupOf);
}
