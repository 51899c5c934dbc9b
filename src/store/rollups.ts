import type { Knex } from 'knex';
import {
  addToHistogram,
  decodeHistogram,
  emptyHistogram,
  encodeHistogram,
  type Histogram,
} from '../core/histogram';
import { withRawConnection, type Db } from './connection';
import { VERDICTS } from './recorder';
import { fetchSetting, saveSetting } from './settings';

export const HOUR_MS = 3_600_000;
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

/**
 * Rolls every whole hour before `until` up, once: a mergeable histogram of the fine findings' times, and
 * counts. Can be broken off and run again at any point.
 */
export async function saveRollups(db: Knex, until: number): Promise<void> {
  const to = Math.floor(until / HOUR_MS) * HOUR_MS;
  const from = await fetchRollupCursor(db);
  if (to <= from) return;
  await withRawConnection(db, (raw) => {
    const watches = raw.prepare<[], { id: number }>('SELECT id FROM watches ORDER BY id').all();
    const read = raw.prepare<[number, number, number], Row>(
      'SELECT at, verdict, us, value FROM findings WHERE watch_id = ? AND at >= ? AND at < ? ORDER BY at',
    );
    const write = raw.prepare(
      `INSERT OR REPLACE INTO rollups (watch_id, hour, fine, failed, histogram, least, most, total, read)
       VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)`,
    );
    raw.transaction(() => {
      for (const { id } of watches) {
        for (const rollup of rollUp(read.all(id, from, to))) {
          const { hour, fine, failed, times, readings: r } = rollup;
          const read = r ? [r.least, r.most, r.total, r.count] : [null, null, null, null];
          write.run(id, hour, fine, failed, encodeHistogram(times), ...read);
        }
      }
    })();
  });
  await saveSetting(db, CURSOR, String(to));
}

export async function fetchRollups(db: Db, watchId: number, from: number, to: number): Promise<Rollup[]> {
  const rows = await db('rollups')
    .where('watch_id', watchId)
    .andWhere('hour', '>=', from)
    .andWhere('hour', '<', to)
    .orderBy('hour');
  return rows.map((row) => ({
    hour: row.hour,
    fine: row.fine,
    failed: row.failed,
    times: decodeHistogram(row.histogram),
    readings: row.read ? { least: row.least, most: row.most, total: row.total, count: row.read } : null,
  }));
}
