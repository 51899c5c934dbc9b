import type { Db } from '@/store/db/connection';
import { fetchSections } from '@/store/watches/sections';
import type { WatchWithStatus } from '@/store/watches/watches';
import type { Call } from '@/api/route';
import { watchShape, type Places } from '@/api/shapes';

async function placesOf({ base, world }: Call, db: Db): Promise<Places> {
  const sections = await fetchSections(db);
  return {
    base,
    mailDomain: (await world.mailEndpoint.state()).domain,
    now: world.now(),
    sectionIds: new Map(sections.map(({ id, name }) => [name, id])),
  };
}

export async function tellWatch(call: Call, watch: WatchWithStatus, db: Db) {
  return watchShape(watch, await placesOf(call, db));
}

export async function tellWatches(call: Call, watches: readonly WatchWithStatus[], db: Db) {
  const places = await placesOf(call, db);
  return watches.map((watch) => watchShape(watch, places));
}
