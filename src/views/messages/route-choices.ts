import { probeKinds } from '@/probes/kinds/registry';
import type { Db } from '@/store/db/connection';
import { fetchChannels } from '@/store/messages/channels';
import { fetchSectionNames } from '@/store/watches/sections';
import { fetchTags } from '@/store/watches/tags';
import { fetchWatchFacts } from '@/store/watches/watch-facts';
import type { RouteChoices } from './who-hears';

/** What a route can be about, and who can hear by it. */
export async function fetchRouteChoices(db: Db): Promise<RouteChoices> {
  const watches = await fetchWatchFacts(db);
  const used = new Set(watches.map(({ kind }) => kind));
  const kinds = [
    { id: 'checkin', title: 'check-in' },
    ...probeKinds().map(({ id, title }) => ({ id, title })),
  ];
  return {
    channels: (await fetchChannels(db)).map(({ id, name }) => ({ id, name })),
    sections: await fetchSectionNames(db),
    tags: (await fetchTags(db)).map(({ name }) => name),
    kinds: kinds.filter(({ id }) => used.has(id)),
    watches,
  };
}
