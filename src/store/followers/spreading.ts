import type { Knex } from 'knex';
import { wants } from '@/core/followers/follower';
import type { LetterFacts } from '@/core/followers/letter';
import { transaction, type Db } from '@/store/db/connection';
import { followerOf } from './followers';
import { letterOf, type Letter } from './letters';

/** Letters to be given out: those that are due, and those that have begun to be. */
export async function fetchDueLetters(db: Db, now: number): Promise<Letter[]> {
  const begun = await db('letters').whereNotNull('spread_to').orderBy('id').limit(20);
  const due = await db('letters').whereNull('spread_at').where('due_at', '<=', now).orderBy('id').limit(20);
  return [...begun, ...due].map(letterOf);
}

/** What a letter is about, as followers choose. */
function toldBy(facts: LetterFacts): { labels: readonly string[]; maintenance: boolean } {
  if (facts.kind === 'incident')
    return { labels: facts.affected.map(({ label }) => label), maintenance: false };
  return {
    labels: facts.kind === 'maintenance' ? facts.labels : [],
    maintenance: facts.kind === 'maintenance',
  };
}

const AT_ONCE = 200;
/** So many followers are gone through in one transaction: a page of many must not hold the right to write for long. */
const A_STEP = 1000;

/** One step of giving a letter out, from where the last one ended; null where it is at its end. */
async function spreadStep(
  trx: Db,
  letter: Letter,
  shown: ReadonlySet<string>,
  now: number,
): Promise<number | null> {
  const row = await trx('letters').where({ id: letter.id }).first('spread_at', 'spread_to');
  // Taken back meanwhile, or given out by now.
  if (!row || (row.spread_at !== null && row.spread_to === null)) return null;
  const followers = await trx('followers')
    .where({ page_id: letter.pageId, state: 'follows' })
    .where('id', '>', row.spread_to ?? 0)
    .orderBy('id')
    .limit(A_STEP);
  const wanted = followers.map(followerOf).filter(({ choice }) => wants(choice, toldBy(letter.facts), shown));
  for (let i = 0; i < wanted.length; i += AT_ONCE) {
    await trx('letter_deliveries').insert(
      wanted.slice(i, i + AT_ONCE).map(({ id }) => ({
        ...{ letter_id: letter.id, follower_id: id, state: 'waiting' as const, next_at: now },
      })),
    );
  }
  const ended = followers.length < A_STEP;
  await trx('letters')
    .where({ id: letter.id })
    .update({ spread_at: row.spread_at ?? now, spread_to: ended ? null : followers.at(-1)!.id });
  return wanted.length;
}

/**
 * Gives a letter to all who want it, once each: how far that has got is noted in the transaction of each step, and gone
 * on from after a crash. How many got it.
 */
export async function spreadLetter(
  db: Knex,
  letter: Letter,
  shown: ReadonlySet<string>,
  now: number,
): Promise<number> {
  for (let given = 0; ;) {
    const step = await transaction(db, (trx) => spreadStep(trx, letter, shown, now));
    if (step === null) return given;
    given += step;
    await new Promise((resolve) => setImmediate(resolve));
  }
}
