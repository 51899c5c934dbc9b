import { DAY_MS } from '@/core/time/units';
import type { Knex } from 'knex';
import { withRawConnection, type Db } from '@/store/db/connection';
import { inChunks } from '@/store/db/chunks';
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

/** Watches that were deleted by one change, at one moment. */
export interface DeletedTogether {
  deletedAt: number;
  count: number;
  /** The first of them. */
  first: DeletedWatch[];
}

/** What was deleted and can still be brought back, change by change, the last one first; of each the first watches. */
export async function fetchDeletions(db: Db, now: number, firstOfEach: number): Promise<DeletedTogether[]> {
  type Row = DeletedWatch & { count: number };
  const rows = await withRawConnection(db, (raw) =>
    raw
      .prepare<[number, number], Row>(
        `SELECT * FROM (
           SELECT id, name, kind, deleted_at AS deletedAt, COUNT(*) OVER (PARTITION BY deleted_at) AS count,
             ROW_NUMBER() OVER (PARTITION BY deleted_at ORDER BY id) AS place
           FROM watches WHERE deleted_at > ?)
         WHERE place <= ? ORDER BY deletedAt DESC, id`,
      )
      .all(now - KEEP_DELETED_MS, firstOfEach),
  );
  const deletions: DeletedTogether[] = [];
  for (const { id, name, kind, deletedAt, count } of rows) {
    if (deletions.at(-1)?.deletedAt !== deletedAt) deletions.push({ deletedAt, count, first: [] });
    deletions.at(-1)!.first.push({ id, name, kind, deletedAt });
  }
  return deletions;
}

/** Those of these that were deleted and can be brought back, by id, with what they are called. */
export async function fetchRestorable(
  db: Db,
  ids: readonly number[],
  now: number,
): Promise<Map<number, string>> {
  const names = new Map<number, string>();
  for (const some of inChunks(ids)) {
    const rows = await db('watches')
      .whereIn('id', some)
      .andWhere('deleted_at', '>', now - KEEP_DELETED_MS)
      .select('id', 'name');
    for (const { id, name } of rows) names.set(id, name);
  }
  return names;
}

/** The ids of those that were deleted at a moment: by one change to many. */
export async function fetchDeletedTogether(db: Db, deletedAt: number): Promise<number[]> {
  return db('watches').where('deleted_at', deletedAt).orderBy('id').pluck('id');
}

/** Brings deleted watches back with their history. */
export async function restoreWatches(db: Db, ids: readonly number[]): Promise<void> {
  for (const some of inChunks(ids)) await db('watches').whereIn('id', some).update({ deleted_at: null });
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
