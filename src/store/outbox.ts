import type { MessageText } from '../core/message';
import { transaction, type Db } from './connection';
import type { Knex } from 'knex';

export type DeliveryState = 'waiting' | 'delivered' | 'given-up';

export interface DueDelivery {
  id: number;
  channelId: number;
  attempts: number;
  createdAt: number;
  text: MessageText;
}

/** Deliveries that are due and not held back by an earlier one to the same channel, the oldest first. */
export async function fetchDueDeliveries(db: Db, now: number, limit: number): Promise<DueDelivery[]> {
  const rows = await db('deliveries')
    .join('messages', 'messages.id', 'deliveries.message_id')
    .where('deliveries.state', 'waiting')
    .andWhere('deliveries.next_at', '<=', now)
    // What waits for its next try holds back what came after it, so that order is kept.
    .whereNotExists(
      db('deliveries as earlier')
        .whereRaw('earlier.channel_id = deliveries.channel_id AND earlier.id < deliveries.id')
        .andWhere('earlier.state', 'waiting')
        .andWhere('earlier.next_at', '>', now),
    )
    .orderBy('deliveries.id')
    .limit(limit)
    .select(
      'deliveries.id',
      'deliveries.channel_id',
      'deliveries.attempts',
      'messages.text',
      'messages.created_at',
    );
  return rows.map((row) => ({
    id: row.id,
    channelId: row.channel_id,
    attempts: row.attempts,
    createdAt: row.created_at,
    text: JSON.parse(row.text),
  }));
}

/** When the next delivery falls due; null when none waits. */
export async function fetchNextDeliveryAt(db: Db): Promise<number | null> {
  const row = await db('deliveries').where('state', 'waiting').min({ at: 'next_at' }).first();
  return row?.at === null || row?.at === undefined ? null : Number(row.at);
}

/** Keeps an attempt with its answer, and what becomes of the delivery. */
export async function saveAttempt(
  db: Knex,
  attempt: {
    deliveryId: number;
    at: number;
    ok: boolean;
    said: string;
    state: DeliveryState;
    nextAt: number;
  },
): Promise<void> {
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

/** The newest deliveries with the last answer each got. */
export async function fetchDeliveries(db: Db, limit: number): Promise<KeptDelivery[]> {
  const rows = await db('deliveries')
    .join('messages', 'messages.id', 'deliveries.message_id')
    .join('channels', 'channels.id', 'deliveries.channel_id')
    .leftJoin(
      db('attempts').max({ id: 'id' }).select('delivery_id').groupBy('delivery_id').as('last'),
      'last.delivery_id',
      'deliveries.id',
    )
    .leftJoin('attempts', 'attempts.id', 'last.id')
    .orderBy('messages.created_at', 'desc')
    .orderBy('deliveries.id', 'desc')
    .limit(limit)
    .select(
      'deliveries.*',
      'channels.name as channel',
      'messages.text as text',
      'messages.watch_id as watch_id',
      'messages.created_at as created_at',
      'attempts.said as said',
      'attempts.at as said_at',
    );
  return rows.map((row) => ({
    id: row.id,
    channel: row.channel,
    state: row.state,
    attempts: row.attempts,
    nextAt: row.next_at,
    title: (JSON.parse(row.text) as MessageText).title,
    watchId: row.watch_id,
    createdAt: row.created_at,
    lastSaid: row.said,
    lastAt: row.said_at,
  }));
}
