import { prepared, transaction, withRawConnection, type Db } from '@/store/db/connection';
import { inChunks } from '@/store/db/chunks';
import { forgetDigests } from './forget-digests';
import type { Knex } from 'knex';
import { factsOf, threadOf } from '@/core/telling/happen';
import { saveHappening } from '@/store/messages/happenings';
import { newStatus, type Status } from '@/core/lifecycle/status';
import type { Finding } from '@/core/causes/finding';
import {
  ownValues,
  resolve,
  wholeConfig,
  type Level,
  type Levels,
  type OwnConfig,
} from '@/core/settings/cascade';
import type { State } from '@/core/lifecycle/state';
import type { Tag } from '@/core/settings/tag';
import type { WatchConfig } from '@/core/settings/watch-config';
import { fetchLevels } from './cascade';
import { sectionId } from './sections';
import { fetchTagsOf, setTagsOf } from './tags';
import type { WatchRow } from '@/store/db/tables';

export interface Watch {
  id: number;
  kind: string;
  name: string;
  section: string | null;
  tags: Tag[];
  /** What holds for it, whoever set it. */
  config: WatchConfig;
  /** Only what was set on the watch itself. */
  own: OwnConfig;
  /** Where each shared setting comes from. */
  from: Readonly<Record<string, Level>>;
  paused: boolean;
  checkinKey: string | null;
  /** The readable end of its address under the secret of its section. */
  checkinName: string | null;
  /** The key it had before, while that still counts. */
  oldKey: { until: number; usedAt: number | null } | null;
  createdAt: number;
}

export interface WatchWithStatus extends Watch {
  status: Status;
  lastFinding: Finding | null;
}

export type Row = WatchRow & {
  section_name: string | null;
  status: string | null;
  last_finding: string | null;
};

