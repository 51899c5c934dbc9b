import type { Db } from '@/store/db/connection';
import { fetchChannels } from '@/store/messages/channels';
import { fetchLevels } from '@/store/watches/cascade';
import { fetchSectionNames } from '@/store/watches/sections';
import { fetchTags } from '@/store/watches/tags';
import { fetchNamedWatches } from '@/store/watches/watches';
import { kindChoices } from './kind-choices';

/** What the form for a watch offers to choose from; the watch itself is left out. */
export async function fetchFormChoices(db: Db, watchId: number | null) {
  const watches = await fetchNamedWatches(db);
  return {
    kinds: kindChoices(),
    sections: await fetchSectionNames(db),
    tags: await fetchTags(db),
    levels: await fetchLevels(db),
    channels: (await fetchChannels(db)).map(({ id, name }) => ({ id, name })),
    watches: watches.filter((watch) => watch.id !== watchId).map(({ id, name }) => ({ id, name })),
  };
}
