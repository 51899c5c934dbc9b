import { messageInWords, type KeptMessage, type MessagePlace } from '@/core/messages/kept-message';
import type { MessageText } from '@/core/messages/message';
import type { Rule } from '@/core/telling/telling';
import type { Db } from '@/store/db/connection';
import { turnTo, type ListPage } from '@/store/db/list-page';
import type { DeliveryRow, MessageRow } from '@/store/db/tables';

export interface KeptDelivery {
  id: number;
  channelId: number;
  channel: string;
  state: DeliveryRow['state'];
  attempts: number;
  nextAt: number;
  title: string;
  watchId: number | null;
  createdAt: number;
  lastSaid: string | null;
  lastAt: number | null;
}

function selectDeliveries(db: Db) {
  return (
    db('deliveries')
      .join('messages', 'messages.id', 'deliveries.message_id')
      .join('channels', 'channels.id', 'deliveries.channel_id')
      // The last try of each, and of no others.
      .joinRaw(
        'LEFT JOIN attempts ON attempts.id = (SELECT max(id) FROM attempts WHERE delivery_id = deliveries.id)',
      )
      .select<ListedRow[]>(
        'deliveries.*',
        'channels.name as channel',
        'messages.text as text',
        'messages.event as event',
        'messages.watch_id as watch_id',
        'messages.created_at as created_at',
        'attempts.said as said',
        'attempts.at as said_at',
      )
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

/** Which deliveries are wanted; what is left out is not asked about. */
export interface DeliveryFilter {
  channelId?: number;
  watchId?: number;
  state?: DeliveryRow['state'];
  /** What the message says, by its kind: "down", "recovered", "taken". */
  says?: string;
}

/** Deliveries with the last answer each got. */
export async function fetchDeliveries(
  db: Db,
  page: ListPage,
  { channelId, watchId, state, says }: DeliveryFilter = {},
): Promise<KeptDelivery[]> {
  const query = selectDeliveries(db);
  if (channelId !== undefined) query.where('deliveries.channel_id', channelId);
  if (watchId !== undefined) query.where('messages.watch_id', watchId);
  if (state !== undefined) query.where('deliveries.state', state);
  if (says !== undefined) query.where('messages.kind', says);
  const columns = { at: 'messages.created_at', id: 'deliveries.id' };
  return (await turnTo(query, page, columns)).map(deliveryOf);
}

export async function fetchDelivery(db: Db, id: number): Promise<KeptDelivery | null> {
  const rows = await selectDeliveries(db).where('deliveries.id', id);
  return rows[0] ? deliveryOf(rows[0]) : null;
}

/** What came to a try. */
export interface KeptAttempt {
  at: number;
  ok: boolean;
  said: string;
}

/** Who else was considered for what a message is about, and why not. */
export interface KeptNote {
  at: number;
  channel: string | null;
  route: string | null;
  rule: Rule;
}

/** All that is known of one delivery: its words, each try, by which route it went, and why others did not. */
export interface DeliveryStory extends KeptDelivery {
  text: MessageText;
  tries: KeptAttempt[];
  route: { id: number; name: string } | null;
  rule: Rule | null;
  notes: KeptNote[];
}

/** More tries and notes than this are of no use to a reader. */
const MOST_TRIES = 100;
const MOST_NOTES = 50;
/** What was decided about the same happening was decided within this time of it. */
const ABOUT_MS = 1_000;

async function fetchNotes(db: Db, thread: string | null, at: number): Promise<KeptNote[]> {
  if (thread === null) return [];
  const rows = await db('telling_notes')
    .leftJoin('channels', 'channels.id', 'telling_notes.channel_id')
    .leftJoin('routes', 'routes.id', 'telling_notes.route_id')
    .where('telling_notes.thread', thread)
    .whereBetween('telling_notes.at', [at - ABOUT_MS, at + ABOUT_MS])
    .orderBy('telling_notes.id')
    .limit(MOST_NOTES)
    .select<{ at: number; channel: string | null; route: string | null; rule: Rule }[]>(
      'telling_notes.at as at',
      'channels.name as channel',
      'routes.name as route',
      'telling_notes.rule as rule',
    );
  return rows;
}

export async function fetchDeliveryStory(
  db: Db,
  id: number,
  place: MessagePlace,
): Promise<DeliveryStory | null> {
  const rows = await selectDeliveries(db).where('deliveries.id', id);
  const row = rows[0];
  if (!row) return null;
  const tries = await db('attempts')
    .where({ delivery_id: id })
    .orderBy('id', 'desc')
    .limit(MOST_TRIES)
    .select('at', 'ok', 'said');
  const route =
    row.route_id === null ? null : await db('routes').where({ id: row.route_id }).first('id', 'name');
  const message = await db('messages').where({ id: row.message_id }).first('thread');
  return {
    ...deliveryOf(row),
    text: textOf(row, place),
    tries: tries.map(({ at, ok, said }) => ({ at, ok: Boolean(ok), said })),
    route: route ? { id: route.id, name: route.name } : null,
    rule: row.rule as Rule | null,
    notes: await fetchNotes(db, message?.thread ?? null, row.created_at),
  };
}

/** What was handed over; what was not yet, as it would be said without words of one's own. */
function textOf({ words, event, text, watch_id: watchId }: ListedRow, place: MessagePlace): MessageText {
  const kept = words ?? (event ? null : text);
  if (kept !== null) return JSON.parse(kept) as MessageText;
  return messageInWords(JSON.parse(event!) as KeptMessage, watchId, place);
}

/** The same message once more to the same channel; answers the new delivery. */
export async function saveAgain(db: Db, id: number, at: number): Promise<number | null> {
  const row = await db('deliveries').where({ id }).first('message_id', 'channel_id', 'route_id');
  if (!row) return null;
  const [made] = await db('deliveries').insert({
    ...row,
    state: 'waiting',
    attempts: 0,
    next_at: at,
    rule: 'by-hand',
  });
  return made!;
}

const LOOKED_THROUGH = 5_000;

/** The last message of a kind that was said outside drills, before it was put into words. */
export async function fetchLatestSaid(
  db: Db,
  kind: string,
): Promise<{ message: KeptMessage; watchId: number | null; at: number } | null> {
  const row = await db('messages')
    .where({ kind })
    .whereNotNull('event')
    .whereRaw("json_extract(event, '$.drill') IS NULL")
    // What was never said is not looked for in years of messages.
    .whereRaw('id > (SELECT max(id) FROM messages) - ?', [LOOKED_THROUGH])
    .orderBy('created_at', 'desc')
    .first('event', 'watch_id', 'created_at');
  if (!row?.event) return null;
  return { message: JSON.parse(row.event) as KeptMessage, watchId: row.watch_id, at: row.created_at };
}
