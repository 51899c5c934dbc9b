import { covers, type WatchFacts } from '@/core/telling/route';
import type { KeptRoute } from '@/core/telling/route-config';
import type { Setup } from '@/core/telling/telling';
import type { Topic } from '@/core/telling/topic';
import { routeNames, routeSentence } from '@/views/messages/route-names';
import type { Db } from '@/store/db/connection';
import { fetchRoutes } from '@/store/messages/routes';
import { fetchSetup } from '@/store/messages/setup';
import { fetchWatchFacts } from '@/store/watches/watch-facts';

export interface RouteView {
  route: KeptRoute;
  sentence: string;
  /** How many watches it is about. */
  watches: number;
}

export interface WhoHears {
  routes: RouteView[];
  /** All that are looked at or listened to. */
  watches: number;
  unheard: { id: number; name: string }[];
}

/** What it is when a watch of a kind is down: any of these will do. */
const DOWN: Record<'checkin' | 'probe', readonly Topic[]> = {
  checkin: ['missed', 'failed', 'overlong'],
  probe: ['down'],
};

/** Whether somebody would hear of it if a watch went down, sooner or later. */
function isHeard(watch: WatchFacts, { routes, channels }: Setup): boolean {
  const topics = DOWN[watch.kind === 'checkin' ? 'checkin' : 'probe'];
  return routes.some(
    (route) =>
      route.enabled &&
      topics.some((topic) => route.topics.includes(topic)) &&
      covers(route.watches, watch) &&
      route.steps.some((step) => step.channels.some((id) => channels.has(id))),
  );
}

/** The watches that would tell nobody. */
export async function fetchUnheard(
  db: Db,
  watches: readonly WatchFacts[],
): Promise<{ id: number; name: string }[]> {
  const { setup } = await fetchSetup(db);
  return watches.filter((watch) => !isHeard(watch, setup)).map(({ id, name }) => ({ id, name }));
}

/** The routes as sentences, and the watches that would tell nobody. */
export async function fetchWhoHears(db: Db): Promise<WhoHears> {
  const kept = await fetchRoutes(db);
  const names = await routeNames(db, kept);
  const watches = await fetchWatchFacts(db);
  return {
    routes: kept.map((route) => ({
      route,
      sentence: routeSentence(route, names),
      watches: watches.filter((watch) => covers(route.watches, watch)).length,
    })),
    watches: watches.length,
    unheard: await fetchUnheard(db, watches),
  };
}

/** What a route can be about, by name. */
export interface RouteChoices {
  channels: { id: number; name: string }[];
  sections: string[];
  tags: string[];
  kinds: { id: string; title: string }[];
  watches: WatchFacts[];
}
