import type { Db } from '@/store/db/connection';

/** So many messages go to the channel that stands in at once. */
const MOST = 500;

interface Instead {
  at: number;
  /** What has waited for longer than this is not waited for any more. */
  olderThanMs: number;
  /** This one was given up, however old it is. */
  givenUp?: number;
}

/**
 * What a channel does not take goes to the one that stands in for it, each message once: what was given up, and what has
 * waited too long. It goes on waiting where it waits: when the channel is back, it is told all the same.
 */
export async function saveInstead(
  db: Db,
  channelId: number,
  { at, olderThanMs, givenUp }: Instead,
): Promise<void> {
  if (givenUp !== undefined) await insertInstead(db, channelId, at, 'd.id = ?', [givenUp]);
  // As the index of what waits has it: of what was delivered there may be years.
  const waits = `d.state = 'waiting' AND messages.created_at <= ?`;
  await insertInstead(db, channelId, at, waits, [at - olderThanMs]);
}

async function insertInstead(
  db: Db,
  channelId: number,
  at: number,
  which: string,
  bindings: readonly number[],
): Promise<void> {
  await db.raw(
    `INSERT INTO deliveries (message_id, channel_id, state, attempts, next_at, route_id, rule, instead_of)
     SELECT d.message_id, other.id, 'waiting', 0, ?, d.route_id, 'instead', d.channel_id
     FROM channels JOIN channels other ON other.id = channels.fallback_id AND other.enabled
       JOIN deliveries d ON d.channel_id = channels.id
       JOIN messages ON messages.id = d.message_id
     WHERE channels.id = ? AND ${which}
       AND NOT EXISTS (
         SELECT 1 FROM deliveries told WHERE told.message_id = d.message_id AND +told.channel_id = other.id)
     ORDER BY d.id LIMIT ${MOST}`,
    [at, channelId, ...bindings],
  );
}
