import { routeOfConfig, type KeptRoute } from '@/core/telling/route-config';
import { routeInWords, type RouteNames } from '@/core/telling/route-words';
import { probeKind } from '@/probes/kinds/registry';
import type { Db } from '@/store/db/connection';
import { fetchChannels } from '@/store/messages/channels';
import { fetchWatchNames } from '@/store/watches/watch-facts';

/** What some routes name by id, by name; nothing else is read. */
export async function routeNames(db: Db, routes: readonly KeptRoute[]): Promise<RouteNames> {
  const ids = routes.flatMap(({ watches }) => [...watches.ids, ...watches.except.ids]);
  const watches = await fetchWatchNames(db, ids);
  const channels = new Map((await fetchChannels(db)).map(({ id, name }) => [id, name]));
  return {
    channel: (id) => channels.get(id) ?? 'a channel that has gone',
    watch: (id) => watches.get(id) ?? 'a watch that has gone',
    kind: (id) => (id === 'checkin' ? 'check-in' : (probeKind(id)?.title ?? id)),
  };
}

/** A route as a person would say it. */
export function routeSentence(route: KeptRoute, names: RouteNames): string {
  return routeInWords(routeOfConfig(route), names);
}
