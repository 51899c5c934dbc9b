import type { Db } from '../store/connection';
import { fetchSectionNames, fetchWatches } from '../store/watches';
import { kindChoices } from './kind-choices';

/** What the form for a watch offers to choose from; the watch itself is left out. */
export async function fetchFormChoices(db: Db, watchId: number | null) {
  const watches = await fetchWatches(db);
  return {
    kinds: kindChoices(),
    sections: await fetchSectionNames(db),
    watches: watches.filter((watch) => watch.id !== watchId).map(({ id, name }) => ({ id, name })),
  };
}
