import type Database from 'better-sqlite3';
import type { KeptMessage } from '@/core/messages/kept-message';
import { channelsFor } from '@/core/messages/routing';
import { withRawConnection, type Db } from '@/store/db/connection';

/** A message with what it is about; `outageId` is null for what no outage brought about. */
export interface NewMessage extends KeptMessage {
  watchId: number | null;
  outageId?: number | null;
  at: number;
}

interface Statements {
  message: Database.Statement;
  delivery: Database.Statement;
  channels: Database.Statement<[], { id: number; enabled: number }>;
}

const prepared = new WeakMap<Database.Database, Statements>();

function statementsOf(raw: Database.Database): Statements {
  const known = prepared.get(raw) ?? {
    message: raw.prepare(
      `INSERT INTO messages (kind, watch_id, outage_id, text, event, created_at) VALUES (?, ?, ?, '', ?, ?)`,
    ),
    delivery: raw.prepare(
      `INSERT INTO deliveries (message_id, channel_id, state, attempts, next_at) VALUES (?, ?, 'waiting', 0, ?)`,
    ),
    channels: raw.prepare<[], { id: number; enabled: number }>(`SELECT id, enabled FROM channels`),
  };
  prepared.set(raw, known);
  return known;
}

/** Keeps a message within the transaction of what it is about, with a delivery for every channel it goes to. */
export function writeMessage(raw: Database.Database, message: NewMessage): number {
  const { watchId, outageId = null, at, ...kept } = message;
  const s = statementsOf(raw);
  const { lastInsertRowid } = s.message.run(kept.event.kind, watchId, outageId, JSON.stringify(kept), at);
  const channels = s.channels.all().map((c) => ({ id: c.id, enabled: c.enabled === 1 }));
  for (const channelId of channelsFor(channels)) s.delivery.run(lastInsertRowid, channelId, at);
  return Number(lastInsertRowid);
}

/** The same within a transaction of the query builder. */
export function saveMessage(trx: Db, message: NewMessage): Promise<number> {
  return withRawConnection(trx, (raw) => writeMessage(raw, message));
}
