import type Database from 'better-sqlite3';
import type { Knex } from 'knex';
import type { KeptMessage } from '@/core/messages/kept-message';
import { threadOf } from '@/core/telling/happen';
import type { Room, Saying, Telling, Thread, Told } from '@/core/telling/telling';
import { inChunks } from '@/store/db/chunks';
import { transaction, withRawConnection, type Db } from '@/store/db/connection';

const THREAD = 'thread ';
const ROOM = 'room ';

/** What was said so far, as it was kept. */
export async function fetchTelling(db: Db): Promise<Telling> {
  const threads = new Map<string, Thread>();
  const rooms = new Map<number, Room>();
  for (const { key, state } of await db('telling').orderBy('key')) {
    if (key.startsWith(THREAD)) threads.set(key.slice(THREAD.length), JSON.parse(state) as Thread);
    else rooms.set(Number(key.slice(ROOM.length)), JSON.parse(state) as Room);
  }
  return { threads, rooms };
}

/** One conversation as it was kept; null where nothing is told of it. */
export async function fetchThread(db: Db, key: string): Promise<Thread | null> {
  const row = await db('telling')
    .where({ key: THREAD + key })
    .first('state');
  return row ? (JSON.parse(row.state) as Thread) : null;
}

/** At most so many conversations of one channel are open at once that somebody could mean. */
const MOST_MEANT = 50;

/** Conversations that are open and were told to a channel, those of drills too; the first that was noticed first. */
export async function fetchThreadsToldTo(db: Db, channelId: number): Promise<Thread[]> {
  const rows = await db('telling')
    .whereLike('key', `${THREAD}%`)
    .whereRaw("json_extract(state, ?) = 'said' AND json_extract(state, '$.open.at') IS NOT NULL", [
      `$.heard."${channelId}".how`,
    ])
    .orderByRaw("json_extract(state, '$.open.at')")
    .limit(MOST_MEANT)
    .pluck('state');
  return rows.map((state) => JSON.parse(state) as Thread);
}

/** What is answered was said of late: so many deliveries are gone through for it. */
const MOST_GONE_THROUGH = 20_000;

/** The conversation of a message, by what the other side of a channel calls it; null for one that is not known. */
export async function fetchThreadOfRef(db: Db, channelId: number, ref: string): Promise<string | null> {
  const row = await db('deliveries')
    .join('messages', 'messages.id', 'deliveries.message_id')
    .whereRaw('deliveries.id > (SELECT max(id) FROM deliveries) - ?', [MOST_GONE_THROUGH])
    .andWhere('deliveries.channel_id', channelId)
    .andWhere('deliveries.ref', ref)
    .orderBy('deliveries.id', 'desc')
    .first<{ thread: string | null } | undefined>('messages.thread');
  return row?.thread ?? null;
}

/** Who has the open trouble of watches, by the watch; those nobody has are left out. */
export async function fetchTakers(db: Db, watchIds: readonly number[]): Promise<Map<number, string>> {
  const takers = new Map<number, string>();
  for (const some of inChunks(watchIds)) {
    const keys = new Map(some.map((id) => [THREAD + threadOf(id), id]));
    for (const { key, state } of await db('telling').whereIn('key', [...keys.keys()])) {
      const { open, taken } = JSON.parse(state) as Thread;
      if (open && taken) takers.set(keys.get(key)!, taken.by);
    }
  }
  return takers;
}

interface Statements {
  keep: Database.Statement;
  drop: Database.Statement;
  message: Database.Statement;
  outage: Database.Statement;
  delivery: Database.Statement;
  waiting: Database.Statement<[string, number], { id: number }>;
  redirect: Database.Statement;
  note: Database.Statement;
  told: Database.Statement;
}

const prepared = new WeakMap<Database.Database, Statements>();

