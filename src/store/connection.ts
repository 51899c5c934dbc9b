import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import knex, { type Knex } from 'knex';
import type Database from 'better-sqlite3';
import { migrationSource } from './migrations';

/** Where queries run: the connection, or a transaction on it. */
export type Db = Knex | Knex.Transaction;

const BUSY_TIMEOUT_MS = 10_000;

/**
 * Opens (and, unless told otherwise, brings up to date) the database in a data folder. WAL mode lets several
 * processes read while one writes. Every commit outlasts a crash of the process; a durable connection's
 * (`synchronous = FULL`) outlasts a power cut too, at the price of a wait for the disk.
 */
export async function openStore(
  folder: string,
  options: { migrate?: boolean; durable?: boolean } = {},
): Promise<Knex> {
  mkdirSync(folder, { recursive: true });
  const db = knex({
    client: 'better-sqlite3',
    connection: { filename: join(folder, 'lantern.db') },
    useNullAsDefault: true,
    pool: {
      min: 1,
      max: 1,
      afterCreate: (connection: Database.Database, done: (error: Error | null) => void) => {
        connection.pragma(`busy_timeout = ${BUSY_TIMEOUT_MS}`);
        connection.pragma('journal_mode = WAL');
        connection.pragma(`synchronous = ${options.durable === false ? 'NORMAL' : 'FULL'}`);
        connection.pragma('foreign_keys = ON');
        done(null);
      },
    },
  });
  if (options.migrate !== false) await db.migrate.latest({ migrationSource });
  return db;
}

/** Runs `work` with the driver's own connection, for prepared statements on hot paths. */
export async function withRawConnection<T>(db: Knex, work: (raw: Database.Database) => T): Promise<T> {
  const raw = (await db.client.acquireConnection()) as Database.Database;
  try {
    return work(raw);
  } finally {
    await db.client.releaseConnection(raw);
  }
}

/**
 * The one way to open a transaction. The body has no side effects outside the database. It takes the right to write
 * first: a transaction that reads and then writes is refused without waiting when the other process has written in
 * between (SQLITE_BUSY_SNAPSHOT).
 */
export function transaction<T>(db: Knex, body: (trx: Knex.Transaction) => Promise<T>): Promise<T> {
  return db.transaction(async (trx) => {
    await trx.raw('UPDATE settings SET value = value WHERE 0');
    return body(trx);
  });
}
