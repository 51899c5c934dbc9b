import type Database from 'better-sqlite3';
import type { Knex } from 'knex';
import { SEVERITY, type State } from '@/core/lifecycle/state';
import type { WatchSort } from '@/core/settings/watch-order';
import type { Span } from '@/core/history/spans';
import type { WatchDigest } from '@/core/settings/watch-digest';
import { isFiltering, type WatchFilter } from '@/core/settings/watch-filter';
import type { Db } from '@/store/db/connection';
import { inSteps } from '@/store/db/steps';
import { fetchTags } from './tags';
import { IN_ORDER } from './watches';

/** Writes digests within a transaction of its caller. */
export function writeDigests(raw: Database.Database): (digest: WatchDigest) => void {
  const write = raw.prepare(
    `INSERT OR REPLACE INTO watch_digests (watch_id, state, words, host, address, wants_from)
     VALUES (?, ?, ?, ?, ?, ?)`,
  );
  return ({ watchId, state, words, host, address, wantsFrom }) =>
    void write.run(watchId, state, words, host, address, wantsFrom === null ? null : Math.floor(wantsFrom));
}

export async function saveDigests(db: Knex, digests: Iterable<WatchDigest>): Promise<void> {
  await inSteps(db, digests, writeDigests);
}

export async function fetchDigests(db: Db): Promise<Map<number, WatchDigest>> {
  const rows = await db('watch_digests');
  return new Map(
    rows.map(({ watch_id: watchId, wants_from: wantsFrom, ...row }) => [
      watchId,
      { watchId, wantsFrom, ...row },
    ]),
  );
}

const digested = (db: Db) =>
  db('watches')
    .join('watch_digests', 'watch_digests.watch_id', 'watches.id')
    .leftJoin('sections', 'sections.id', 'watches.section_id')
    .whereNull('watches.deleted_at');

/** Whether there is a digest of every watch. */
export async function areDigested(db: Db): Promise<boolean> {
  const missing: { id: number } | undefined = await db('watches')
    .leftJoin('watch_digests', 'watch_digests.watch_id', 'watches.id')
    .whereNull('watches.deleted_at')
    .whereNull('watch_digests.watch_id')
    .first('watches.id');
  return missing === undefined;
}

/** How many watches are in each state. */
export async function countStates(db: Db): Promise<Map<State, number>> {
  const rows = await digested(db)
    .groupBy('watch_digests.state')
    .select<{ state: State; n: number }[]>('watch_digests.state', db.raw('count(*) as n'));
  return new Map(rows.map(({ state, n }) => [state, n]));
}

/** The kinds there are of, and whether any watch is in no section. */
export async function fetchKindsThereAre(db: Db): Promise<{ kinds: Set<string>; loose: boolean }> {
  const kinds: string[] = await db('watches').whereNull('deleted_at').distinct().pluck('kind');
  const loose = await db('watches').whereNull('deleted_at').whereNull('section_id').first('id');
  return { kinds: new Set(kinds), loose: loose !== undefined };
}

/** One that wants a hand. */
export interface Wanting {
  id: number;
  state: State;
  since: number;
}

/** Those that want a hand by `now`, in the order of the desk. */
export async function fetchWanting(db: Db, now: number): Promise<Wanting[]> {
  return digested(db)
    .join('watch_status', 'watch_status.watch_id', 'watches.id')
    .where('watch_digests.wants_from', '<', now)
    .orderByRaw(IN_ORDER)
    .select('watches.id', 'watch_digests.state', 'watch_status.since');
}

/** Where those that are well look, and were reached; of these hosts and addresses only. */
export async function fetchWell(
  db: Db,
  hosts: readonly string[],
  addresses: readonly string[],
): Promise<{ host: string | null; address: string | null }[]> {
  return digested(db)
    .whereIn('watch_digests.state', ['up', 'slow'])
    .where(
      (any) => void any.whereIn('watch_digests.host', hosts).orWhereIn('watch_digests.address', addresses),
    )
    .select('watch_digests.host', 'watch_digests.address');
}

