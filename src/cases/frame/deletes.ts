import type { Knex } from 'knex';
import { asIs, changes, type Act, type UseCase } from './use-case';
import type { Right } from './right';
import { refuseChanged, type Expected } from './version';

interface Deleting<T, R> {
  find: (trx: Knex.Transaction, id: number) => Promise<T>;
  version: (one: T) => string;
  /** What it is called when somebody else has changed it meanwhile. */
  called: (one: T) => string;
  /** Lets go of it. */
  remove: (trx: Knex.Transaction, id: number, now: number) => Promise<R>;
  /** Notes what was deleted, and tells those who have to know; it is handed what letting go came to. */
  touched: (act: Act, one: T, removed: R) => void;
}

/** Deletes one of something, unless it has changed since whoever deletes it has read it. */
export function deletes<T, R>(
  id: string,
  right: Right,
  { find, version, called, remove, touched }: Deleting<T, R>,
): UseCase<{ id: number; expected: Expected }, void> {
  return changes(
    id,
    right,
    asIs<{ id: number; expected: Expected }>,
    async (act, { id: wanted, expected }): Promise<void> => {
      const one = await find(act.trx, wanted);
      refuseChanged(expected, version(one), called(one));
      touched(act, one, await remove(act.trx, wanted, act.now));
    },
  );
}
