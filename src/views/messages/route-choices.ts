import type { Selection } from '@/core/telling/route';
import { probeKinds } from '@/probes/kinds/registry';
import type { Db } from '@/store/db/connection';
import { fetchChannels } from '@/store/messages/channels';
import { fetchPickable } from '@/store/watches/pickable';
import { fetchSectionNames } from '@/store/watches/sections';
import { fetchTags } from '@/store/watches/tags';
import { fetchUsedKinds } from '@/store/watches/watch-facts';
import { fetchRouteScope, type RouteScope } from './route-scope';

/** What a route can be about, and who can hear by it. */
export interface RouteChoices {
  channels: { id: number; name: string }[];
  sections: string[];
  tags: string[];
  kinds: { id: string; title: string }[];
  /** The first of them, and those the route names. */
  watches: { id: number; name: string }[];
  /** What the route is about as it is kept. */
  scope: RouteScope;
}

export async function fetchRouteChoices(db: Db, selection: Selection): Promise<RouteChoices> {
  const used = await fetchUsedKinds(db);
  const kinds = [
    { id: 'checkin', title: 'check-in' },
    ...probeKinds().map(({ id, title }) => ({ id, title })),
  ];
  return {
    channels: (await fetchChannels(db)).map(({ id, name }) => ({ id, name })),
    sections: await fetchSectionNames(db),
    tags: (await fetchTags(db)).map(({ name }) => name),
    kinds: kinds.filter(({ id }) => used.has(id)),
    watches: await fetchPickable(db, [...selection.ids, ...selection.except.ids]),
    scope: await fetchRouteScope(db, selection),
  };
}
