import { join } from 'node:path';
import { linkBase, type Environment } from '@/core/settings/environment';
import { lookupWith, parseHosts } from '@/probes/transport/lookup';
import { CalendarReader } from '@/server/workers/calendar-reader';
import { PastReader } from '@/server/workers/past-reader';
import { PictureReader } from '@/server/workers/picture-reader';
import type { World } from '@/cases/frame/world';

/** What each process that runs use cases has for itself. Threads begin with the first that is asked of them. */
export function ownPorts(environment: Environment, folder: string) {
  const calendars = new CalendarReader(join(folder, 'calendar-worker.js'));
  const pictures = new PictureReader(join(folder, 'picture-worker.js'));
  const past = new PastReader(join(folder, 'past-worker.js'), environment.dataFolder);
  const ports: Pick<World, 'place' | 'calendars' | 'pictures' | 'past' | 'nearPushes' | 'lookup' | 'now'> = {
    place: { linkBase: linkBase(environment), zone: environment.zone },
    ...{ calendars, pictures, past },
    nearPushes: environment.nearPushes,
    lookup: lookupWith(parseHosts(environment.hosts)),
    now: () => Date.now(),
  };
  const close = async () => {
    await calendars.close();
    await past.close();
    await pictures.close();
  };
  return { ports, close };
}
