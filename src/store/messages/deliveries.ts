import { messageInWords, type KeptMessage } from '@/core/messages/kept-message';
import type { MessageText } from '@/core/messages/message';
import { transaction, type Db } from '@/store/db/connection';
import type { Knex } from 'knex';
import { turnTo, type ListPage } from '@/store/db/list-page';
import type { DeliveryRow, MessageRow } from '@/store/db/tables';

export type DeliveryState = DeliveryRow['state'];

export interface DueDelivery {
  id: number;
  channelId: number;
  attempts: number;
  createdAt: number;
  watchId: number | null;
  /** What happened; put into words when it is handed over. */
  message: KeptMessage | null;
  /** Of messages from before: the words they were kept in. */
  text: MessageText | null;
}

/** Channels that have something waiting; those that rest are left out. */
export async function fetchWaitingChannels(db: Db): Promise<number[]> {
  const rows = await db('channels')
    .where('enabled', true)
    .whereExists(
      db('deliveries').whereRaw("deliveries.channel_id = channels.id AND deliveries.state = 'waiting'"),
    )
    .orderBy('id')
    .select('id');
  return rows.map((row) => row.id);
}

type DueRow = Pick<DeliveryRow, 'id' | 'channel_id' | 'attempts' | 'next_at'> &
  Pick<MessageRow, 'text' | 'event' | 'watch_id' | 'created_at'>;

/**
 * What one channel is to be sent now, the oldest first: nothing where it rests, and nothing beyond what waits for its
 * next try, so that order is kept.
 */
export async function fetchDueDeliveries(
  db: Db,
  channelId: number,
  now: number,
  limit: number,
): Promise<DueDelivery[]> {
  const rows = await db('deliveries')
    .join('messages', 'messages.id', 'deliveries.message_id')
    .join('channels', 'channels.id', 'deliveries.channel_id')
    .where('deliveries.channel_id', channelId)
    .andWhere('deliveries.state', 'waiting')
    .andWhere('channels.enabled', true)
    .orderBy('deliveries.id')
    .limit(limit)
    .select<DueRow[]>(
      'deliveries.id',
      'deliveries.channel_id',
      'deliveries.attempts',
      'deliveries.next_at',
      'messages.text',
      'messages.event',
      'messages.watch_id',
      'messages.created_at',
    );
  const held = rows.findIndex((row) => row.next_at > now);
  return rows.slice(0, held < 0 ? undefined : held).map((row) => ({
    id: row.id,
    channelId: row.channel_id,
    attempts: row.attempts,
    createdAt: row.created_at,
    watchId: row.watch_id,
    message: row.event ? (JSON.parse(row.event) as KeptMessage) : null,
    text: row.event ? null : (JSON.parse(row.text) as MessageText),
  }));
}

/** When the first of what each channel but some has waiting falls due; null when none waits. */
export async function fetchNextDeliveryAt(db: Db, but: readonly number[] = []): Promise<number | null> {
  const firsts = db('deliveries')
    .join('channels', 'channels.id', 'deliveries.channel_id')
    .where('deliveries.state', 'waiting')
    .andWhere('channels.enabled', true)
    .whereNotIn('channels.id', [...but])
    .groupBy('deliveries.channel_id')
    .min({ id: 'deliveries.id' });
  const row = await db('deliveries').whereIn('id', firsts).min({ at: 'next_at' }).first();
  return row?.at === null || row?.at === undefined ? null : Number(row.at);
}

/** The clock was set: what waits for its next try waits as long as it would have. */
export async function shiftDeliveries(db: Db, byMs: number): Promise<void> {
  await db('deliveries').where('state', 'waiting').increment('next_at', byMs);
}

/** No try is farther ahead than the longest wait: what is was planned by a clock that was wrong. */
export async function pullDeliveries(db: Db, now: number, longestMs: number): Promise<void> {
  await db('deliveries')
    .where('state', 'waiting')
    .andWhere('next_at', '>', now + longestMs)
    .update({ next_at: now });
}

