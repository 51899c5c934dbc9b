import type { Urgency } from '@/core/settings/urgency';
import type { Hours } from './hours';
import type { Topic } from './topic';

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
  /** The rehearsal in which its trouble is made up; left out for what is real. */
  drill?: number;
}

function isIn(group: WatchGroup, watch: WatchFacts): boolean {
  return (
    group.ids.includes(watch.id) ||
    group.kinds.includes(watch.kind) ||
    group.sections.includes(watch.section ?? '') ||
    watch.tags.some((tag) => group.tags.includes(tag))
  );
}

/** Whether a route is about a watch. */
export function covers({ all, except, ...group }: Selection, watch: WatchFacts): boolean {
  return (all || isIn(group, watch)) && !isIn(except, watch);
}

/** The routes that something goes by, in the order they are kept; what is about no watch goes by its topic alone. */
export function routesFor(routes: readonly Route[], topic: Topic, watch: WatchFacts | null): Route[] {
  return routes.filter(
    (route) =>
      route.enabled && route.topics.includes(topic) && (watch === null || covers(route.watches, watch)),
  );
}