/** Narrows a query for digested watches to those a filter lets through. */
async function narrow(db: Db, query: Knex.QueryBuilder, filter: WatchFilter): Promise<void> {
  if (!isFiltering(filter)) return;
  const { states, kinds, sections, tags, text } = filter;
  const known = await fetchTags(db);
  const tagged = (ids: number[]) => db('watch_tags').whereIn('tag_id', ids).select('watch_id');
  if (states.length > 0) query.whereIn('watch_digests.state', states);
  if (kinds.length > 0) query.whereIn('watches.kind', kinds);
  if (sections.length > 0) {
    query.where((any) => {
      void any.whereIn('sections.name', sections);
      if (sections.includes('')) void any.orWhereNull('watches.section_id');
    });
  }
  if (tags.length > 0) {
    const ids = known.filter(({ name }) => tags.includes(name)).map(({ id }) => id);
    query.whereIn('watches.id', tagged(ids));
  }
  const pieces = text.toLowerCase().split(/\s+/).filter(Boolean);
  if (pieces.length === 0) return;
  const named = await db('sections').select('id', 'name');
  for (const piece of pieces) {
    const has = ({ name }: { name: string }) => name.toLowerCase().includes(piece);
    query.where((any) => {
      void any
        .whereRaw('instr(watch_digests.words, ?) > 0', [piece])
        .orWhereIn(
          'watches.section_id',
          named.filter(has).map(({ id }) => id),
        )
        .orWhereIn('watches.id', tagged(known.filter(has).map(({ id }) => id)));
    });
  }
}

const TROUBLE = (['slow', 'doubtful', 'overdue', 'down'] as const).map(
  (kind) => [kind, SEVERITY[kind]] as const,
);

/** SQL for how bad it is what a column says. */
function weightOf(column: string, weights: readonly (readonly [string, number])[]): string {
  return `CASE ${column} ${weights.map(([kind, n]) => `WHEN '${kind}' THEN ${n}`).join(' ')} ELSE 0 END`;
}

export interface ListOrder {
  sort?: WatchSort;
  /** The worst of a span of time first. */
  worstIn?: Span;
}

const BY_NAME = 'watches.name COLLATE NOCASE, watches.id';
const SORTED: Record<WatchSort, string> = {
  name: BY_NAME,
  kind: `watches.kind, ${BY_NAME}`,
  state: `${weightOf('watch_digests.state', Object.entries(SEVERITY))} DESC, ${BY_NAME}`,
};

/**
 * The ids of the watches a filter lets through: in the order of sections, by something else, or the worst of a span of
 * time first.
 */
export async function fetchMatching(db: Db, filter: WatchFilter, order: ListOrder = {}): Promise<number[]> {
  const query = digested(db);
  await narrow(db, query, filter);
  const { worstIn, sort } = order;
  if (sort) query.orderByRaw(SORTED[sort]);
  if (worstIn) {
    const { from, to } = worstIn;
    const bad = db('stretches')
      .whereIn(
        'kind',
        TROUBLE.map(([kind]) => kind),
      )
      .where('began', '<', to)
      .where((open) => void open.whereNull('ended').orWhere('ended', '>', from))
      .groupBy('watch_id')
      .select(
        'watch_id',
        db.raw(
          `SUM((MIN(COALESCE(ended, ?), ?) - MAX(began, ?)) * ${weightOf('kind', TROUBLE)}) AS badness`,
          [to, to, from],
        ),
      )
      .as('bad');
    query
      .leftJoin(bad, 'bad.watch_id', 'watches.id')
      .orderByRaw(
        `${weightOf('watch_digests.state', Object.entries(SEVERITY))} DESC, COALESCE(bad.badness, 0) DESC`,
      );
  }
  return query.orderByRaw(IN_ORDER).pluck('watches.id');
}