/** A row as a watch, with what holds for it. */
export function watchOf(row: Row, levels: Levels, tags: Tag[]): WatchWithStatus {
  const { id, kind, section_name: section } = row;
  const own = JSON.parse(row.config) as OwnConfig;
  const resolved = resolve({ id, kind, section, own: ownValues(kind, own, levels.usual) }, levels);
  return {
    id,
    kind,
    name: row.name,
    section,
    tags,
    config: wholeConfig(own, resolved, levels.defaults?.[kind]),
    own,
    from: resolved.from,
    paused: Boolean(row.paused),
    checkinKey: row.checkin_key,
    checkinName: row.checkin_name,
    oldKey: row.old_checkin_key ? { until: row.old_key_until!, usedAt: row.old_key_used_at } : null,
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

async function watchesOf(db: Db, rows: Row[], watchIds?: readonly number[]): Promise<WatchWithStatus[]> {
  const levels = await fetchLevels(db);
  const tags = await fetchTagsOf(db, watchIds);
  return rows.map((row) => watchOf(row, levels, tags.get(row.id) ?? []));
}

/** Sections in their order, what is in none last. */
export const IN_ORDER = 'sections.position IS NULL, sections.position, watches.position, watches.id';

/** All watches in the order of their sections, those without one last; or only some of them. */
export async function fetchWatches(db: Db, ids?: readonly number[]): Promise<WatchWithStatus[]> {
  const query = selectWatches(db).orderByRaw(IN_ORDER);
  if (ids) query.whereIn('watches.id', ids);
  return watchesOf(db, await query, ids);
}

/** All jobs that report, in the same order. */
export async function fetchJobs(db: Db): Promise<WatchWithStatus[]> {
  return watchesOf(db, await selectWatches(db).where('watches.kind', 'checkin').orderByRaw(IN_ORDER));
}

export interface NamedWatch {
  id: number;
  name: string;
  state: State;
}

/** Watches in the same order, with as little as a list needs. */
function selectNamed(db: Db) {
  return db('watches')
    .leftJoin('sections', 'sections.id', 'watches.section_id')
    .join('watch_status', 'watch_status.watch_id', 'watches.id')
    .whereNull('watches.deleted_at')
    .orderByRaw(IN_ORDER)
    .select<NamedWatch[]>('watches.id', 'watches.name', 'watch_status.state');
}

/** The first of them, as many as that. */
export async function fetchFirstNamed(db: Db, most: number): Promise<NamedWatch[]> {
  return selectNamed(db).limit(most);
}

/** Those of one section. */
export async function fetchNamedInSection(db: Db, sectionId: number): Promise<NamedWatch[]> {
  return selectNamed(db).where('watches.section_id', sectionId);
}

/** Which of these ids are watches. */
export async function fetchKnownIds(db: Db, ids: readonly number[]): Promise<Set<number>> {
  const known = new Set<number>();
  for (const some of inChunks(ids)) {
    const rows: number[] = await db('watches').whereIn('id', some).whereNull('deleted_at').pluck('id');
    for (const id of rows) known.add(id);
  }
  return known;
}

export async function fetchWatch(db: Db, id: number): Promise<WatchWithStatus | null> {
  const rows = await selectWatches(db).where('watches.id', id);
  return rows.length === 0 ? null : (await watchesOf(db, rows, [id]))[0]!;
}

export interface NewWatch {
  kind: string;
  name: string;
  section: string | null;
  /** Names of tags; those that are new are made. */
  tags?: readonly string[];
  config: OwnConfig;
  checkinKey: string | null;
  checkinName?: string | null;
  createdAt: number;
}

/** Creates a watch of which nothing is known yet. */
export function saveNewWatch(db: Knex, watch: NewWatch): Promise<number> {
  return transaction(db, (trx) => insertWatch(trx, watch));
}

/** The same within a transaction. */
export async function insertWatch(trx: Knex.Transaction, watch: NewWatch): Promise<number> {
  return (await insertWatches(trx, [watch]))[0]!;
}

const INSERT = `INSERT INTO watches
  (kind, name, section_id, config, checkin_key, checkin_name, position, created_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?)`;
const INSERT_STATUS = 'INSERT INTO watch_status (watch_id, state, since, status) VALUES (?, ?, ?, ?)';
const INSERT_STRETCH = 'INSERT INTO stretches (watch_id, began, kind, ended) VALUES (?, ?, ?, NULL)';

/** The ids of the sections that some are in, by name; those that are new are made. */
async function sectionIds(trx: Db, all: Iterable<{ section: string | null }>) {
  const sections = new Map<string | null, number | null>();
  for (const { section } of all) {
    if (!sections.has(section)) sections.set(section, await sectionId(trx, section));
  }
  return sections;
}

/** Many at once, behind all others; others wait for this, so what they share is read once. Resolves to their ids. */
export async function insertWatches(trx: Knex.Transaction, watches: readonly NewWatch[]): Promise<number[]> {
  const last = await trx('watches').max({ position: 'position' }).first();
  const sections = await sectionIds(trx, watches);
  const ids = await withRawConnection(trx, (raw) =>
    watches.map(({ kind, name, section, config, checkinKey, checkinName = null, createdAt }, i) => {
      const position = Number(last?.position ?? 0) + 1 + i;
      const values = [kind, name, sections.get(section), JSON.stringify(config), checkinKey, checkinName];
      const id = Number(prepared(raw, INSERT).run(...values, position, createdAt).lastInsertRowid);
      const status = JSON.stringify(newStatus(createdAt));
      prepared(raw, INSERT_STATUS).run(id, 'waiting', createdAt, status);
      prepared(raw, INSERT_STRETCH).run(id, createdAt, 'waiting');
      return id;
    }),
  );
  await setTagsOf(
    trx,
    watches.map(({ tags = [] }, i) => [ids[i]!, tags] as const),
  );
  return ids;
}

export interface WatchChange {
  name: string;
  section: string | null;
  tags?: readonly string[];
  config: OwnConfig;
}

export async function saveWatchChange(db: Knex, id: number, change: WatchChange): Promise<void> {
  await saveWatchChanges(db, new Map([[id, change]]));
}

const CHANGE = 'UPDATE watches SET name = ?, section_id = ?, config = ? WHERE id = ?';

/** Changes several watches in one go: all of them or none. */
export async function saveWatchChanges(db: Knex, changes: ReadonlyMap<number, WatchChange>): Promise<void> {
  await transaction(db, async (trx) => {
    await forgetDigests(trx, [...changes.keys()]);
    const sections = await sectionIds(trx, changes.values());
    await withRawConnection(trx, (raw) => {
      for (const [id, { name, section, config }] of changes) {
        prepared(raw, CHANGE).run(name, sections.get(section), JSON.stringify(config), id);
      }
    });
    await setTagsOf(
      trx,
      [...changes].flatMap(([id, { tags }]) => (tags ? [[id, tags] as const] : [])),
    );
  });
}

export async function saveWatchesPaused(db: Knex, ids: readonly number[], paused: boolean): Promise<void> {
  await transaction(db, async (trx) => {
    await forgetDigests(trx, ids);
    for (const some of inChunks(ids)) await trx('watches').whereIn('id', some).update({ paused });
  });
}

/** Whoever was told that a watch is down hears that nobody looks any more. */
async function saveClosed(trx: Db, ids: readonly number[], now: number): Promise<void> {
  const open = await trx('outages')
    .join('watches', 'watches.id', 'outages.watch_id')
    .whereIn('outages.watch_id', [...ids])
    .whereNull('outages.ended')
    .whereNull('outages.follows')
    .select<{ id: number; name: string; kind: string; began: number; outageId: number }[]>(
      'watches.id',
      'watches.name',
      'watches.kind',
      'outages.began',
      'outages.id as outageId',
    );
  for (const { began, outageId, ...watch } of open) {
    const event = { kind: 'closed' as const, began, at: now, because: 'deleted' as const };
    const facts = factsOf({ ...watch, section: null, tags: [] });
    const closed = { thread: threadOf(watch.id), phase: 'closes' as const, watch: facts, event, outageId };
    await saveHappening(trx, closed, now);
  }
}

/** Marks watches as deleted; they can be brought back until retention takes them. */
export async function deleteWatches(db: Knex, ids: readonly number[], now: number): Promise<void> {
  await transaction(db, async (trx) => {
    for (const some of inChunks(ids)) {
      await saveClosed(trx, some, now);
      await trx('watches').whereIn('id', some).update({ deleted_at: now });
    }
  });
}
