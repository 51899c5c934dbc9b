import type { Db } from '@/store/db/connection';
import { saveHappening } from '@/store/messages/happenings';
import { fetchWatchNames } from '@/store/watches/watch-facts';
import { turnTo, type ListPage } from '@/store/db/list-page';
import type { WindowRow } from '@/store/db/tables';
import { fetchRoutesAbout } from '@/store/messages/routes-about';

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
  now: number,
): Promise<void> {
  // What is moved ahead begins and ends once more.
  const told = db.raw(`CASE WHEN ? > ? THEN NULL WHEN ? > ? AND told = 'ends' THEN 'begins' ELSE told END`, [
    begins,
    now,
    ends,
    now,
  ]);
  await db('windows')
    .where({ id })
    .update({ title, watch_ids: JSON.stringify(watchIds), begins, ends, told });
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

type WindowStage = 'planned' | 'begins' | 'ends';

/** Notes within a transaction that a window may be told of. */
export async function saveWindowHappening(
  trx: Db,
  { id, title, watchIds, begins, ends }: MaintenanceWindow,
  stage: WindowStage,
  at: number,
): Promise<void> {
  const names = await fetchWatchNames(trx, watchIds);
  const watches = watchIds.flatMap((watchId) => names.get(watchId) ?? []);
  const event = { kind: 'maintenance' as const, stage, title, from: begins, until: ends, watches };
  const routes = await fetchRoutesAbout(trx, watchIds);
  await saveHappening(trx, { thread: `m${id}`, watch: null, phase: 'once', event, routes }, at);
}

/** Windows that have begun, or are over, and of which that has not been told. */
export async function fetchUntoldWindows(
  db: Db,
  now: number,
): Promise<{ window: MaintenanceWindow; stage: 'begins' | 'ends' }[]> {
  const rows = await db('windows')
    // What was over before anybody could be told of it is not told any more.
    .where((q) => void q.where('begins', '<=', now).where('ends', '>', now).whereNull('told'))
    .orWhere((q) => void q.where('ends', '<=', now).where('told', 'begins'));
  return rows.map((row) => ({ window: windowOf(row), stage: row.told === null ? 'begins' : 'ends' }));
}

/** Notes that a window is told of; whether it was not before. */
export async function saveWindowTold(db: Db, id: number, stage: 'begins' | 'ends'): Promise<boolean> {
  const before = stage === 'begins' ? null : 'begins';
  return (await db('windows').where({ id, told: before }).update({ told: stage })) > 0;
}
