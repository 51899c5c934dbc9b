import type { Knex } from 'knex';
import { transaction, type Db } from '@/store/db/connection';
import { saveDeeds } from '@/store/access/deeds';
import { actorOf, type Principal } from './principal';
import { Refusal } from './refusal';
import type { Right } from './right';
import type { World } from './world';

/** One of the things a deed may be about. */
export interface Subject {
  kind: string;
  id: number | null;
  name: string;
}

/** What a use case that changes something is given. */
export interface Act {
  who: Principal;
  world: World;
  /** The transaction everything is read and written in. */
  trx: Knex.Transaction;
  now: number;
  /** What it was about: noted with who did it, in the same transaction. */
  about: (subject: Subject) => void;
  /** Runs once all is committed; what is told to others is told then. */
  afterwards: (tell: () => unknown) => void;
}

/** What a use case that only looks, or asks the engine, is given. */
export interface Asking {
  who: Principal;
  world: World;
  db: Db;
  now: number;
}

export interface CallOptions<Out> {
  /** Runs within the transaction, after everything else. */
  within?: (trx: Knex.Transaction, out: Out) => Promise<void>;
}

/** One thing that can be done: for whom, with what, to a result; throws a `Refusal`. */
export interface UseCase<In, Out> {
  (who: Principal, input: In, world: World, options?: CallOptions<Out>): Promise<Out>;
  /** By which it is known: the operation's id in the API, and the word in the record of deeds. */
  readonly id: string;
  readonly right: Right;
  readonly changes: boolean;
}

function guarded<In, Out>(
  id: string,
  right: Right,
  changes: boolean,
  run: (...given: Parameters<UseCase<In, Out>>) => Promise<Out>,
): UseCase<In, Out> {
  const checked = async (...given: Parameters<UseCase<In, Out>>): Promise<Out> => {
    const [who] = given;
    if (!who.rights.has(right)) {
      throw new Refusal('right.missing', `This needs the right to ${right}.`);
    }
    return run(...given);
  };
  return Object.assign(checked, { id, right, changes });
}

/** Looks, tries or asks the engine; nothing is kept. */
export function asks<In, Out>(
  id: string,
  right: Right,
  run: (asking: Asking, input: In) => Promise<Out>,
): UseCase<In, Out> {
  return guarded(id, right, false, (who, input, world) =>
    run({ who, world, db: world.db, now: world.now() }, input),
  );
}

/** By now all is kept: that somebody could not be told is no reason to say that it was not done. */
async function told(tell: () => unknown, world: World): Promise<void> {
  try {
    await tell();
  } catch (error) {
    world.onError(error);
  }
}

/**
 * Changes something. `check` sees to it that the input is what it should be, before anything is locked; `run` does the
 * rest in one transaction, in which it is also noted who did it. Others are told when all is committed.
 */
export function changes<In, Checked, Out>(
  id: string,
  right: Right,
  check: (input: In, asking: Asking) => Promise<Checked> | Checked,
  run: (act: Act, checked: Checked) => Promise<Out>,
  /** Reads what came of it anew, once all who had to be told were. */
  fresh?: (out: Out, world: World) => Promise<Out>,
): UseCase<In, Out> {
  return guarded(id, right, true, async (who, input, world, options: CallOptions<Out> = {}) => {
    const now = world.now();
    const checked = await check(input, { who, world, db: world.db, now });
    const later: (() => unknown)[] = [];
    const out = await transaction(world.db, async (trx) => {
      const subjects: Subject[] = [];
      const act: Act = {
        who,
        world,
        trx,
        now,
        about: (subject) => subjects.push(subject),
        afterwards: (tell) => later.push(tell),
      };
      const result = await run(act, checked);
      await saveDeeds(trx, { at: now, deed: id, by: actorOf(who) }, subjects);
      await options.within?.(trx, result);
      return result;
    });
    for (const tell of later) await told(tell, world);
    return fresh ? fresh(out, world) : out;
  });
}

/** Where there is nothing to check before. */
export function asIs<In>(input: In): In {
  return input;
}
