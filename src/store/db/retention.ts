import type { Knex } from 'knex';
import { withRawConnection } from './connection';
import { untilNothing } from './steps';

const ROWS_AT_ONCE = 500;
/** So many pages are given back in one go, and only where this many are free: they are used again otherwise. */
const PAGES_AT_ONCE = 200;
const WORTH_GIVING_BACK = 5000;

const some = (table: string, where: string) =>
  `DELETE FROM ${table} WHERE id IN (SELECT id FROM ${table} WHERE ${where} LIMIT ${ROWS_AT_ONCE})`;

/**
 * Lets go of messages from before a time with their deliveries and attempts, but for those that still wait; of losses of
 * the line, of troubles of our own that are over, and of who changed what.
 */
export async function deleteMessagesBefore(db: Knex, before: number): Promise<void> {
  const waits = `EXISTS (SELECT 1 FROM deliveries d WHERE d.message_id = messages.id AND d.state = 'waiting')`;
  await untilNothing(db, some('messages', `created_at < ? AND NOT ${waits}`), [before]);
  await untilNothing(db, some('happenings', 'told_at < ?'), [before]);
  await untilNothing(db, some('telling_notes', 'at < ?'), [before]);
  await untilNothing(db, some('line_losses', 'ended < ?'), [before]);
  await untilNothing(db, some('own_troubles', 'ended < ?'), [before]);
  await untilNothing(db, some('deeds', 'at < ?'), [before]);
}

/** Lets go of answers that were kept for whoever asks again, from before a time. */
export async function deleteAnswersBefore(db: Knex, before: number): Promise<void> {
  const rows = `SELECT who, key FROM answered_requests WHERE at < ? LIMIT ${ROWS_AT_ONCE}`;
  await untilNothing(db, `DELETE FROM answered_requests WHERE (who, key) IN (${rows})`, [before]);
}

/**
 * Makes the file smaller by what is free in it, in small steps. A database that was made before this was thought of
 * is written anew by an upgrade, so that it can.
 */
export async function giveBackSpace(db: Knex): Promise<void> {
  const pragma = (name: string) => withRawConnection(db, (raw) => Number(raw.pragma(name, { simple: true })));
  if ((await pragma('auto_vacuum')) !== 2) return;
  while ((await pragma('freelist_count')) > WORTH_GIVING_BACK) {
    await withRawConnection(db, (raw) => raw.pragma(`incremental_vacuum(${PAGES_AT_ONCE})`));
    await new Promise((resolve) => setImmediate(resolve));
  }
}
