import type { Db } from '@/store/db/connection';
import { fetchChannels } from '@/store/messages/channels';
import { fetchLevels } from '@/store/watches/cascade';
import { fetchSectionNames } from '@/store/watches/sections';
import { fetchTags } from '@/store/watches/tags';
import { partsOf } from '@/probes/diagnosis/watch-target';
import { fetchPickable, fetchSharedRests } from '@/store/watches/pickable';
import type { Watch } from '@/store/watches/watches';
import { kindChoices } from './kind-choices';

/** What the form for a watch offers to choose from; the watch itself is left out. */
export async function fetchFormChoices(db: Db, watch: Watch | null) {
  const chosen = watch ? [...(watch.config.restsOn ?? []), ...partsOf(watch)] : [];
  const watches = await fetchPickable(db, [...chosen, ...(await fetchSharedRests(db))]);
  return {
    kinds: kindChoices(),
    sections: await fetchSectionNames(db),
    tags: await fetchTags(db),
    levels: await fetchLevels(db),
    channels: (await fetchChannels(db)).map(({ id, name }) => ({ id, name })),
    watches: watches.filter(({ id }) => id !== watch?.id),
  };
}
