import { hearersOf, hearOfAll, isHeard } from '@/core/telling/ahead/heard';
import { covers, type WatchFacts } from '@/core/telling/route';
import type { KeptRoute } from '@/core/telling/route-config';
import type { Setup } from '@/core/telling/telling';
import { routeNames, routeSentence } from '@/views/messages/route-names';
import type { Db } from '@/store/db/connection';
import { fetchRoutes } from '@/store/messages/routes';
import { fetchSetup } from '@/store/messages/setup';
import { fetchTellingThemselves } from '@/store/watches/telling-themselves';
import { countHeardWatches, fetchFactsOf, fetchWatchFacts } from '@/store/watches/watch-facts';

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
  /** By channel. */
  leaves: ReadonlyMap<number, Leaves>;
}

/** The watches that would tell nobody. */
export async function fetchUnheard(
  db: Db,
  watches: readonly WatchFacts[],
): Promise<{ id: number; name: string }[]> {
  const { setup } = await fetchSetup(db);
  return watches.filter((watch) => !isHeard(watch, setup)).map(({ id, name }) => ({ id, name }));
}

export interface Unheard {
  count: number;
  /** Some of them, by name. */
  first: { id: number; name: string }[];
}

/** Of all watches, those that would tell nobody. Where a route is about all, only those are read that have a say of their own. */
export async function fetchUnheardOfAll(db: Db): Promise<Unheard> {
  const { setup } = await fetchSetup(db);
  if (setup.channels.size === 0) {
    const first = await fetchWatchFacts(db, { limit: MOST_NAMED, offset: 0 });
    return { count: await countHeardWatches(db), first: first.map(({ id, name }) => ({ id, name })) };
  }
  const themselves = hearOfAll(setup) ? await fetchTellingThemselves(db) : null;
  const facts = themselves ? await fetchFactsOf(db, themselves) : await fetchWatchFacts(db);
  const unheard = facts.filter((watch) => !isHeard(watch, setup));
  return { count: unheard.length, first: unheard.slice(0, MOST_NAMED).map(({ id, name }) => ({ id, name })) };
}

/** The watches of which only one channel would hear, by that channel. */
function byOnlyHearer(watches: readonly WatchFacts[], setup: Setup): Map<number, WatchFacts[]> {
  const only = new Map<number, WatchFacts[]>();
  for (const watch of watches) {
    const [one, another] = hearersOf(watch, setup);
    if (one === undefined || another !== undefined) continue;
    const known = only.get(one);
    if (known) known.push(watch);
    else only.set(one, [watch]);
  }
  return only;
}

/** The watches somebody hears of now, and nobody would without a channel. */
export async function fetchLeftUnheard(db: Db, channelId: number): Promise<{ id: number; name: string }[]> {
  const { setup } = await fetchSetup(db);
  const left = byOnlyHearer(await fetchWatchFacts(db), setup).get(channelId) ?? [];
  return left.map(({ id, name }) => ({ id, name }));
}

/** So many watches that a channel leaves unheard are named. */
const MOST_NAMED = 5;

/** What would be told to nobody without a channel. */
export interface Leaves {
  names: string[];
  more: number;
}

function leavesOf(watches: readonly WatchFacts[]): Leaves {
  const names = watches.slice(0, MOST_NAMED).map(({ name }) => name);
  return { names, more: watches.length - names.length };
}

/** The routes as sentences, and the watches that would tell nobody. */
export async function fetchWhoHears(db: Db): Promise<WhoHears> {
  const kept = await fetchRoutes(db);
  const names = await routeNames(db, kept);
  const watches = await fetchWatchFacts(db);
  const { setup } = await fetchSetup(db);
  return {
    routes: kept.map((route) => ({
      route,
      sentence: routeSentence(route, names),
      watches: watches.filter((watch) => covers(route.watches, watch)).length,
    })),
    watches: watches.length,
    unheard: await fetchUnheard(db, watches),
    leaves: new Map([...byOnlyHearer(watches, setup)].map(([id, left]) => [id, leavesOf(left)])),
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
