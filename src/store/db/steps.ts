import type Database from 'better-sqlite3';
import type { Knex } from 'knex';
import { withRawConnection } from './connection';

/** One step holds the database no longer than this, and a little: the piece of work that is begun is ended. */
const STEP_MS = 15;

/**
 * Does many small pieces of work in short transactions with a breath between them, so that nobody waits long for
 * the database and looks are not late. `prepare` is asked once a step, so that statements are compiled once for many
 * pieces. Returns how many steps it took.
 */
export async function inSteps<T>(
  db: Knex,
  pieces: Iterable<T>,
  prepare: (raw: Database.Database) => (piece: T) => void,
  monotonic: () => number = () => performance.now(),
): Promise<number> {
  const iterator = pieces[Symbol.iterator]();
  let steps = 0;
  for (let done = false; !done; steps += 1) {
    await withRawConnection(db, (raw) =>
      raw
        .transaction(() => {
          const end = monotonic() + STEP_MS;
          const work = prepare(raw);
          do {
            const next = iterator.next();
            if (next.done) {
              done = true;
              return;
            }
            work(next.value);
          } while (monotonic() < end);
        })
        .immediate(),
    );
    await new Promise((resolve) => setImmediate(resolve));
  }
  return steps;
}

/** Pieces of [from, to), each at most `width` long. */
export function* spansOf(from: number, to: number, width: number): Generator<{ from: number; to: number }> {
  for (let at = from; at < to; at += width) yield { from: at, to: Math.min(to, at + width) };
}

/** Runs a statement that changes some rows at a time until it changes none. */
export async function untilNothing(db: Knex, sql: string, values: readonly number[]): Promise<void> {
  let left = true;
  function* again() {
    while (left) yield sql;
  }
  await inSteps(db, again(), (raw) => {
    const statement = raw.prepare(sql);
    return () => {
      left = statement.run(...values).changes > 0;
    };
  });
}
