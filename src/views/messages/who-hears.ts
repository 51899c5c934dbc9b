import { hearersOf, hearOfAll, isHeard } from '@/core/telling/ahead/heard';
import { covers } from '@/core/telling/route';
import type { KeptRoute } from '@/core/telling/route-config';
import type { Setup } from '@/core/telling/telling';
import { routeNames, routeSentence } from '@/views/messages/route-names';
import type { Db } from '@/store/db/connection';
import { fetchRoutes } from '@/store/messages/routes';
import { fetchSetup } from '@/store/messages/setup';
import { fetchTellingThemselves } from '@/store/watches/telling-themselves';
import { fetchFactsOf } from '@/store/watches/watch-facts';
import {
  fetchInOrderOfNames,
  fetchWatchesAlike,
  idsAmong,
  type WatchesAlike,
} from '@/store/watches/watches-alike';

export interface RouteView {
  route: KeptRoute;
  sentence: string;
  /** How many watches it is about. */
  watches: number;
}

/** Some watches: how many, and the first of them by name. */
export interface Some {
  count: number;
  first: { id: number; name: string }[];
}

export interface WhoHears {
  routes: RouteView[];
  /** All that are looked at or listened to. */
  watches: number;
  /** Those that would tell nobody. */
  unheard: Some;
  /** Those that would tell nobody without a channel, by the channel. */
  leaves: ReadonlyMap<number, Some>;
}

/** So many watches are named of those nobody hears of. */
const MOST_NAMED = 5;

async function someOf(db: Db, ids: readonly number[]): Promise<Some> {
  const first = ids.length === 0 ? [] : await fetchInOrderOfNames(db, ids, MOST_NAMED);
  return { count: ids.length, first };
}

/** Of all watches, those that would tell nobody. Where a route is about all, only those are read that have a say of their own. */
export async function fetchUnheardOfAll(db: Db): Promise<Some> {
  const { setup } = await fetchSetup(db);
  const themselves = hearOfAll(setup) ? await fetchTellingThemselves(db) : null;
  if (!themselves) {
    return someOf(
      db,
      idsAmong(await fetchWatchesAlike(db, setup.routes), (facts) => !isHeard(facts, setup)),
    );
  }
  const unheard = (await fetchFactsOf(db, themselves)).filter((watch) => !isHeard(watch, setup));
  return someOf(
    db,
    unheard.map(({ id }) => id),
  );
}

/** The ids of watches of which only one channel would hear, by that channel. */
function byOnlyHearer(groups: readonly WatchesAlike[], setup: Setup): Map<number, number[]> {
  const only = new Map<number, number[]>();
  for (const { facts, ids } of groups) {
    const [one, another] = hearersOf(facts, setup);
    if (one === undefined || another !== undefined) continue;
    only.set(one, [...(only.get(one) ?? []), ...ids]);
  }
  return only;
}

/** The watches somebody hears of now, and nobody would without a channel. */
export async function fetchLeftUnheard(db: Db, channelId: number): Promise<{ id: number; name: string }[]> {
  const { setup } = await fetchSetup(db);
  return fetchInOrderOfNames(
    db,
    byOnlyHearer(await fetchWatchesAlike(db, setup.routes), setup).get(channelId) ?? [],
  );
}

/** The routes as sentences, and the watches that would tell nobody. */
export async function fetchWhoHears(db: Db): Promise<WhoHears> {
  const kept = await fetchRoutes(db);
  const names = await routeNames(db, kept);
  const { setup } = await fetchSetup(db);
  const groups = await fetchWatchesAlike(db, setup.routes);
  const leaves = new Map<number, Some>();
  for (const [id, ids] of byOnlyHearer(groups, setup)) leaves.set(id, await someOf(db, ids));
  return {
    routes: kept.map((route) => ({
      route,
      sentence: routeSentence(route, names),
      watches: idsAmong(groups, (facts) => covers(route.watches, facts)).length,
    })),
    watches: groups.reduce((sum, { ids }) => sum + ids.length, 0),
    unheard: await someOf(
      db,
      idsAmong(groups, (facts) => !isHeard(facts, setup)),
    ),
    leaves,
  };
}
