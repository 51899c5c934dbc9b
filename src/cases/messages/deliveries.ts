import type { ListPage } from '@/store/db/list-page';
import {
  fetchDeliveries,
  fetchDelivery,
  fetchDeliveryStory,
  saveAgain,
  type DeliveryFilter,
  type DeliveryStory,
  type KeptDelivery,
} from '@/store/messages/sent';
import { orNotFound } from '@/cases/frame/find';
import { Refusal } from '@/cases/frame/refusal';
import { asIs, asks, changes } from '@/cases/frame/use-case';
import { fetchChannel } from '@/store/messages/channels';

export const listDeliveries = asks(
  'listDeliveries',
  'look',
  ({ db }, { page, filter }: { page: ListPage; filter: DeliveryFilter }): Promise<KeptDelivery[]> =>
    fetchDeliveries(db, page, filter),
);

export const getDelivery = asks(
  'getDelivery',
  'look',
  async ({ db }, { id }: { id: number }): Promise<KeptDelivery> =>
    orNotFound(await fetchDelivery(db, id), `delivery ${id}`),
);

/** All that is known of one delivery: its words, each try, why it went there, and why others did not hear. */
export const getDeliveryStory = asks(
  'getDeliveryStory',
  'look',
  async ({ db, world }, { id }: { id: number }): Promise<DeliveryStory> => {
    return orNotFound(await fetchDeliveryStory(db, id, world.place), `delivery ${id}`);
  },
);

/** Sends the same message once more to the same channel. */
export const sendAgain = changes(
  'sendAgain',
  'operate',
  asIs<{ id: number }>,
  async (act, { id }): Promise<KeptDelivery> => {
    const before = orNotFound(await fetchDelivery(act.trx, id), `delivery ${id}`);
    if (before.state === 'waiting') {
      throw new Refusal('delivery.waiting', `This message is still on its way to “${before.channel}”.`);
    }
    const channel = await fetchChannel(act.trx, before.channelId);
    if (!channel?.enabled) {
      throw new Refusal(
        'channel.rests',
        `“${before.channel}” rests: nothing is sent there until it is woken.`,
      );
    }
    const made = orNotFound(await saveAgain(act.trx, id, act.now), `delivery ${id}`);
    act.about({ kind: 'channel', id: channel.id, name: channel.name });
    act.afterwards(() => act.world.engine.call('channelsChanged', {}).catch(() => undefined));
    return orNotFound(await fetchDelivery(act.trx, made), `delivery ${made}`);
  },
);
