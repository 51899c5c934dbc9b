import type { Knex } from 'knex';
import {
  addToHistogram,
  decodeHistogram,
  emptyHistogram,
  encodeHistogram,
  mergeHistograms,
  type Histogram,
} from '../core/histogram';
import type { Db } from './connection';
import { VERDICTS } from './recorder';
import { fetchSetting, saveSetting } from './settings';
import { inSteps, spansOf } from './steps';

export const HOUR_MS = 3_600_000;
export const DAY_MS = 24 * HOUR_MS;
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
  return (await db('watches').orderBy('id').select('id')).map((row) => row.id as number);
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
 * point, as the cursor moves when all is written.
 */
export async function saveRollups(db: Knex, until: number): Promise<void> {
  const to = Math.floor(until / HOUR_MS) * HOUR_MS;
  const from = await fetchRollupCursor(db);
  if (to <= from) return;
  const ids = await fetchAllWatchIds(db);
  const first = await db('findings').where('at', '>=', from).min({ at: 'at' }).first();
  const begin = Math.floor(Math.max(from, Number(first?.at ?? to)) / HOUR_MS) * HOUR_MS;
  function* hourPieces() {
    for (const id of ids) for (const span of spansOf(begin, to, PIECE_MS)) yield { id, ...span };
  }
  await inSteps(db, hourPieces(), (raw) => {
    const read = raw.prepare<[number, number, number], Row>(
      'SELECT at, verdict, us, value FROM findings WHERE watch_id = ? AND at >= ? AND at < ? ORDER BY at',
    );
    const write = raw.prepare(WRITE('rollups'));
    return (piece) => {
      for (const rollup of rollUp(read.all(piece.id, piece.from, piece.to))) {
        write.run(...valuesOf(piece.id, rollup));
      }
    };
  });
  const lastDay = Math.floor(to / DAY_MS) * DAY_MS;
  function* dayPieces() {
    const day = Math.floor(begin / DAY_MS) * DAY_MS;
    for (const id of ids) for (const span of spansOf(day, lastDay, DAY_MS)) yield { id, ...span };
  }
  await inSteps(db, dayPieces(), (raw) => {
    const read = raw.prepare<[number, number, number], RollupRow>(
      'SELECT * FROM rollups WHERE watch_id = ? AND hour >= ? AND hour < ? ORDER BY hour',
    );
    const write = raw.prepare(WRITE('rollups_by_day'));
    return (piece) => {
      const rows = read.all(piece.id, piece.from, piece.to);
      if (rows.length > 0) write.run(...valuesOf(piece.id, mergeDay(piece.from, rows.map(rollupOf))));
    };
  });
  await saveSetting(db, CURSOR, String(to));
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

interface RollupRow {
  hour: number;
  fine: number;
  failed: number;
  histogram: Buffer;
  least: number | null;
  most: number | null;
  total: number | null;
  read: number | null;
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
  return (rows as RollupRow[]).map(rollupOf);
}