function statementsOf(raw: Database.Database): Statements {
  const known = prepared.get(raw) ?? {
    keep: raw.prepare('INSERT OR REPLACE INTO telling (key, state) VALUES (?, ?)'),
    drop: raw.prepare('DELETE FROM telling WHERE key = ?'),
    message: raw.prepare(
      `INSERT INTO messages (kind, watch_id, thread, text, event, created_at, drill_id)
       VALUES (?, ?, ?, '', ?, ?, ?)`,
    ),
    outage: raw.prepare('INSERT OR IGNORE INTO message_outages (message_id, outage_id) VALUES (?, ?)'),
    delivery: raw.prepare(
      `INSERT INTO deliveries (message_id, channel_id, state, attempts, next_at, route_id, rule)
       VALUES (?, ?, 'waiting', 0, ?, ?, ?)`,
    ),
    waiting: raw.prepare<[string, number], { id: number }>(
      `SELECT d.id FROM deliveries d JOIN messages m ON m.id = d.message_id
       WHERE m.thread = ? AND d.channel_id = ? AND d.state = 'waiting' ORDER BY d.id DESC LIMIT 1`,
    ),
    redirect: raw.prepare('UPDATE deliveries SET message_id = ?, next_at = ? WHERE id = ?'),
    note: raw.prepare(
      'INSERT INTO telling_notes (at, thread, channel_id, route_id, rule) VALUES (?, ?, ?, ?, ?)',
    ),
    told: raw.prepare('UPDATE happenings SET told_at = ? WHERE id = ?'),
  };
  prepared.set(raw, known);
  return known;
}

/** The same words to several channels are one message. */
function messageKey({ thread, event, watch, follows, drill }: Saying): string {
  return JSON.stringify([thread, watch?.id ?? null, event, follows, drill]);
}

function writeSayings(s: Statements, says: readonly Saying[], at: number): void {
  const messages = new Map<string, number>();
  for (const saying of says) {
    const { channelId, thread, watch, openedAt, follows, outageIds, event, routeId, rule, drill } = saying;
    const key = messageKey(saying);
    let id = messages.get(key);
    if (id === undefined) {
      const kept: KeptMessage = {
        event,
        watchName: watch?.name ?? '',
        ...(watch?.runbook && { runbook: watch.runbook }),
        ...(openedAt !== null && { openedAt }),
        ...(follows && { follows }),
        ...(drill !== null && { drill }),
      };
      id = Number(
        s.message.run(event.kind, watch?.id ?? null, thread, JSON.stringify(kept), at, drill).lastInsertRowid,
      );
      for (const outageId of outageIds) s.outage.run(id, outageId);
      messages.set(key, id);
    }
    // That the line was lost has had no way out: what has not got through says the whole of it.
    const late =
      event.kind === 'line' && event.ended !== null ? s.waiting.get(thread!, channelId) : undefined;
    if (late) s.redirect.run(id, at, late.id);
    else s.delivery.run(id, channelId, at, routeId, rule);
  }
}

interface From {
  /** What it was said of. */
  happenings: readonly number[];
  at: number;
}

/** Keeps what was said and what is remembered of it, with a delivery for every channel, in one transaction. */
export function saveTold(db: Knex, told: Told, from: From): Promise<void> {
  return transaction(db, (trx) => writeTold(trx, told, from));
}

/** The same within a transaction that is there already. */
export async function writeTold(
  trx: Db,
  { telling, says, notes, changedThreads, changedRooms }: Told,
  { happenings, at }: From,
): Promise<void> {
  await withRawConnection(trx, (raw) => {
    const s = statementsOf(raw);
    const keep = (key: string, piece: Thread | Room | undefined) =>
      piece ? s.keep.run(key, JSON.stringify(piece)) : s.drop.run(key);
    for (const key of changedThreads) keep(THREAD + key, telling.threads.get(key));
    for (const id of changedRooms) keep(ROOM + id, telling.rooms.get(id));
    writeSayings(s, says, at);
    for (const note of notes) s.note.run(note.at, note.thread, note.channelId, note.routeId, note.rule);
    for (const id of happenings) s.told.run(at, id);
  });
}
