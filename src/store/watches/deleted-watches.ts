import { DAY_MS } from '@/core/time/units';
import type { Knex } from 'knex';
import type { Db } from '@/store/db/connection';
import { inSteps } from '@/store/db/steps';

/** A deleted watch can be brought back for this long. */
export const KEEP_DELETED_MS = 7 * DAY_MS;

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
  'packed_hours',
  'stretches',
  'outages',
  'evidence',
  'reports',
  'watch_status',
  'watch_digests',
];
const ROWS_AT_ONCE = 2000;

/** By which rows of a table without numbers of its own are told apart within a watch. */
const KEYS: Record<string, string> = {
  findings: 'at',
  evidence: 'at',
  rollups: 'hour',
  rollups_by_day: 'hour',
};

function removal(table: string): string {
  if (table === 'watch_status' || table === 'watch_digests') return `DELETE FROM ${table} WHERE watch_id = ?`;
  const key =
    table === 'stretches' ? 'watch_id, began, kind' : KEYS[table] ? `watch_id, ${KEYS[table]}` : 'rowid';
  const some = `SELECT ${key} FROM ${table} WHERE watch_id = ? LIMIT ${ROWS_AT_ONCE}`;
  return `DELETE FROM ${table} WHERE (${key}) IN (${some})`;
}

/** Lets go for good of what was deleted before a time, in small steps. */
export async function purgeWatches(db: Knex, before: number): Promise<void> {
  const ids = await db('watches').where('deleted_at', '<', before).pluck('id');
  for (const id of ids) {
    for (const table of TABLES) {
      let left = true;
      function* again() {
        while (left) yield table;
      }
      await inSteps(db, again(), (raw) => {
        const remove = raw.prepare(removal(table));
        return () => {
          left = remove.run(id).changes > 0;
        };
      });
    }
    await db('watches').where({ id }).delete();
  }
}
