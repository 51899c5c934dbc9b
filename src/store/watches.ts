import { transaction, type Db } from './connection';
import type { Knex } from 'knex';
import { newStatus, type Status } from '../core/status';
import type { Finding } from '../core/finding';
import type { WatchConfig } from '../core/watch-config';

export interface Watch {
  id: number;
  kind: string;
  name: string;
  section: string | null;
  config: WatchConfig;
  paused: boolean;
  checkinKey: string | null;
  createdAt: number;
}

export interface WatchWithStatus extends Watch {
  status: Status;
  lastFinding: Finding | null;
}

interface Row {
  id: number;
  kind: string;
  name: string;
  section_name: string | null;
  config: string;
  paused: number;
  checkin_key: string | null;
  created_at: number;
  status: string | null;
  last_finding: string | null;
}

function watchOf(row: Row): WatchWithStatus {
  return {
    id: row.id,
    kind: row.kind,
    name: row.name,
    section: row.section_name,
    config: JSON.parse(row.config) as WatchConfig,
    paused: Boolean(row.paused),
    checkinKey: row.checkin_key,
    createdAt: row.created_at,
    status: row.status ? (JSON.parse(row.status) as Status) : newStatus(row.created_at),
    lastFinding: row.last_finding ? (JSON.parse(row.last_finding) as Finding) : null,
  };
}

function selectWatches(db: Db) {
  return db('watches')
    .leftJoin('sections', 'sections.id', 'watches.section_id')
    .leftJoin('watch_status', 'watch_status.watch_id', 'watches.id')
    .whereNull('watches.deleted_at')
    .select<Row[]>(
      'watches.*',
      'sections.name as section_name',
      'watch_status.status',
      'watch_status.last_finding',
    );
}

/** All watches in the order of their sections, those without one last. */
export async function fetchWatches(db: Db): Promise<WatchWithStatus[]> {
  const rows = await selectWatches(db).orderByRaw(
    'sections.position IS NULL, sections.position, watches.position, watches.id',
  );
  return (rows as Row[]).map(watchOf);
}

export async function fetchWatch(db: Db, id: number): Promise<WatchWithStatus | null> {
  const rows = (await selectWatches(db).where('watches.id', id)) as Row[];
  return rows[0] ? watchOf(rows[0]) : null;
}

export async function fetchWatchIdByKey(db: Db, key: string): Promise<number | null> {
  const row = await db('watches').where({ checkin_key: key }).whereNull('deleted_at').first('id');
  return row ? row.id : null;
}

export async function fetchSectionNames(db: Db): Promise<string[]> {
  return (await db('sections').orderBy('position').orderBy('id').select('name')).map((row) => row.name);
}

async function sectionId(trx: Knex.Transaction, name: string | null): Promise<number | null> {
  if (name === null || name === '') return null;
  const row = await trx('sections').where({ name }).first('id');
  if (row) return row.id;
  const last = await trx('sections').max({ position: 'position' }).first();
  const [id] = await trx('sections').insert({ name, position: Number(last?.position ?? 0) + 1 });
  return id!;
}

export interface NewWatch {
  kind: string;
  name: string;
  section: string | null;
  config: WatchConfig;
  checkinKey: string | null;
  createdAt: number;
}

/** Creates a watch of which nothing is known yet. */
export async function saveNewWatch(db: Knex, watch: NewWatch): Promise<number> {
  return transaction(db, async (trx) => {
    const last = await trx('watches').max({ position: 'position' }).first();
    const [id] = await trx('watches').insert({
      kind: watch.kind,
      name: watch.name,
      section_id: await sectionId(trx, watch.section),
      config: JSON.stringify(watch.config),
      checkin_key: watch.checkinKey,
      position: Number(last?.position ?? 0) + 1,
      created_at: watch.createdAt,
    });
    await trx('watch_status').insert({
      watch_id: id,
      state: 'waiting',
      since: watch.createdAt,
      status: JSON.stringify(newStatus(watch.createdAt)),
    });
    await trx('stretches').insert({ watch_id: id, began: watch.createdAt, kind: 'waiting', ended: null });
    return id!;
  });
}

export async function saveWatchChange(
  db: Knex,
  id: number,
  change: { name: string; section: string | null; config: WatchConfig },
): Promise<void> {
  await transaction(db, async (trx) => {
    await trx('watches')
      .where({ id })
      .update({
        name: change.name,
        section_id: await sectionId(trx, change.section),
        config: JSON.stringify(change.config),
      });
    await trx('sections')
      .whereNotIn(
        'id',
        trx('watches').whereNotNull('section_id').whereNull('deleted_at').select('section_id'),
      )
      .delete();
  });
}

export async function saveWatchPaused(db: Db, id: number, paused: boolean): Promise<void> {
  await db('watches').where({ id }).update({ paused });
}

/** Marks a watch as deleted; it can be brought back until retention takes it. */
export async function deleteWatch(db: Db, id: number, now: number): Promise<void> {
  await db('watches').where({ id }).update({ deleted_at: now });
}
