import type { Urgency } from '@/core/settings/urgency';
import type { Hours } from './hours';
import { TOPIC_NAMES, type Topic } from './topic';

/** Watches by what they are; any of it will do. */
export interface WatchGroup {
  /** By name; the empty one is for watches without a section. */
  sections: readonly string[];
  tags: readonly string[];
  kinds: readonly string[];
  ids: readonly number[];
}

export const NO_WATCHES: WatchGroup = { sections: [], tags: [], kinds: [], ids: [] };

/** Which watches a route is about: all or a group, but some. */
export interface Selection extends WatchGroup {
  all: boolean;
  except: WatchGroup;
}

/** Who hears next, if nobody has taken it by then. */
export interface Step {
  /** Since it was noticed. */
  afterMs: number;
  channels: readonly number[];
}

/** Who hears what, when. */
export interface Route {
  id: number;
  name: string;
  enabled: boolean;
  watches: Selection;
  topics: readonly Topic[];
  /** In order; the first may have to wait too. */
  steps: readonly Step[];
  /** All who heard are told again after so long, until somebody has it; null for never. */
  againMs: number | null;
  /** No more often than this; null for no end. */
  againMost: number | null;
  hours: Hours | null;
}

/** What a watch says of who hears: channels of its own besides the routes, or in their place, or nobody. */
export interface OwnTelling {
  how: 'besides' | 'instead' | 'nobody';
  channels: readonly number[];
}

/** What a route looks at in a watch, as it is at that moment. */
export interface WatchFacts {
  id: number;
  name: string;
  kind: string;
  section: string | null;
  tags: readonly string[];
  urgency: Urgency;
  /** What to do when it is down: where that is written, and in a few words. */
  runbook?: { link: string; note: string };
  /** Who hears of it where routes have not the last word. */
  tells?: OwnTelling;
  /** The rehearsal in which its trouble is made up; left out for what is real. */
  drill?: number;
}

/** What decides which routes are about a watch. */
export type RoutedBy = Pick<WatchFacts, 'id' | 'kind' | 'section' | 'tags' | 'tells'>;

function isIn(group: WatchGroup, watch: RoutedBy): boolean {
  return (
    group.ids.includes(watch.id) ||
    group.kinds.includes(watch.kind) ||
    group.sections.includes(watch.section ?? '') ||
    watch.tags.some((tag) => group.tags.includes(tag))
  );
}

/** Whether it takes watches in, or leaves them out, by the name of a section or a tag. */
export function goesBy({ except, ...group }: Selection, of: 'sections' | 'tags', name: string): boolean {
  return group[of].includes(name) || except[of].includes(name);
}

/** Whether a route is about a watch. */
export function covers({ all, except, ...group }: Selection, watch: RoutedBy): boolean {
  return (all || isIn(group, watch)) && !isIn(except, watch);
}

/**
 * Whether a route is about any of some watches, of those that are not to be told of by anybody the rest; one about all is,
 * though there were none.
 */
export function concerns({ watches: selection }: Route, watches: readonly WatchFacts[]): boolean {
  if (watches.length === 0) return selection.all;
  return watches.some((watch) => watch.tells?.how !== 'nobody' && covers(selection, watch));
}

/** By which a watch's own channels hear at once; its id is that of no other route. */
function ownRoute({ id, tells }: RoutedBy): Route | null {
  if (!tells || tells.how === 'nobody' || tells.channels.length === 0) return null;
  return {
    id: -id,
    name: '',
    enabled: true,
    watches: { all: false, ...NO_WATCHES, ids: [id], except: NO_WATCHES },
    topics: TOPIC_NAMES,
    steps: [{ afterMs: 0, channels: tells.channels }],
    againMs: null,
    againMost: null,
    hours: null,
  };
}

/** A route by its id, the own one of a watch too; undefined where it is gone or off. */
export function routeOf(routes: readonly Route[], id: number, watch: WatchFacts | null): Route | undefined {
  const own = watch && id === -watch.id ? ownRoute(watch) : null;
  return own ?? routes.find((one) => one.id === id && one.enabled);
}

/**
 * The routes that something goes by, in the order they are kept, and then by the watch's own; what is about no watch goes
 * by its topic alone.
 */
export function routesFor(routes: readonly Route[], topic: Topic, watch: RoutedBy | null): Route[] {
  const own = watch && ownRoute(watch);
  const how = watch?.tells?.how;
  const shared = how === 'instead' || how === 'nobody' ? [] : sharedFor(routes, topic, watch);
  return own ? [...shared, own] : shared;
}

function sharedFor(routes: readonly Route[], topic: Topic, watch: RoutedBy | null): Route[] {
  return routes.filter(
    (route) =>
      route.enabled && route.topics.includes(topic) && (watch === null || covers(route.watches, watch)),
  );
}
