import type { CauseCode, CauseDetail } from '../core/causes';
import type { Knex } from 'knex';
import type { Finding } from '../core/finding';
import { withRawConnection, type Db } from './connection';
import { VERDICTS } from './recorder';

/** A finding as it is kept: the phases of older ones are not. */
export interface KeptFinding {
  at: number;
  verdict: Finding['verdict'];
  /** Milliseconds, or null where none was measured. */
  ms: number | null;
  cause: CauseCode | null;
  detail: CauseDetail | null;
  /** The number that was read, where the watch reads one. */
  value: number | null;
}

/** The findings of one watch before a time, the newest first. */
export async function fetchFindings(
  db: Db,
  watchId: number,
  page: { before?: number; limit: number },
): Promise<KeptFinding[]> {
  const query = db('findings').where('watch_id', watchId).orderBy('at', 'desc').limit(page.limit);
  if (page.before !== undefined) query.where('at', '<', page.before);
  return (await query).map((row) => ({
    at: row.at,
    verdict: VERDICTS[row.verdict as 0] ?? 'failed',
    ms: row.us === null ? null : row.us / 1000,
    cause: row.cause,
    detail: row.detail ? JSON.parse(row.detail) : null,
    value: row.value,
  }));
}

/** Response times of fine findings in [from, to), oldest first. */
export async function fetchTimes(
  db: Db,
  watchId: number,
  from: number,
  to: number,
): Promise<{ at: number; ms: number }[]> {
  const rows = await db('findings')
    .where('watch_id', watchId)
    .andWhere('at', '>=', from)
    .andWhere('at', '<', to)
    .andWhereNot('verdict', VERDICTS.indexOf('failed'))
    .whereNotNull('us')
    .orderBy('at')
    .select('at', 'us');
  return rows.map((row) => ({ at: row.at, ms: row.us / 1000 }));
}

/** What was read in [from, to), oldest first. */
export async function fetchValues(
  db: Db,
  watchId: number,
  from: number,
  to: number,
): Promise<{ at: number; value: number }[]> {
  return db('findings')
    .where('watch_id', watchId)
    .andWhere('at', '>=', from)
    .andWhere('at', '<', to)
    .whereNotNull('value')
    .orderBy('at')
    .select('at', 'value');
}

const WATCHES_AT_ONCE = 200;

/** Deletes the findings of these watches older than `before`, in short transactions; returns how many. */
export async function deleteFindingsBefore(
  db: Knex,
  watchIds: readonly number[],
  before: number,
): Promise<number> {
  let deleted = 0;
  for (let i = 0; i < watchIds.length; i += WATCHES_AT_ONCE) {
    deleted += await withRawConnection(db, (raw) => {
      const remove = raw.prepare('DELETE FROM findings WHERE watch_id = ? AND at < ?');
      return raw.transaction(() =>
        watchIds
          .slice(i, i + WATCHES_AT_ONCE)
          .reduce((sum, watchId) => sum + remove.run(watchId, before).changes, 0),
      )();
    });
    // Others may want the connection too.
    await new Promise((resolve) => setImmediate(resolve));
  }
  return deleted;
}
