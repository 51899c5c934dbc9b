import type { KeptMessage } from '@/core/messages/kept-message';
import type { MessageText } from '@/core/messages/message';
import type Database from 'better-sqlite3';
import { transaction, withRawConnection, type Db } from '@/store/db/connection';
import { saveInstead } from './fallback';
import { MINUTE_MS } from '@/core/time/units';
import type { Knex } from 'knex';
import type { DeliveryRow, MessageRow } from '@/store/db/tables';

export type DeliveryState = DeliveryRow['state'];

export interface DueDelivery {
  id: number;
  channelId: number;
  attempts: number;
  createdAt: number;
  watchId: number | null;
  /** The conversation it belongs to; null for what is about several. */
  thread: string | null;
  /** The name of the channel that did not take it, where this one stands in. */
  insteadOf: string | null;
  /** By what the channel knows the first message of this conversation, where it said so. */
  first: string | null;
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
  Pick<MessageRow, 'text' | 'event' | 'watch_id' | 'thread' | 'created_at'> & { instead_of: string | null };

/**
 * The waiting deliveries of a channel that nothing earlier holds back; each is found by its conversation (a plus keeps
 * SQLite from going through all that waits instead): within a conversation one goes after the other,
 * and what is about several goes after all before it and before all after it.
 */
function heads(db: Db, channelId: number) {
  return db('deliveries')
    .join('messages', 'messages.id', 'deliveries.message_id')
    .join('channels', 'channels.id', 'deliveries.channel_id')
    .where('deliveries.channel_id', channelId)
    .andWhere('deliveries.state', 'waiting')
    .andWhere('channels.enabled', true)
    .whereRaw(
      `CASE WHEN messages.thread IS NULL
         THEN deliveries.id = (SELECT min(id) FROM deliveries WHERE channel_id = ? AND state = 'waiting')
         ELSE deliveries.id < coalesce(
             (SELECT min(d.id) FROM deliveries d JOIN messages m ON m.id = d.message_id
              WHERE d.channel_id = ? AND d.state = 'waiting' AND m.thread IS NULL), deliveries.id + 1)
           AND NOT EXISTS (
             SELECT 1 FROM messages about CROSS JOIN deliveries earlier ON earlier.message_id = about.id
             WHERE about.thread = messages.thread AND +earlier.channel_id = deliveries.channel_id
               AND +earlier.state = 'waiting' AND +earlier.id < deliveries.id)
       END`,
      [channelId, channelId],
    );
}

/** What one channel is to be sent now: nothing where it rests; what was tried least goes first, then the oldest. */
export async function fetchDueDeliveries(
  db: Db,
  channelId: number,
  now: number,
  limit: number,
): Promise<DueDelivery[]> {
  const rows = await heads(db, channelId)
    .andWhere('deliveries.next_at', '<=', now)
    .orderBy(['deliveries.attempts', 'deliveries.id'])
    .limit(limit)
    .select<DueRow[]>(
      'deliveries.id',
      'deliveries.channel_id',
      'deliveries.attempts',
      'deliveries.next_at',
      'messages.text',
      'messages.event',
      'messages.watch_id',
      'messages.thread',
      'messages.created_at',
      db.raw('(SELECT other.name FROM channels other WHERE other.id = deliveries.instead_of) AS instead_of'),
    );
  const dues = rows.map((row) => ({
    id: row.id,
    channelId: row.channel_id,
    attempts: row.attempts,
    createdAt: row.created_at,
    watchId: row.watch_id,
    thread: row.thread,
    insteadOf: row.instead_of,
    message: row.event ? (JSON.parse(row.event) as KeptMessage) : null,
    text: row.event ? null : (JSON.parse(row.text) as MessageText),
  }));
  return Promise.all(dues.map(async (due) => ({ ...due, first: await fetchFirstRef(db, due) })));
}

const firstRefs = new WeakMap<Database.Database, Database.Statement<unknown[], { ref: string | null }>>();

/** What the first message about the same trouble, or of what it adds to, is called in the channel. */
async function fetchFirstRef(db: Db, due: Omit<DueDelivery, 'first'>): Promise<string | null> {
  const { id, channelId, message } = due;
  const { thread, openedAt } = message?.follows ?? { thread: due.thread, openedAt: message?.openedAt };
  if (thread === null || openedAt === undefined) return null;
  return withRawConnection(db, (raw) => {
    const find =
      firstRefs.get(raw) ??
      raw.prepare<unknown[], { ref: string | null }>(
        `SELECT deliveries.ref AS ref FROM messages JOIN deliveries ON deliveries.message_id = messages.id
         WHERE messages.thread = ? AND json_extract(messages.event, '$.openedAt') = ?
           AND +deliveries.channel_id = ? AND deliveries.id < ? AND deliveries.ref IS NOT NULL
         ORDER BY deliveries.id LIMIT 1`,
      );
    firstRefs.set(raw, find);
    return find.get(thread, openedAt, channelId, id)?.ref ?? null;
  });
}

/** When the first of what is waiting in each channel but some falls due; null when none waits. */
export async function fetchNextDeliveryAt(db: Db, but: readonly number[] = []): Promise<number | null> {
  const channels = await fetchWaitingChannels(db);
  let next: number | null = null;
  for (const id of channels) {
    if (but.includes(id)) continue;
    const row = await heads(db, id).min({ at: 'deliveries.next_at' }).first();
    const at = row?.at === null || row?.at === undefined ? null : Number(row.at);
    if (at !== null && (next === null || at < next)) next = at;
  }
  return next;
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

/** Channels where a message that was tried has waited since before a time, with what was said of the oldest last. */
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
  /** By what the other side knows the message. */
  ref?: string;
  /** What was handed over, where that was not the built-in English text. */
  words?: MessageText;
}

/** A channel that has not taken a message for so long is stood in for, where another does that. */
export const STAND_IN_AFTER_MS = 10 * MINUTE_MS;

/** Keeps attempts with their answers, in one transaction, and what becomes of their deliveries and what waits behind. */
export function saveAttempts(db: Knex, attempts: readonly Attempt[]): Promise<void> {
  return transaction(db, async (trx) => {
    for (const attempt of attempts) await writeAttempt(trx, attempt);
  });
}

const attemptStatements = new WeakMap<Database.Database, Record<'insert' | 'update', Database.Statement>>();

/** Prepared once for a connection: this is written for every message to every channel. */
function attemptStatementsOf(raw: Database.Database) {
  const known = attemptStatements.get(raw) ?? {
    insert: raw.prepare('INSERT INTO attempts (delivery_id, at, ok, said) VALUES (?, ?, ?, ?)'),
    update: raw.prepare(
      `UPDATE deliveries SET state = ?, next_at = ?, attempts = attempts + 1, ref = coalesce(?, ref),
         words = ? WHERE id = ?`,
    ),
  };
  attemptStatements.set(raw, known);
  return known;
}

async function writeAttempt(trx: Knex.Transaction, attempt: Attempt): Promise<void> {
  const { deliveryId, at, ok, said, state, nextAt, ref, words } = attempt;
  await withRawConnection(trx, (raw) => {
    const { insert, update } = attemptStatementsOf(raw);
    insert.run(deliveryId, at, Number(ok), said);
    update.run(state, nextAt, ref || null, words ? JSON.stringify(words) : null, deliveryId);
  });
  if (ok) return;
  const row = await trx('deliveries').where({ id: deliveryId }).first('channel_id');
  if (!row) return;
  const givenUp = state === 'given-up' ? { givenUp: deliveryId } : {};
  await saveInstead(trx, row.channel_id, { at, olderThanMs: STAND_IN_AFTER_MS, ...givenUp });
}
