import { DAY_MS } from '@/core/time/units';
import type { Db } from '@/store/db/connection';
import { saveHappening } from '@/store/messages/happenings';
import { fetchWatchNames } from '@/store/watches/watch-facts';
import { turnTo, type ListPage } from '@/store/db/list-page';
import type { WindowRow } from '@/store/db/public-tables';
import { fetchRoutesAbout } from '@/store/messages/routes-about';
import { coverageColumns, plannedOf, withCovered, type Coverage } from './covering';

/** So many days ahead the public is told where nothing else is said. */
export const USUAL_ANNOUNCE_DAYS = 7;

/** What is said of planned time, and what it is for. */
export interface WindowPlan extends Coverage {
  title: string;
  /** Markdown for the public. */
  text: string;
  announceDays: number;
}

/** A planned stretch of maintenance. */
export interface MaintenanceWindow extends WindowPlan {
  id: number;
  begins: number;
  ends: number;
  madeAt: number;
  /** What it is one time of, and which. */
  seriesId: number | null;
  wall: string | null;
  /** It was changed by itself: changes of the series pass it by. */
  apart: boolean;
  /** The ids of all watches it is for, however they were chosen. */
  covers: number[];
}

/** What has to be said of a new one. */
export type NewWindow = Pick<MaintenanceWindow, 'title' | 'watchIds' | 'begins' | 'ends'> &
  Partial<Omit<MaintenanceWindow, 'id' | 'covers' | 'apart'>>;

function windowOf(row: WindowRow): Omit<MaintenanceWindow, 'covers'> {
  return {
    ...plannedOf(row),
    begins: row.begins,
    ends: row.ends,
    madeAt: row.made_at,
    seriesId: row.series_id,
    wall: row.wall,
    apart: Boolean(row.apart),
  };
}

const asWindows = (db: Db, rows: readonly WindowRow[]): Promise<MaintenanceWindow[]> =>
  withCovered(db, rows.map(windowOf));

/** Windows that end after `since`, the earliest first; with `until`, only those that begin before it. */
export async function fetchWindows(db: Db, since: number, until = Infinity): Promise<MaintenanceWindow[]> {
  const query = db('windows').where('ends', '>', since).orderBy('begins').orderBy('id');
  if (until !== Infinity) query.where('begins', '<', until);
  return asWindows(db, await query);
}

/** Windows that end after `since` and are announced, or under way, at a moment; the earliest first. */
export async function fetchAnnounced(
  db: Db,
  { since, now }: { since: number; now: number },
): Promise<MaintenanceWindow[]> {
  const rows = await db('windows')
    .where('ends', '>', since)
    .whereRaw('begins - announce_days * ? <= ?', [DAY_MS, now])
    .orderBy('begins')
    .orderBy('id');
  return asWindows(db, rows);
}

/** Windows of any time. */
export async function fetchWindowList(db: Db, page: ListPage): Promise<MaintenanceWindow[]> {
  return asWindows(db, await turnTo(db('windows'), page, { at: 'begins', id: 'id', end: 'ends' }));
}

export async function fetchWindow(db: Db, id: number): Promise<MaintenanceWindow | null> {
  const row = await db('windows').where({ id }).first();
  return row ? (await asWindows(db, [row]))[0]! : null;
}

export async function saveWindowChange(
  db: Db,
  id: number,
  change: WindowPlan & { begins: number; ends: number },
  now: number,
): Promise<void> {
  const { title, text, announceDays, begins, ends } = change;
  // What is moved ahead begins and ends once more.
  const told = db.raw(`CASE WHEN ? > ? THEN NULL WHEN ? > ? AND told = 'ends' THEN 'begins' ELSE told END`, [
    begins,
    now,
    ends,
    now,
  ]);
  const plan = { title, text, announce_days: announceDays, ...coverageColumns(change) };
  await db('windows')
    .where({ id })
    .update({ ...plan, begins, ends, told, apart: 1 });
}

export async function saveNewWindow(db: Db, window: NewWindow): Promise<number> {
  const { sectionIds = [], tagIds = [] } = window;
  const [id] = await db('windows').insert({
    title: window.title,
    text: window.text ?? '',
    ...coverageColumns({ watchIds: window.watchIds, sectionIds, tagIds }),
    announce_days: window.announceDays ?? USUAL_ANNOUNCE_DAYS,
    begins: window.begins,
    ends: window.ends,
    made_at: window.madeAt ?? 0,
    series_id: window.seriesId ?? null,
    wall: window.wall ?? null,
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
  { id, title, covers, begins, ends }: MaintenanceWindow,
  stage: WindowStage,
  at: number,
): Promise<void> {
  const names = await fetchWatchNames(trx, covers);
  const watches = covers.flatMap((watchId) => names.get(watchId) ?? []);
  const event = { kind: 'maintenance' as const, stage, title, from: begins, until: ends, watches };
  const routes = await fetchRoutesAbout(trx, covers);
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
  const windows = await asWindows(db, rows);
  return windows.map((window, i) => ({ window, stage: rows[i]!.told === null ? 'begins' : 'ends' }));
}

/** Notes that a window is told of; whether it was not before. */
export async function saveWindowTold(db: Db, id: number, stage: 'begins' | 'ends'): Promise<boolean> {
  const before = stage === 'begins' ? null : 'begins';
  return (await db('windows').where({ id, told: before }).update({ told: stage })) > 0;
}
