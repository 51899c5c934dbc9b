import type { Knex } from 'knex';
import { asIs, changes, type Act, type UseCase } from './use-case';
import type { Right } from './right';
import { refuseChanged, type Expected } from './version';

interface Deleting<T> {
  find: (trx: Knex.Transaction, id: number) => Promise<T>;
  version: (one: T) => string;
  /** What it is called when somebody else has changed it meanwhile. */
  called: (one: T) => string;
  /** Lets go of it. */
  remove: (trx: Knex.Transaction, id: number, now: number) => Promise<unknown>;
  /** Notes what was deleted, and tells those who have to know. */
  touched: (act: Act, one: T) => void;
}

/** Deletes one of something, unless it has changed since whoever deletes it has read it. */
export function deletes<T>(
  id: string,
  right: Right,
  { find, version, called, remove, touched }: Deleting<T>,
): UseCase<{ id: number; expected: Expected }, void> {
  return changes(
    id,
    right,
    asIs<{ id: number; expected: Expected }>,
    async (act, { id: wanted, expected }): Promise<void> => {
      const one = await find(act.trx, wanted);
      refuseChanged(expected, version(one), called(one));
      await remove(act.trx, wanted, act.now);
      touched(act, one);
    },
  );
}
