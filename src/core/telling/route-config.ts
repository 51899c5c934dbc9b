import { SECOND_MS } from '@/core/time/units';
import type { Hours } from './hours';
import { NO_WATCHES, type Route, type Selection } from './route';
import { USUAL_TOPICS, type Topic } from './topic';

/** A route as it is kept and sent: lengths in seconds, as in all settings. */
export interface RouteConfig {
  watches: Selection;
  topics: Topic[];
  steps: { after: number; channels: number[] }[];
  /** All who heard are told again every so many seconds; null for never. */
  again: number | null;
  againMost: number | null;
  hours: Hours | null;
}

/** What a new route is until something is set: all that is a trouble, to nobody yet. */
export const USUAL_ROUTE: RouteConfig = {
  watches: { all: true, ...NO_WATCHES, except: NO_WATCHES },
  topics: USUAL_TOPICS,
  steps: [{ after: 0, channels: [] }],
  again: null,
  againMost: null,
  hours: null,
};

export interface KeptRoute extends RouteConfig {
  id: number;
  name: string;
  enabled: boolean;
}

/** A route as the life of what is said goes by it. */
export function routeOfConfig({ again, steps, ...rest }: KeptRoute): Route {
  return {
    ...rest,
    steps: steps.map(({ after, channels }) => ({ afterMs: after * SECOND_MS, channels })),
    againMs: again === null ? null : again * SECOND_MS,
  };
}
