import type { Knex } from 'knex';
import type { Db } from './connection';
import { inSteps } from './steps';

/** A deleted watch can be brought back for this long. */
export const KEEP_DELETED_MS = 7 * 86_400_000;

export interface DeletedWatch {
  id: number;
  name: string;
  kind: string;
  deletedAt: number;
}

/** Watches that were deleted and can still be brought back, the last one first. */
export async function fetchDeletedWatches(db: Db, now: number): Promise<DeletedWatch[]> {
  return db('watches')
    .where('deleted_at', '>', now - KEEP_DELETED_MS)
    .orderBy('deleted_at', 'desc')
    .select('id', 'name', 'kind', 'deleted_at as deletedAt');
}

/** Brings a deleted watch back with its history; false where there is none, or not any more. */
export async function restoreWatch(db: Db, id: number, now: number): Promise<boolean> {
  const changed = await db('watches')
    .where({ id })
    .andWhere('deleted_at', '>', now - KEEP_DELETED_MS)
    .update({ deleted_at: null });
  return changed > 0;
}

const TABLES = [
  'findings',
  'rollups',
  'rollups_by_day',
  'stretches',
  'outages',
  'evidence',
  'reports',
  'watch_status',
];
const ROWS_AT_ONCE = 2000;

/** Lets go for good of what was deleted before a time, in small steps. */
export async function purgeWatches(db: Knex, before: number): Promise<void> {
  const ids = (await db('watches').where('deleted_at', '<', before).select('id')).map(
    (row) => row.id as number,
  );
  for (const id of ids) {
    for (const table of TABLES) {
      let left = true;
      function* again() {
        while (left) yield table;
      }
      const key = ['findings', 'evidence'].includes(table)
        ? 'at'
        : table.startsWith('rollups')
          ? 'hour'
          : null;
      await inSteps(db, again(), (raw) => {
        const where = key
          ? `watch_id = ? AND ${key} <= (SELECT max(k) FROM (SELECT ${key} AS k FROM ${table} WHERE watch_id = ? ORDER BY ${key} LIMIT ${ROWS_AT_ONCE}))`
          : 'watch_id = ?';
        const remove = raw.prepare(`DELETE FROM ${table} WHERE ${where}`);
        return () => {
          const { changes } = remove.run(...(key ? [id, id] : [id]));
          left = key !== null && changes > 0;
        };
      });
    }
    await db('watches').where({ id }).delete();
  }
}
