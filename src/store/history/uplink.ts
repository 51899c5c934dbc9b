import type { Knex } from 'knex';
import type { KeptMessage } from '@/core/messages/kept-message';
import { transaction, type Db } from '@/store/db/connection';
import { turnTo, type ListPage } from '@/store/db/list-page';
import { saveMessage } from '@/store/messages/write-message';
import { fetchSetting, saveSetting } from '@/store/db/settings';

const SETTING = 'own_line';

/** Up to five addresses, "host" or "host:port", that tell whether this machine can reach out. */
export async function fetchUplinkAddresses(db: Db): Promise<string[]> {
  const text = await fetchSetting(db, SETTING);
  return text ? (JSON.parse(text) as string[]) : [];
}

export async function saveUplinkAddresses(db: Db, addresses: readonly string[]): Promise<void> {
  await saveSetting(db, SETTING, JSON.stringify(addresses));
}

export interface UplinkLoss {
  id: number;
  began: number;
  ended: number | null;
}

/** Times in which this machine could not reach out. */
export async function fetchUplinkLosses(db: Db, page: ListPage): Promise<UplinkLoss[]> {
  return turnTo(db('line_losses').select<UplinkLoss[]>('id', 'began', 'ended'), page, {
    at: 'began',
    id: 'id',
    end: 'ended',
  });
}

export async function fetchOpenUplinkLoss(db: Db): Promise<UplinkLoss | null> {
  return (await db('line_losses').whereNull('ended').first('id', 'began', 'ended')) ?? null;
}

/** Notes that the line is lost, with the one message about it. */
export async function saveUplinkLost(db: Knex, began: number): Promise<void> {
  await transaction(db, async (trx) => {
    const event = { kind: 'line' as const, began, ended: null };
    const messageId = await saveMessage(trx, { event, watchName: '', watchId: null, at: began });
    await trx('line_losses').insert({ began, ended: null, message_id: messageId });
  });
}

/** Notes that the line is back; the message says so too where it has not got through yet, and goes out now. */
export async function saveUplinkBack(db: Knex, ended: number): Promise<void> {
  await transaction(db, async (trx) => {
    const loss = await trx('line_losses').whereNull('ended').first();
    if (!loss) return;
    await trx('line_losses').where({ id: loss.id }).update({ ended });
    const kept: KeptMessage = { event: { kind: 'line', began: loss.began, ended }, watchName: '' };
    if (loss.message_id === null) return;
    await trx('messages')
      .where({ id: loss.message_id })
      .update({ event: JSON.stringify(kept) });
    await trx('deliveries')
      .where({ message_id: loss.message_id, state: 'waiting' })
      .update({ next_at: ended });
  });
}
