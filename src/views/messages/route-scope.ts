import { covers, type Selection, type WatchFacts } from '@/core/telling/route';
import type { Db } from '@/store/db/connection';
import { fetchFactsOf } from '@/store/watches/watch-facts';
import { fetchInOrderOfNames, fetchWatchesAlike, idsAmong } from '@/store/watches/watches-alike';

/** What a route would be about today. */
export interface RouteScope {
  /** How many watches; those that are paused do not count. */
  watches: number;
  /** The first of them by name. */
  example: WatchFacts | null;
}

export async function fetchRouteScope(db: Db, selection: Selection): Promise<RouteScope> {
  const groups = await fetchWatchesAlike(db, [{ watches: selection }]);
  const ids = idsAmong(groups, (facts) => covers(selection, facts));
  const [first] = await fetchInOrderOfNames(db, ids, 1);
  const [example = null] = first ? await fetchFactsOf(db, [first.id]) : [];
  return { watches: ids.length, example };
}
