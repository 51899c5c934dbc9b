import { routesFor, type Route, type RoutedBy } from '../route';
import type { Setup } from '../telling';
import type { Topic } from '../topic';

/** What it is when a watch of a kind is down: any of these will do. */
const DOWN: Record<'checkin' | 'probe', readonly Topic[]> = {
  checkin: ['missed', 'failed', 'overlong'],
  probe: ['down'],
};

/** The channels that would hear of it if a watch went down, sooner or later. */
export function hearersOf(watch: RoutedBy, { routes, channels }: Setup): Set<number> {
  const topics = DOWN[watch.kind === 'checkin' ? 'checkin' : 'probe'];
  const hearers = new Set<number>();
  for (const topic of topics) {
    for (const { steps } of routesFor(routes, topic, watch)) {
      for (const step of steps) for (const id of step.channels) if (channels.has(id)) hearers.add(id);
    }
  }
  return hearers;
}

/** Whether routes see to it that somebody hears of any watch that says nothing of it itself. */
export function hearOfAll({ routes, channels }: Setup): boolean {
  const hears = ({ enabled, watches, topics, steps }: Route, topic: Topic) =>
    enabled &&
    watches.all &&
    Object.values<readonly unknown[]>({ ...watches.except }).every((some) => some.length === 0) &&
    topics.includes(topic) &&
    steps.some((step) => step.channels.some((id) => channels.has(id)));
  return Object.values(DOWN).every((topics) =>
    topics.some((topic) => routes.some((route) => hears(route, topic))),
  );
}

/** Whether somebody would. */
export function isHeard(watch: RoutedBy, setup: Setup): boolean {
  return hearersOf(watch, setup).size > 0;
}
