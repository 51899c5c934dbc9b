import type { ListPage } from '@/store/db/list-page';
import { fetchDeliveries, fetchDelivery, type KeptDelivery } from '@/store/messages/deliveries';
import { orNotFound } from '@/cases/frame/find';
import { asks } from '@/cases/frame/use-case';

export const listDeliveries = asks(
  'listDeliveries',
  'look',
  ({ db }, { page }: { page: ListPage }): Promise<KeptDelivery[]> => fetchDeliveries(db, page),
);

export const getDelivery = asks(
  'getDelivery',
  'look',
  async ({ db }, { id }: { id: number }): Promise<KeptDelivery> =>
    orNotFound(await fetchDelivery(db, id), `delivery ${id}`),
);
