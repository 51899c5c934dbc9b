import type Database from 'better-sqlite3';
import type { Knex } from 'knex';
import { BUSY_TIMEOUT_MS, withRawConnection } from './connection';

/** The right to write is asked for again after so long: seldom enough to cost nothing, soon enough to get a turn. */
const ASK_AGAIN_MS = 2;

function isBusyError(error: unknown): boolean {
  return ((error as { code?: string } | null)?.code ?? '').startsWith('SQLITE_BUSY');
}

function atOnce<T>(raw: Database.Database, work: (raw: Database.Database) => T): T {
  raw.pragma('busy_timeout = 0');
  try {
    return raw.transaction(() => work(raw)).immediate();
  } finally {
    raw.pragma(`busy_timeout = ${BUSY_TIMEOUT_MS}`);
  }
}

/**
 * Writes in one transaction, begun once nobody else has the right to write. The database itself would make the whole
 * thread wait for that; here it goes on with other things. Throws what the database says where that takes too long.
 */
export async function writeWhenFree<T>(
  db: Knex,
  work: (raw: Database.Database) => T,
  patienceMs = BUSY_TIMEOUT_MS,
): Promise<T> {
  const until = performance.now() + patienceMs;
  for (;;) {
    try {
      return await withRawConnection(db, (raw) => atOnce(raw, work));
    } catch (error) {
      if (!isBusyError(error) || performance.now() >= until) throw error;
    }
    await new Promise((resolve) => setTimeout(resolve, ASK_AGAIN_MS));
  }
}
