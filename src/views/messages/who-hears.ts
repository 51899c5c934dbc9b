import { isHeard } from '@/core/telling/ahead/heard';
import { covers, type WatchFacts } from '@/core/telling/route';
import type { KeptRoute } from '@/core/telling/route-config';
import type { Setup } from '@/core/telling/telling';
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

/** The watches somebody hears of now, and nobody would without a channel. */
function leftUnheard(watches: readonly WatchFacts[], setup: Setup, channelId: number): WatchFacts[] {
  const channels = new Set([...setup.channels].filter((id) => id !== channelId));
  return watches.filter((watch) => isHeard(watch, setup) && !isHeard(watch, { ...setup, channels }));
}

export async function fetchLeftUnheard(db: Db, channelId: number): Promise<{ id: number; name: string }[]> {
  const { setup } = await fetchSetup(db);
  return leftUnheard(await fetchWatchFacts(db), setup, channelId).map(({ id, name }) => ({ id, name }));
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
  const { setup, channels } = await fetchSetup(db);
  return {
    routes: kept.map((route) => ({
      route,
      sentence: routeSentence(route, names),
      watches: watches.filter((watch) => covers(route.watches, watch)).length,
    })),
    watches: watches.length,
    unheard: await fetchUnheard(db, watches),
    leaves: new Map(channels.map(({ id }) => [id, leavesOf(leftUnheard(watches, setup, id))])),
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
