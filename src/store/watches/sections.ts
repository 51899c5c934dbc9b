import type { Knex } from 'knex';
import { transaction, type Db } from '@/store/db/connection';

export interface Section {
  id: number;
  name: string;
  watches: number;
}

export async function fetchSectionNames(db: Db): Promise<string[]> {
  return (await fetchSections(db)).map((section) => section.name);
}

/** All sections in their order, with the number of their watches. */
export async function fetchSections(db: Db): Promise<Section[]> {
  return db('sections')
    .leftJoin('watches', (join) =>
      join.on('watches.section_id', 'sections.id').andOnNull('watches.deleted_at'),
    )
    .groupBy('sections.id')
    .orderBy('sections.position')
    .orderBy('sections.id')
    .select('sections.id', 'sections.name')
    .count({ watches: 'watches.id' }) as unknown as Promise<Section[]>;
}

/** How many watches are paused in each section, by its id. */
export async function countPausedBySection(db: Db): Promise<Map<number, number>> {
  const rows = await db('watches')
    .whereNull('deleted_at')
    .where('paused', true)
    .whereNotNull('section_id')
    .groupBy('section_id')
    .select<{ id: number; n: number }[]>('section_id as id', db.raw('COUNT(*) AS n'));
  return new Map(rows.map(({ id, n }) => [id, n]));
}

/** How many watches are in no section. */
export async function countLoose(db: Db): Promise<number> {
  const row = await db('watches').whereNull('deleted_at').whereNull('section_id').count({ n: '*' }).first();
  return Number(row?.n ?? 0);
}

/** The id of a section; it is made when it is new. Null for no section. */
export async function sectionId(trx: Db, name: string | null): Promise<number | null> {
  if (name === null || name === '') return null;
  const row = await trx('sections').where({ name }).first('id');
  if (row) return row.id;
  const last = await trx('sections').max({ position: 'position' }).first();
  const [id] = await trx('sections').insert({ name, position: Number(last?.position ?? 0) + 1 });
  return id!;
}

export function saveNewSection(db: Knex, name: string): Promise<number> {
  return transaction(db, async (trx) => (await sectionId(trx, name))!);
}

export async function saveSectionName(db: Db, id: number, name: string): Promise<void> {
  await db('sections').where({ id }).update({ name });
}

/** The watches of a section. */
export function fetchIdsInSection(db: Db, id: number): Promise<number[]> {
  return db('watches').where({ section_id: id }).whereNull('deleted_at').pluck('id');
}

/** Deletes a section with its settings; its watches stay, without a section, and are answered. */
export async function deleteSection(db: Db, id: number): Promise<number[]> {
  const ids = await fetchIdsInSection(db, id);
  await db('sections').where({ id }).delete();
  return ids;
}

/** Puts sections into the order of their ids; those that are not named stay behind them. */
export async function saveSectionOrder(db: Knex, ids: readonly number[]): Promise<void> {
  await transaction(db, async (trx) => {
    const all: number[] = await trx('sections').orderBy('position').orderBy('id').pluck('id');
    const named = ids.filter((id) => all.includes(id));
    const order = [...named, ...all.filter((id) => !named.includes(id))];
    for (const [i, id] of order.entries())
      await trx('sections')
        .where({ id })
        .update({ position: i + 1 });
  });
}

/** Orders watches among each other; they keep the places they hold now, so that others stay where they are. */
export async function saveWatchOrder(db: Knex, ids: readonly number[]): Promise<void> {
  await transaction(db, async (trx) => {
    const rows: { id: number; position: number }[] = await trx('watches')
      .whereIn('id', [...ids])
      .select('id', 'position');
    const positions = rows.map((row) => row.position).sort((a, b) => a - b);
    const before = new Map(rows.map((row) => [row.id, row.position]));
    for (const [i, id] of ids.filter((one) => before.has(one)).entries()) {
      if (before.get(id) === positions[i]) continue;
      await trx('watches').where({ id }).update({ position: positions[i]! });
    }
  });
}
