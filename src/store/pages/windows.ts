import type { Db } from '@/store/db/connection';
import { turnTo, type ListPage } from '@/store/db/list-page';
import type { WindowRow } from '@/store/db/tables';

/** A planned stretch of maintenance. */
export interface MaintenanceWindow {
  id: number;
  title: string;
  watchIds: number[];
  begins: number;
  ends: number;
}

function windowOf(row: WindowRow): MaintenanceWindow {
  return {
    id: row.id,
    title: row.title,
    watchIds: JSON.parse(row.watch_ids) as number[],
    begins: row.begins,
    ends: row.ends,
  };
}

/** Windows that end after `since`, the earliest first. */
export async function fetchWindows(db: Db, since: number): Promise<MaintenanceWindow[]> {
  return (await db('windows').where('ends', '>', since).orderBy('begins')).map(windowOf);
}

/** Windows of any time. */
export async function fetchWindowList(db: Db, page: ListPage): Promise<MaintenanceWindow[]> {
  return (await turnTo(db('windows'), page, { at: 'begins', id: 'id', end: 'ends' })).map(windowOf);
}

export async function fetchWindow(db: Db, id: number): Promise<MaintenanceWindow | null> {
  const row = await db('windows').where({ id }).first();
  return row ? windowOf(row) : null;
}

export async function saveWindowChange(
  db: Db,
  id: number,
  { title, watchIds, begins, ends }: Omit<MaintenanceWindow, 'id'>,
): Promise<void> {
  await db('windows')
    .where({ id })
    .update({ title, watch_ids: JSON.stringify(watchIds), begins, ends });
}

export async function saveNewWindow(db: Db, window: Omit<MaintenanceWindow, 'id'>): Promise<number> {
  const [id] = await db('windows').insert({
    title: window.title,
    watch_ids: JSON.stringify(window.watchIds),
    begins: window.begins,
    ends: window.ends,
  });
  return id!;
}

export async function deleteWindow(db: Db, id: number): Promise<boolean> {
  return (await db('windows').where({ id }).delete()) > 0;
}
