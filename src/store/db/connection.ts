import type { Knex } from 'knex';
import type Database from 'better-sqlite3';

/** Where queries run: the connection, or a transaction on it. */
export type Db = Knex | Knex.Transaction;

/** So long a thread waits for the right to write. */
export const BUSY_TIMEOUT_MS = 10_000;

/** What Knex does not describe of its client. */
interface Client {
  acquireConnection(): Promise<Database.Database>;
  releaseConnection(raw: Database.Database): Promise<void>;
}

/** Runs `work` with the driver's own connection, for prepared statements on hot paths. */
export async function withRawConnection<T>(db: Db, work: (raw: Database.Database) => T): Promise<T> {
  const client = db.client as Client;
  const raw = await client.acquireConnection();
  try {
    return work(raw);
  } finally {
    await client.releaseConnection(raw);
  }
}

const statements = new WeakMap<Database.Database, Map<string, Database.Statement>>();

/** A statement, compiled once for each connection. */
export function prepared(raw: Database.Database, sql: string): Database.Statement {
  const known = statements.get(raw) ?? new Map<string, Database.Statement>();
  statements.set(raw, known);
  const statement = known.get(sql) ?? raw.prepare(sql);
  known.set(sql, statement);
  return statement;
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

/** Whether the database refused a write for want of room. */
export function isFullError(error: unknown): boolean {
  const { code = '', message = '' } = (error ?? {}) as { code?: string; message?: string };
  return code.startsWith('SQLITE_FULL') || code === 'ENOSPC' || /database or disk is full/.test(message);
}
