import { HOUR_MS } from '@/core/time/units';
import type { CauseCode, CauseDetail } from '@/core/causes/causes';
import type { Knex } from 'knex';
import type { Finding } from '@/core/causes/finding';
import type { Db } from '@/store/db/connection';
import { turnTo, type ListPage } from '@/store/db/list-page';
import { VERDICTS } from './recorder';
import { inSteps, spansOf } from '@/store/db/steps';

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

/** The findings of one watch. */
export async function fetchFindings(db: Db, watchId: number, page: ListPage): Promise<KeptFinding[]> {
  const query = turnTo(db('findings').where('watch_id', watchId), page, { at: 'at', id: 'at' });
  return (await query).map((row) => ({
    at: row.at,
    verdict: VERDICTS[row.verdict as 0] ?? 'failed',
    ms: row.us === null ? null : row.us / 1000,
    cause: row.cause as CauseCode | null,
    detail: row.detail ? (JSON.parse(row.detail) as CauseDetail) : null,
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
  return rows.flatMap((row) => (row.us === null ? [] : [{ at: row.at, ms: row.us / 1000 }]));
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

/** When the newest finding of all was made; null where there is none. */
export async function fetchNewestFindingAt(db: Db): Promise<number | null> {
  const row = await db('watch_status')
    .max({ at: db.raw("json_extract(last_finding, '$.at')") as never })
    .first();
  return row?.at === null || row?.at === undefined ? null : Number(row.at);
}

/** So much time of one watch's findings is deleted in one go. */
const PIECE_MS = 6 * HOUR_MS;

/** Deletes the findings of these watches older than `before`, in small steps; returns how many. */
export async function deleteFindingsBefore(
  db: Knex,
  watchIds: readonly number[],
  before: number,
): Promise<number> {
  let deleted = 0;
  const oldest = await oldestFindings(db, watchIds);
  function* pieces() {
    for (const [id, at] of oldest)
      for (const span of spansOf(at, before, PIECE_MS)) yield { id, to: span.to };
  }
  await inSteps(db, pieces(), (raw) => {
    const remove = raw.prepare('DELETE FROM findings WHERE watch_id = ? AND at < ?');
    return ({ id, to }) => {
      deleted += remove.run(id, to).changes;
    };
  });
  return deleted;
}

async function oldestFindings(db: Knex, watchIds: readonly number[]): Promise<Map<number, number>> {
  const oldest = new Map<number, number>();
  await inSteps(db, watchIds, (raw) => {
    const first = raw.prepare<[number], { at: number | null }>(
      'SELECT min(at) AS at FROM findings WHERE watch_id = ?',
    );
    return (id) => {
      const at = first.get(id)?.at;
      if (at !== null && at !== undefined) oldest.set(id, at);
    };
  });
  return oldest;
}
