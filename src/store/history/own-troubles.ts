import type { Knex } from 'knex';
import type { MessageEvent } from '@/core/messages/message';
import type { CauseDetail } from '@/core/causes/causes';
import type { OwnTroubleCode } from '@/core/causes/own-trouble';
import { transaction, type Db } from '@/store/db/connection';
import { saveHappening } from '@/store/messages/happenings';
import type { OwnTroubleRow } from '@/store/db/tables';

export interface OwnTrouble {
  id: number;
  code: OwnTroubleCode;
  /** What it is about, where there may be several: a channel's id. Empty for the whole machine. */
  subject: string;
  detail: CauseDetail;
  began: number;
  ended: number | null;
}

function troubleOf(row: OwnTroubleRow): OwnTrouble {
  const { id, code, subject, began, ended } = row;
  return { id, code, subject, began, ended, detail: JSON.parse(row.detail) as CauseDetail };
}

export async function fetchOpenOwnTroubles(db: Db): Promise<OwnTrouble[]> {
  return (await db('own_troubles').whereNull('ended').orderBy('began').limit(100)).map(troubleOf);
}

/** The newest, over or not. */
export async function fetchOwnTroubles(db: Db, limit: number): Promise<OwnTrouble[]> {
  return (await db('own_troubles').orderBy('began', 'desc').limit(limit)).map(troubleOf);
}

export interface NewOwnTrouble {
  code: OwnTroubleCode;
  subject?: string;
  detail: CauseDetail;
  at: number;
  /** Set where it is over as it is noted. */
  ended?: number;
  /** False where it is only noted. */
  told: boolean;
}

type Told = Omit<Extract<MessageEvent, { kind: 'own' }>, 'kind'>;

type Phase = 'opens' | 'closes' | 'once';

async function tell(trx: Db, phase: Phase, subject: string, told: Told, at: number): Promise<void> {
  const event = { kind: 'own' as const, ...told };
  await saveHappening(trx, { thread: `own ${told.code} ${subject}`, phase, watch: null, event }, at);
}

/** Notes a trouble of our own, with the one message about it; one that is open already is only brought up to date. */
export async function saveOwnTrouble(db: Knex, trouble: NewOwnTrouble): Promise<boolean> {
  const { code, subject = '', at, ended = null, told } = trouble;
  const detail = JSON.stringify(trouble.detail);
  return transaction(db, async (trx) => {
    const open = await trx('own_troubles').where({ code, subject }).whereNull('ended').first('id');
    if (open && ended === null) {
      await trx('own_troubles').where({ id: open.id }).update({ detail });
      return false;
    }
    const phase = ended === null ? 'opens' : 'once';
    if (told) await tell(trx, phase, subject, { code, detail: trouble.detail, began: at, ended: null }, at);
    await trx('own_troubles').insert({ code, subject, detail, began: at, ended });
    return true;
  });
}

/** Notes that a trouble of our own is over, and says so; whether there was one. */
export async function saveOwnTroubleOver(
  db: Knex,
  { code, subject = '', detail, at }: Pick<NewOwnTrouble, 'code' | 'subject' | 'detail' | 'at'>,
): Promise<boolean> {
  return transaction(db, async (trx) => {
    const open = await trx('own_troubles').where({ code, subject }).whereNull('ended').first('id', 'began');
    if (!open) return false;
    await trx('own_troubles')
      .where({ id: open.id })
      .update({ ended: Math.max(at, open.began) });
    await tell(trx, 'closes', subject, { code, detail, began: open.began, ended: at }, at);
    return true;
  });
}
