import { routeOfConfig } from '@/core/telling/route-config';
import { USUAL_FOLDING, type Setup } from '@/core/telling/telling';
import type { Db } from '@/store/db/connection';
import { fetchChannels, type Channel } from './channels';
import { fetchRoutes } from './routes';

/** The routes and channels as they are now. */
export async function fetchSetup(db: Db): Promise<{ setup: Setup; channels: Channel[] }> {
  const channels = await fetchChannels(db);
  const setup = {
    routes: (await fetchRoutes(db)).map(routeOfConfig),
    channels: new Set(channels.filter(({ enabled }) => enabled).map(({ id }) => id)),
    folding: USUAL_FOLDING,
  };
  return { setup, channels };
}
