import type { Knex } from 'knex';
import { nextColour, type Tag, type TagColour } from '@/core/settings/tag';
import { prepared, transaction, withRawConnection, type Db } from '@/store/db/connection';

export interface CountedTag extends Tag {
  watches: number;
}

/** All tags by name, with the number of watches that carry them. */
export async function fetchTags(db: Db): Promise<CountedTag[]> {
  return db('tags')
    .leftJoin('watch_tags', 'watch_tags.tag_id', 'tags.id')
    .leftJoin('watches', (join) =>
      join.on('watches.id', 'watch_tags.watch_id').andOnNull('watches.deleted_at'),
    )
    .groupBy('tags.id')
    .orderByRaw('tags.name COLLATE NOCASE')
    .select('tags.id', 'tags.name', 'tags.colour')
    .count({ watches: 'watches.id' }) as unknown as Promise<CountedTag[]>;
}

/** The tags of all watches or of some, by the id of the watch. */
export async function fetchTagsOf(db: Db, watchIds?: readonly number[]): Promise<Map<number, Tag[]>> {
  const query = db('watch_tags')
    .join('tags', 'tags.id', 'watch_tags.tag_id')
    .orderByRaw('tags.name COLLATE NOCASE')
    .select<(Tag & { watch_id: number })[]>('watch_tags.watch_id', 'tags.id', 'tags.name', 'tags.colour');
  if (watchIds) query.whereIn('watch_tags.watch_id', watchIds);
  const rows = await query;
  const tags = new Map<number, Tag[]>();
  for (const { watch_id: id, ...tag } of rows) tags.set(id, [...(tags.get(id) ?? []), tag]);
  return tags;
}

/** The ids of tags by their names; those that are new are made, each with a colour of its own. */
async function tagIds(trx: Db, names: readonly string[]): Promise<number[]> {
  const ids: number[] = [];
  for (const name of new Set(names)) {
    const row = await trx('tags').where({ name }).first('id');
    if (row) ids.push(row.id);
    else {
      const [id] = await trx('tags').insert({ name, colour: nextColour(await trx('tags').select('colour')) });
      ids.push(id!);
    }
  }
  return ids;
}

/** How many watches that are paused carry each tag. */
export async function countPausedByTag(db: Db): Promise<Map<number, number>> {
  const rows = await db('watch_tags')
    .join('watches', 'watches.id', 'watch_tags.watch_id')
    .whereNull('watches.deleted_at')
    .andWhere('watches.paused', true)
    .groupBy('watch_tags.tag_id')
    .select<{ id: number; n: number }[]>('watch_tags.tag_id as id', db.raw('COUNT(*) AS n'));
  return new Map(rows.map(({ id, n }) => [id, n]));
}

const DROP = `DELETE FROM watch_tags WHERE watch_id = ? AND tag_id NOT IN (SELECT value FROM json_each(?))`;
const ADD = 'INSERT OR IGNORE INTO watch_tags (watch_id, tag_id) VALUES (?, ?)';

/** Gives each of some watches these tags and no others. */
export async function setTagsOf(
  trx: Db,
  tagged: readonly (readonly [watchId: number, names: readonly string[]])[],
): Promise<void> {
  const names = [...new Set(tagged.flatMap(([, some]) => some))];
  const ids = new Map((await tagIds(trx, names)).map((id, i) => [names[i]!, id]));
  await withRawConnection(trx, (raw) => {
    for (const [watchId, some] of tagged) {
      const wanted = [...new Set(some)].map((name) => ids.get(name)!);
      prepared(raw, DROP).run(watchId, JSON.stringify(wanted));
      for (const id of wanted) prepared(raw, ADD).run(watchId, id);
    }
  });
}

export function saveNewTag(db: Knex, name: string): Promise<number> {
  return transaction(db, async (trx) => (await tagIds(trx, [name]))[0]!);
}

export async function saveTag(db: Db, id: number, tag: { name: string; colour: TagColour }): Promise<void> {
  await db('tags').where({ id }).update({ name: tag.name, colour: tag.colour });
}

/** The watches that carry a tag. */
export function fetchIdsWithTag(db: Db, id: number): Promise<number[]> {
  return db('watch_tags').where({ tag_id: id }).pluck('watch_id');
}

/** Deletes a tag; the watches that carried it stay, and are answered. */
export async function deleteTag(db: Db, id: number): Promise<number[]> {
  const ids = await fetchIdsWithTag(db, id);
  await db('tags').where({ id }).delete();
  return ids;
}
