import type { Knex } from 'knex';
import { transaction, type Db } from '@/store/db/connection';
import { turnTo, type ListPage } from '@/store/db/list-page';
import type { Happening } from '@/core/telling/telling';
import { saveHappening } from '@/store/messages/happenings';
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

function happening(began: number, ended: number | null): Happening {
  const phase = ended === null ? 'opens' : 'closes';
  return { thread: 'line', phase, watch: null, event: { kind: 'line', began, ended } };
}

/** Notes that the line is lost, which may be told. */
export async function saveUplinkLost(db: Knex, began: number): Promise<void> {
  await transaction(db, async (trx) => {
    await saveHappening(trx, happening(began, null), began);
    await trx('line_losses').insert({ began, ended: null });
  });
}

/** Notes that the line is back. */
export async function saveUplinkBack(db: Knex, ended: number): Promise<void> {
  await transaction(db, async (trx) => {
    const loss = await trx('line_losses').whereNull('ended').first();
    if (!loss) return;
    await trx('line_losses').where({ id: loss.id }).update({ ended });
    await saveHappening(trx, happening(loss.began, ended), ended);
  });
}
