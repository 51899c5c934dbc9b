import type { WatchFilter } from '@/core/settings/watch-filter';
import type { Db } from '@/store/db/connection';

export interface KeptFilter {
  id: number;
  name: string;
  filter: WatchFilter;
}

/** Filters that were kept under a name, by name. */
export async function fetchFilters(db: Db): Promise<KeptFilter[]> {
  const rows = await db('filters').orderByRaw('name COLLATE NOCASE');
  return rows.map(({ id, name, query }) => ({ id, name, filter: JSON.parse(query) as WatchFilter }));
}

/** Keeps a filter under a name; one that had the name gives way. */
export async function saveFilter(db: Db, name: string, filter: WatchFilter): Promise<number> {
  const row = { name, query: JSON.stringify(filter) };
  await db('filters').insert(row).onConflict('name').merge();
  const [id] = await db('filters').where({ name }).pluck('id');
  return id!;
}

export async function deleteFilter(db: Db, id: number): Promise<boolean> {
  return (await db('filters').where({ id }).delete()) > 0;
}
