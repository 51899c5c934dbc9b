import type { EventEmitter } from 'node:events';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import type { Knex } from 'knex';
import type { Environment } from '@/core/settings/environment';
import { logError } from '@/server/base/log';
import type { ServerContext } from '@/server/context';
import { PictureShelf } from '@/server/pictures/shelf';
import { Drawer } from '@/server/workers/drawer';
import type { Vault } from '@/store/db/vault';
import type { Arrivals } from './arrivals';
import { SiteAssets } from './assets';
import { Copier } from './copying/copier';
import { Copies } from './copying/copies';
import { FollowDesk } from './follow';
import { LiveDesk } from './live';
import { PageLooks } from './looks';
import { PageIndex } from './page-index';
import type { Previews } from './previews';
import { PublicSite } from './public-site';
import { SelfTeller } from './self-teller';

export interface SiteParts {
  db: Knex;
  vault: Vault;
  hub: EventEmitter;
  environment: Environment;
  previews: Previews;
  arrivals: Arrivals;
  /** What use cases are given; asked for when something is done. */
  world: () => ServerContext;
  /** Where what was built stands. */
  folder: string;
  /** Wall-clock time. */
  now: () => number;
  /** Milliseconds of a clock nobody sets. */
  monotonic: () => number;
}

/** All that shows public pages, puts copies of them elsewhere, and tells by itself. */
export function openSite(parts: SiteParts) {
  const { db, vault, hub, environment, previews, arrivals, world, folder, now, monotonic } = parts;
  const { zone, baseUrl, dataFolder, copies: copiesFolder } = environment;
  const index = new PageIndex(db, monotonic);
  const live = new LiveDesk({ db, hub, index, wall: now, now: monotonic });
  const drawer = new Drawer(join(folder, 'draw-worker.js'), { folder: dataFolder, zone, baseUrl });
  const looks = new PageLooks();
  const assets = new SiteAssets(join(folder, 'site'));
  const { fileOf: lookFile, cssOf: lookOf } = looks;
  const pictures = new PictureShelf(db);
  const { draw } = drawer;
  const publicSite = new PublicSite({
    ...{
      db,
      index,
      assets,
      now,
      monotonic,
      zone,
      baseUrl,
      lookFile,
      lookOf,
      previews,
      draw,
      pictures,
      arrivals,
    },
    copies: new Copies({ rest: (ms) => sleep(ms), now: monotonic }),
    openLive: (request, response, entry, client) => live.openPage(request, response, entry, client),
    follow: new FollowDesk({ world, assets, now, monotonic, zone, lookFile }),
  });
  const copier = new Copier({
    ...{ db, index, site: assets, lookFile, lookOf, draw, pictures, vault, now, monotonic, zone },
    folder: copiesFolder,
    onError: (error) => logError('copies of public pages', error),
  });
  const selfTeller = new SelfTeller(world, (error) => logError('telling the public by itself', error));
  copier.start();
  selfTeller.start();
  return {
    publicSite,
    live,
    close: async (): Promise<void> => {
      selfTeller.stop();
      await copier.close();
      await drawer.close();
    },
  };
}
