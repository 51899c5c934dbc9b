import type { Knex } from 'knex';
import { resolve, type Values } from '@/core/settings/cascade';
import type { Urgency } from '@/core/settings/urgency';
import { tellsOf } from '@/core/telling/happen';
import type { WatchFacts } from '@/core/telling/route';
import { inChunks } from '@/store/db/chunks';
import type { Db } from '@/store/db/connection';
import { fetchLevels } from './cascade';

/** Names of watches, by id. */
export async function fetchWatchNames(db: Db, ids: readonly number[]): Promise<Map<number, string>> {
  const names = new Map<number, string>();
  for (const some of inChunks([...new Set(ids)])) {
    const rows = await db('watches').whereIn('id', some).whereNull('deleted_at').select('id', 'name');
    for (const { id, name } of rows) names.set(id, name);
  }
  return names;
}

/** What of a watch's own settings routes look at. */
function ownTelling({ urgency, tells, tellsTo }: Values): Values {
  return {
    ...(urgency !== undefined && { urgency }),
    ...(tells !== undefined && { tells }),
    ...(tellsTo !== undefined && { tellsTo }),
  };
}

/** The watches of which somebody may hear. */
export function heardWatches(db: Db) {
  return db('watches').whereNull('watches.deleted_at').where('watches.paused', false);
}

/** The kinds these are of. */
export async function fetchUsedKinds(db: Db): Promise<Set<string>> {
  return new Set<string>(await heardWatches(db).distinct('kind').pluck('kind'));
}

/** How many watches there are of which somebody may hear. */
export async function countHeardWatches(db: Db): Promise<number> {
  const row = await heardWatches(db).count({ n: '*' }).first();
  return Number(row?.n ?? 0);
}

/** What routes look at in every watch that is not paused, or in so many of them, and nothing else of it. */
export async function fetchWatchFacts(
  db: Db,
  page?: { limit: number; offset: number },
): Promise<WatchFacts[]> {
  return factsFrom(db, page && ((query) => query.limit(page.limit).offset(page.offset)));
}

/** The same of some watches; those that are paused or gone are left out. */
export function fetchFactsOf(db: Db, ids: readonly number[]): Promise<WatchFacts[]> {
  return factsFrom(db, (query) => query.whereIn('watches.id', ids));
}

/** Narrows the watches that are asked for. */
type Narrow = (query: Knex.QueryBuilder) => unknown;

async function factsFrom(db: Db, narrow?: Narrow): Promise<WatchFacts[]> {
  const query = heardWatches(db)
    .leftJoin('sections', 'sections.id', 'watches.section_id')
    .orderByRaw('watches.name COLLATE NOCASE, watches.id');
  narrow?.(query);
  const tags = new Map<number, string[]>();
  const tagged = db('watch_tags').join('tags', 'tags.id', 'watch_tags.tag_id');
  if (narrow) tagged.whereIn('watch_tags.watch_id', query.clone().select('watches.id'));
  const named = await tagged.select<{ watch_id: number; name: string }[]>('watch_tags.watch_id', 'tags.name');
  for (const { watch_id: id, name } of named) tags.set(id, [...(tags.get(id) ?? []), name]);
  const rows = await query.select<
    { id: number; name: string; kind: string; section: string | null; config: string }[]
  >('watches.id', 'watches.name', 'watches.kind', 'sections.name as section', 'watches.config');
  const levels = await fetchLevels(db);
  return rows.map(({ config, ...row }) => {
    const own = JSON.parse(config) as Values;
    const { values } = resolve({ ...row, own: ownTelling(own) }, levels);
    const tells = tellsOf(values as Parameters<typeof tellsOf>[0]);
    const facts = { ...row, tags: tags.get(row.id) ?? [], urgency: values.urgency as Urgency };
    return tells ? { ...facts, tells } : facts;
  });
}
