import type { Knex } from 'knex';
import {
  addToHistogram,
  decodeHistogram,
  emptyHistogram,
  encodeHistogram,
  type Histogram,
} from '../core/histogram';
import { withRawConnection, type Db } from './connection';
import { fetchSetting, saveSetting } from './settings';

export const HOUR_MS = 3_600_000;
const CURSOR = 'rollup_until';

interface Rollup {
  hour: number;
  fine: number;
  failed: number;
  times: Histogram;
}

/** Findings before this time are rolled up. */
export async function fetchRollupCursor(db: Db): Promise<number> {
  return Number((await fetchSetting(db, CURSOR)) ?? 0);
}

function rollUp(rows: readonly { at: number; verdict: number; us: number | null }[]): Rollup[] {
  const hours: Rollup[] = [];
  for (const row of rows) {
    const hour = Math.floor(row.at / HOUR_MS) * HOUR_MS;
    let open = hours.at(-1);
    if (open?.hour !== hour) {
      open = { hour, fine: 0, failed: 0, times: emptyHistogram() };
      hours.push(open);
    }
    if (row.verdict === 0) open.fine += 1;
    else open.failed += 1;
    if (row.verdict === 0 && row.us !== null) addToHistogram(open.times, row.us / 1000);
  }
  return hours;
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
    const read = raw.prepare<[number, number, number], { at: number; verdict: number; us: number | null }>(
      'SELECT at, verdict, us FROM findings WHERE watch_id = ? AND at >= ? AND at < ? ORDER BY at',
    );
    const write = raw.prepare(
      'INSERT OR REPLACE INTO rollups (watch_id, hour, fine, failed, histogram) VALUES (?, ?, ?, ?, ?)',
    );
    raw.transaction(() => {
      for (const { id } of watches) {
        for (const rollup of rollUp(read.all(id, from, to))) {
          write.run(id, rollup.hour, rollup.fine, rollup.failed, encodeHistogram(rollup.times));
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
  }));
}