/** Channels whose oldest message has waited since before a time, or was given up after it, with what was said last. */
export async function fetchStuckChannels(
  db: Db,
  before: number,
): Promise<{ id: number; name: string; said: string }[]> {
  const rows = await db('deliveries')
    .join('channels', 'channels.id', 'deliveries.channel_id')
    .join('messages', 'messages.id', 'deliveries.message_id')
    .where('deliveries.state', 'waiting')
    .andWhere('channels.enabled', true)
    .andWhere('deliveries.attempts', '>', 0)
    .andWhere('messages.created_at', '<', before)
    .groupBy('channels.id')
    .select<{ id: number; name: string; delivery: number }[]>(
      'channels.id',
      'channels.name',
      db.raw('min(deliveries.id) AS delivery'),
    );
  return Promise.all(
    rows.map(async (row) => {
      const last = await db('attempts')
        .where({ delivery_id: row.delivery })
        .orderBy('id', 'desc')
        .first('said');
      return { id: row.id, name: row.name, said: last?.said ?? '' };
    }),
  );
}

export interface Attempt {
  deliveryId: number;
  at: number;
  ok: boolean;
  said: string;
  state: DeliveryState;
  nextAt: number;
}

/** Keeps an attempt with its answer, and what becomes of the delivery. */
export async function saveAttempt(db: Knex, attempt: Attempt): Promise<void> {
  await transaction(db, async (trx) => {
    await trx('attempts').insert({
      delivery_id: attempt.deliveryId,
      at: attempt.at,
      ok: attempt.ok,
      said: attempt.said,
    });
    await trx('deliveries')
      .where({ id: attempt.deliveryId })
      .update({ state: attempt.state, next_at: attempt.nextAt })
      .increment('attempts', 1);
  });
}

export interface KeptDelivery {
  id: number;
  channelId: number;
  channel: string;
  state: DeliveryState;
  attempts: number;
  nextAt: number;
  title: string;
  watchId: number | null;
  createdAt: number;
  lastSaid: string | null;
  lastAt: number | null;
}

function selectDeliveries(db: Db) {
  return db('deliveries')
    .join('messages', 'messages.id', 'deliveries.message_id')
    .join('channels', 'channels.id', 'deliveries.channel_id')
    .leftJoin(
      db('attempts').max({ id: 'id' }).select('delivery_id').groupBy('delivery_id').as('last'),
      'last.delivery_id',
      'deliveries.id',
    )
    .leftJoin('attempts', 'attempts.id', 'last.id')
    .select<ListedRow[]>(
      'deliveries.*',
      'channels.name as channel',
      'messages.text as text',
      'messages.event as event',
      'messages.watch_id as watch_id',
      'messages.created_at as created_at',
      'attempts.said as said',
      'attempts.at as said_at',
    );
}

interface ListedRow extends DeliveryRow, Pick<MessageRow, 'text' | 'event' | 'watch_id' | 'created_at'> {
  channel: string;
  said: string | null;
  said_at: number | null;
}

/** No zone and no address stand in a title. */
function titleOf({ event, text, watch_id: watchId }: ListedRow): string {
  if (!event) return (JSON.parse(text) as MessageText).title;
  return messageInWords(JSON.parse(event) as KeptMessage, watchId, { linkBase: '', zone: 'UTC' }).title;
}

function deliveryOf(row: ListedRow): KeptDelivery {
  return {
    id: row.id,
    channelId: row.channel_id,
    channel: row.channel,
    state: row.state,
    attempts: row.attempts,
    nextAt: row.next_at,
    title: titleOf(row),
    watchId: row.watch_id,
    createdAt: row.created_at,
    lastSaid: row.said,
    lastAt: row.said_at,
  };
}

/** Deliveries with the last answer each got. */
export async function fetchDeliveries(db: Db, page: ListPage): Promise<KeptDelivery[]> {
  const columns = { at: 'messages.created_at', id: 'deliveries.id' };
  return (await turnTo(selectDeliveries(db), page, columns)).map(deliveryOf);
}

export async function fetchDelivery(db: Db, id: number): Promise<KeptDelivery | null> {
  const rows = await selectDeliveries(db).where('deliveries.id', id);
  return rows[0] ? deliveryOf(rows[0]) : null;
}
