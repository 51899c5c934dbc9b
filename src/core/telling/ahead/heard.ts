import { routesFor, type WatchFacts } from '../route';
import type { Setup } from '../telling';
import type { Topic } from '../topic';

/** What it is when a watch of a kind is down: any of these will do. */
const DOWN: Record<'checkin' | 'probe', readonly Topic[]> = {
  checkin: ['missed', 'failed', 'overlong'],
  probe: ['down'],
};

/** Whether somebody would hear of it if a watch went down, sooner or later. */
export function isHeard(watch: WatchFacts, { routes, channels }: Setup): boolean {
  const topics = DOWN[watch.kind === 'checkin' ? 'checkin' : 'probe'];
  return topics.some((topic) =>
    routesFor(routes, topic, watch).some((route) =>
      route.steps.some((step) => step.channels.some((id) => channels.has(id))),
    ),
  );
}
