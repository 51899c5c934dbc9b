import type Database from 'better-sqlite3';
import type { Happening, TellingInput } from '@/core/telling/telling';
import { prepared, withRawConnection, type Db } from '@/store/db/connection';

const INSERT = 'INSERT INTO happenings (at, thread, happening) VALUES (?, ?, ?)';

function writeInput(raw: Database.Database, thread: string, input: TellingInput, at: number): void {
  prepared(raw, INSERT).run(at, thread, JSON.stringify(input));
}

/** Notes within the transaction of what happened that it may be told; the routes are gone by afterwards. */
export function writeHappening(raw: Database.Database, happening: Happening, at: number): void {
  writeInput(raw, happening.thread, { type: 'happened', happening }, at);
}

/** The same within a transaction of the query builder. */
export function saveHappening(trx: Db, happening: Happening, at: number): Promise<void> {
  return withRawConnection(trx, (raw) => writeHappening(raw, happening, at));
}

/** Notes that somebody has a trouble, or has it no more. */
export function saveTaking(
  trx: Db,
  taking: Extract<TellingInput, { thread: string }>,
  at: number,
): Promise<void> {
  return withRawConnection(trx, (raw) => writeInput(raw, taking.thread, taking, at));
}

export interface UntoldInput {
  id: number;
  at: number;
  /** Null where what is kept cannot be read. */
  input: TellingInput | null;
}

/** What happened and has not gone through the routes, the oldest first. */
export async function fetchUntold(db: Db, limit: number): Promise<UntoldInput[]> {
  const rows = await db('happenings').whereNull('told_at').orderBy('id').limit(limit);
  return rows.map(({ id, at, happening }) => ({ id, at, input: inputOf(happening) }));
}

function inputOf(text: string): TellingInput | null {
  try {
    return JSON.parse(text) as TellingInput;
  } catch {
    return null;
  }
}
