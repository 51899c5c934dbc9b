import type { Knex } from 'knex';
import { Teller } from '@/engine/messages/teller';
import { Engine, type EngineOptions } from '@/engine/engine';
import { lookupWith } from '@/probes/transport/lookup';
import { openVault } from '@/store/db/vault';
import { saveNewChannel } from '@/store/messages/channels';
import { addToFirstRoute } from '@/store/messages/routes';
import type { TempStore } from './helpers';

/** An engine on a database of its own, with real clocks; not begun yet. */
export function engineOn(
  store: Pick<TempStore, 'db' | 'folder'>,
  rest: Partial<EngineOptions> & Pick<EngineOptions, 'onError'>,
): Engine {
  return new Engine(
    {
      db: store.db,
      vault: openVault(store.folder),
      now: () => Date.now(),
      monotonic: () => performance.now(),
      lookup: lookupWith(new Map()),
      zone: 'UTC',
      linkBase: 'http://desk.test',
      looksAtOnce: 64,
      looksPerHost: 8,
      keepFindingsDays: 30,
      onNews: () => true,
      ...rest,
    },
    () => undefined,
  );
}

/** Connects the crew's chat room; answers the channel's id. */
export async function makeRoom(
  { db }: TempStore,
  settings: object = {},
  createdAt = Date.now(),
): Promise<number> {
  const id = await saveNewChannel(db, {
    kind: 'webhook',
    name: 'Crew room',
    settings,
    enabled: true,
    createdAt,
  });
  await addToFirstRoute(db, id);
  return id;
}

/** What takes happenings through the routes, on a clock of the test's own. */
export function tellerOn(db: Knex, now: () => number, onError?: (error: unknown) => void): Teller {
  const fail = (error: unknown) => {
    throw error;
  };
  return new Teller({ db, now, zone: 'UTC', onSaid: () => undefined, onError: onError ?? fail });
}
