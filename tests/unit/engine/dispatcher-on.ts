import { NO_HOUSE } from '@/channels/frame/house';
import { Dispatcher } from '@/engine/messages/dispatcher';
import { openVault } from '@/store/db/vault';
import { saveNewChannel } from '@/store/messages/channels';
import type { TempStore } from '../../integration/helpers';

interface Options {
  now: () => number;
  /** Throws what goes wrong, where it is not said otherwise. */
  onError?: (error: unknown) => void;
}

/** What delivers the messages of a store. */
export function dispatcherOn({ db, folder }: TempStore, { now, onError }: Options): Dispatcher {
  return new Dispatcher({
    db,
    vault: openVault(folder),
    now,
    zone: 'UTC',
    linkBase: 'http://desk.test',
    onDelivered: () => undefined,
    house: NO_HOUSE,
    onError:
      onError ??
      ((error) => {
        throw error;
      }),
  });
}

/** Connects a chat room that is found under its name. */
export function connectRoom(
  { db }: TempStore,
  base: string,
  name: string,
  createdAt: number,
): Promise<number> {
  return saveNewChannel(db, {
    kind: 'webhook',
    name,
    settings: { address: `${base}/${name}`, user: '', password: '' },
    enabled: true,
    createdAt,
  });
}
