import { Engine, type EngineOptions } from '@/engine/engine';
import { lookupWith } from '@/probes/transport/lookup';
import { openVault } from '@/store/db/vault';
import { saveNewChannel } from '@/store/messages/channels';
import type { TempStore } from './helpers';

/** An engine on a database of its own, with real clocks; not begun yet. */
export function engineOn(
  store: TempStore,
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
      onNews: () => undefined,
      ...rest,
    },
    () => undefined,
  );
}

/** Connects the crew's chat room; answers the channel's id. */
export function makeRoom({ db }: TempStore, settings: object = {}, createdAt = Date.now()): Promise<number> {
  return saveNewChannel(db, { kind: 'webhook', name: 'Crew room', settings, enabled: true, createdAt });
}
