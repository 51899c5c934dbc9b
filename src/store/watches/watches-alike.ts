import { resolve, type Values } from '@/core/settings/cascade';
import { tellsOf } from '@/core/telling/happen';
import type { RoutedBy, Selection } from '@/core/telling/route';
import type { Db } from '@/store/db/connection';
import { fetchLevels } from './cascade';
import { heardWatches } from './watch-facts';

/** Watches that routes cannot tell apart. */
export interface WatchesAlike {
  /** What decides it for each of them; the id is that of one. */
  facts: RoutedBy;
  ids: readonly number[];
}

interface Row {
  kind: string;
  section: string | null;
  /** Names, as JSON, in order. */
  tags: string | null;
  tells: string | null;
  /** Ids, as JSON. */
  tells_to: string | null;
  ids: string;
}

const own = (name: string) => `json_extract(watches.config, '$.${name}')`;

/** What is about some watches, as far as it says of which. */
interface About {
  watches: Selection;
}

/** The ids of watches that are named one by one. */
function namedIn(routes: readonly About[]): number[] {
  return routes.flatMap(({ watches: { ids, except } }) => [...ids, ...except.ids]);
}

/**
 * All watches that are not paused, put together by what routes look at: of thousands that makes a few dozen. What one of
 * the routes names by its id stands alone.
 */
export async function fetchWatchesAlike(db: Db, routes: readonly About[]): Promise<WatchesAlike[]> {
  const tagged = db('watch_tags')
    .join('tags', 'tags.id', 'watch_tags.tag_id')
    .groupBy('watch_tags.watch_id')
    .select('watch_tags.watch_id')
    .select(db.raw('json_group_array(tags.name ORDER BY tags.name) AS tags'))
    .as('tagged');
  const rows = await heardWatches(db)
    .leftJoin('sections', 'sections.id', 'watches.section_id')
    .leftJoin(tagged, 'tagged.watch_id', 'watches.id')
    .groupByRaw(
      `watches.kind, watches.section_id, tagged.tags, tells, tells_to,
       CASE WHEN watches.id IN (SELECT value FROM json_each(?)) THEN watches.id END`,
      [JSON.stringify(namedIn(routes))],
    )
    .select('watches.kind', 'sections.name as section', 'tagged.tags')
    .select<Row[]>(
      db.raw(`${own('tells')} AS tells, ${own('tellsTo')} AS tells_to`),
      db.raw('json_group_array(watches.id) AS ids'),
    );
  const levels = await fetchLevels(db);
  return rows.map(({ kind, section, tags, ids: kept, tells, tells_to: tellsTo }) => {
    const ids = JSON.parse(kept) as number[];
    const said: Values = {
      ...(tells !== null && { tells }),
      ...(tellsTo !== null && { tellsTo: JSON.parse(tellsTo) as number[] }),
    };
    const { values } = resolve({ id: ids[0]!, kind, section, own: said }, levels);
    const telling = tellsOf(values as Parameters<typeof tellsOf>[0]);
    return {
      ids,
      facts: {
        id: ids[0]!,
        kind,
        section,
        tags: JSON.parse(tags ?? '[]') as string[],
        ...(telling && { tells: telling }),
      },
    };
  });
}

/** Some watches in the order of their names, or the first of them. */
export async function fetchInOrderOfNames(
  db: Db,
  ids: readonly number[],
  most?: number,
): Promise<{ id: number; name: string }[]> {
  const query = db('watches')
    .whereRaw('id IN (SELECT value FROM json_each(?))', [JSON.stringify(ids)])
    .orderByRaw('name COLLATE NOCASE, id')
    .select<{ id: number; name: string }[]>('id', 'name');
  return most === undefined ? query : query.limit(most);
}

/** The ids of all for which something holds. */
export function idsAmong(groups: readonly WatchesAlike[], holds: (facts: RoutedBy) => boolean): number[] {
  return groups.filter(({ facts }) => holds(facts)).flatMap(({ ids }) => ids);
}
