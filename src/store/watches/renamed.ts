import { goesBy } from '@/core/telling/route';
import { fetchRoutes, saveRouteChange } from '@/store/messages/routes';
import type { Db } from '@/store/db/connection';
import { fetchFilters, saveFilter } from './filters';

/** Names, of which one gives way to another. */
function renamed(names: readonly string[], before: string, after: string): string[] {
  return names.map((name) => (name === before ? after : name));
}

/** A section or a tag is called otherwise: routes and kept filters that choose by its name go on meaning it. */
export async function saveRenamed(
  trx: Db,
  of: 'sections' | 'tags',
  before: string,
  after: string,
): Promise<void> {
  for (const { id, ...route } of await fetchRoutes(trx)) {
    const { watches } = route;
    if (!goesBy(watches, of, before)) continue;
    const except = { ...watches.except, [of]: renamed(watches.except[of], before, after) };
    const chosen = { ...watches, [of]: renamed(watches[of], before, after), except };
    await saveRouteChange(trx, id, { ...route, watches: chosen });
  }
  for (const { name, filter } of await fetchFilters(trx)) {
    if (!filter[of].includes(before)) continue;
    await saveFilter(trx, name, { ...filter, [of]: renamed(filter[of], before, after) });
  }
}
