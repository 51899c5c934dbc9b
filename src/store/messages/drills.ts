import type { Drill, DrillHappening } from '@/core/telling/ahead/drill';
import type { WatchFacts } from '@/core/telling/route';
import type { Rule } from '@/core/telling/telling';
import { messageInWords, type KeptMessage } from '@/core/messages/kept-message';
import type { Db } from '@/store/db/connection';
import { turnTo, type ListPage } from '@/store/db/list-page';
import type { DeliveryRow, DrillRow } from '@/store/db/tables';

export interface KeptDrill extends Drill {
  /** When it was over; null while it goes on. */
  ended: number | null;
  /** Who began it. */
  by: string;
}

function drillOf({ by_name: by, watches, happening, ...row }: DrillRow): KeptDrill {
  return {
    ...row,
    by,
    watches: JSON.parse(watches) as WatchFacts[],
    happening: happening as DrillHappening,
  };
}

/** Rehearsals, the latest first. */
export async function fetchDrills(db: Db, page: ListPage): Promise<KeptDrill[]> {
  const columns = { at: 'drills.began', id: 'drills.id' };
  return (await turnTo(db('drills').select<DrillRow[]>('drills.*'), page, columns)).map(drillOf);
}

export async function fetchDrill(db: Db, id: number): Promise<KeptDrill | null> {
  const row = await db('drills').where({ id }).first();
  return row ? drillOf(row) : null;
}

/** Those whose time is over and that have not ended. */
export async function fetchOverdueDrills(db: Db, now: number): Promise<KeptDrill[]> {
  return (await db('drills').whereNull('ended').andWhere('until', '<=', now)).map(drillOf);
}

export async function saveNewDrill(db: Db, drill: Omit<Drill, 'id'> & { by: string }): Promise<number> {
  const { watches, happening, began, until, by } = drill;
  const kept = { watches: JSON.stringify(watches), happening, began, until, by_name: by };
  const [id] = await db('drills').insert(kept);
  return id!;
}

/** Notes the end of one; whether it had not ended before. */
export async function saveDrillEnd(db: Db, id: number, at: number): Promise<boolean> {
  return (await db('drills').where({ id }).whereNull('ended').update({ ended: at })) > 0;
}

/** One message of a rehearsal on its way to one channel. */
export interface DrillDelivery {
  id: number;
  channelId: number;
  channel: string;
  title: string;
  said: number;
  state: DeliveryRow['state'];
  /** When it arrived. */
  arrived: number | null;
  lastSaid: string | null;
  rule: Rule | null;
}

/** So many are shown. */
const MOST = 500;

/** What a rehearsal sent, and what came of it, in the order it was said. */
export async function fetchDrillDeliveries(db: Db, drillId: number): Promise<DrillDelivery[]> {
  const rows = await db('messages')
    .join('deliveries', 'deliveries.message_id', 'messages.id')
    .join('channels', 'channels.id', 'deliveries.channel_id')
    .joinRaw(
      'LEFT JOIN attempts ON attempts.id = (SELECT max(id) FROM attempts WHERE delivery_id = deliveries.id)',
    )
    .where('messages.drill_id', drillId)
    .orderBy('deliveries.id')
    .limit(MOST)
    .select<
      {
        id: number;
        channel_id: number;
        channel: string;
        event: string;
        watch_id: number | null;
        created_at: number;
        state: DeliveryRow['state'];
        rule: Rule | null;
        at: number | null;
        said: string | null;
      }[]
    >(
      'deliveries.id as id',
      'deliveries.channel_id as channel_id',
      'channels.name as channel',
      'messages.event as event',
      'messages.watch_id as watch_id',
      'messages.created_at as created_at',
      'deliveries.state as state',
      'deliveries.rule as rule',
      'attempts.at as at',
      'attempts.said as said',
    );
  return rows.map(({ event, watch_id: watchId, created_at: said, at, said: lastSaid, ...row }) => ({
    id: row.id,
    channelId: row.channel_id,
    channel: row.channel,
    state: row.state,
    rule: row.rule,
    title: messageInWords(JSON.parse(event) as KeptMessage, watchId, { linkBase: '', zone: 'UTC' }).title,
    said,
    lastSaid,
    arrived: row.state === 'delivered' ? at : null,
  }));
}
