import { chmodSync, mkdirSync, readdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { isMainThread } from 'node:worker_threads';
import knex, { type Knex } from 'knex';
import type Database from 'better-sqlite3';
import { migrationSource } from '@/store/migrations';
import { BUSY_TIMEOUT_MS } from './connection';

// Apart from what works on an open database: pages are handed theirs, and need not read all it takes to open one.

const LARGEST_LOG_BYTES = 64_000_000;

/** What lies in the data folder is nobody else's business: it holds the key of the secrets, and whom a job may pass for. */
function keepPrivate(folder: string): void {
  // New files too, whoever makes them: the database makes some of its own.
  process.umask(0o077);
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  try {
    chmodSync(folder, 0o700);
    for (const name of readdirSync(folder)) {
      if (/^(lantern\.db|secrets\.key)/.test(name)) chmodSync(join(folder, name), 0o600);
    }
  } catch (error) {
    // A folder of somebody else's cannot be closed; whether it can be used is found out below.
    if ((error as NodeJS.ErrnoException).code !== 'EPERM') throw error;
  }
}

/**
 * Opens (and, unless told otherwise, brings up to date) the database in a data folder. WAL mode lets several
 * processes read while one writes. Every commit outlasts a crash of the process; a durable connection's
 * (`synchronous = FULL`) outlasts a power cut too, at the price of a wait for the disk.
 */
export async function openStore(
  folder: string,
  options: { migrate?: boolean; durable?: boolean; say?: (text: string) => void } = {},
): Promise<Knex> {
  // A thread has the mask of its process, and may not set it.
  if (isMainThread) keepPrivate(folder);
  const db = knex({
    client: 'better-sqlite3',
    connection: { filename: join(folder, 'lantern.db') },
    useNullAsDefault: true,
    pool: {
      min: 1,
      max: 1,
      afterCreate: (connection: Database.Database, done: (error: Error | null) => void) => {
        // In a new file, and in one that is written anew: what is let go of can be given back to the disk.
        connection.pragma('auto_vacuum = INCREMENTAL');
        connection.pragma(`busy_timeout = ${BUSY_TIMEOUT_MS}`);
        connection.pragma('journal_mode = WAL');
        connection.pragma(`synchronous = ${options.durable === false ? 'NORMAL' : 'FULL'}`);
        // The log beside the database is cut back to this once its content is in the database.
        connection.pragma(`journal_size_limit = ${LARGEST_LOG_BYTES}`);
        connection.pragma('foreign_keys = ON');
        done(null);
      },
    },
  });
  if (options.migrate !== false) await bringUpToDate(db, folder, options.say);
  return db;
}

const INCREMENTAL = 2;

/** Takes the steps that are missing; of a database with something in it a copy is made before. */
async function bringUpToDate(db: Knex, folder: string, say?: (text: string) => void): Promise<void> {
  const [done, missing] = (await db.migrate.list({ migrationSource })) as [
    { name: string }[],
    { name: string }[],
  ];
  if (missing.length === 0) return;
  if (done.length > 0) {
    const copy = join(folder, `lantern-before-${missing[0]!.name}.db`);
    rmSync(copy, { force: true });
    try {
      await db.raw('VACUUM INTO ?', [copy]);
    } catch (error) {
      rmSync(copy, { force: true });
      const why = (error as Error).message;
      throw new Error(
        `The database is to be brought up to date, and the copy that is made before could not be written to ${copy}: ${why}. Make room there. Nothing was changed.`,
      );
    }
    say?.(`the database is brought up to date; a copy as it was lies at ${copy}`);
  }
  await db.migrate.latest({ migrationSource });
  if (done.length > 0) await canShrink(db, say);
}

/** Writes a file anew that was made without being able to become smaller; it goes on as it is where there is no room. */
async function canShrink(db: Knex, say?: (text: string) => void): Promise<void> {
  const [mode] = (await db.raw('PRAGMA auto_vacuum')) as { auto_vacuum: number }[];
  if (mode!.auto_vacuum === INCREMENTAL) return;
  try {
    await db.raw('PRAGMA auto_vacuum = INCREMENTAL');
    await db.raw('VACUUM');
  } catch (error) {
    say?.(`the database could not be written anew, and keeps its size for now: ${(error as Error).message}`);
  }
}
