import type { Knex } from 'knex';
import type { Answer } from '@/channels/frame/kind';
import { isRefusedForGood } from '@/core/followers/refused';
import { GIVE_UP_AFTER_MS, retryDelayMs, spread } from '@/core/messages/routing';
import { transaction } from '@/store/db/connection';
import { saveReached, saveRefusal } from '@/store/followers/followers';
import { saveLetterOutcome, type LetterDelivery } from '@/store/followers/letters';
import { asideAfter } from './letter-post';

/** Notes what came of handing a letter over: it went, it is tried again later, or it is given up. */
export async function noteOutcome(
  db: Knex,
  at: number,
  { id, letter, follower, attempts }: LetterDelivery,
  answer: Answer,
  /** The mail channel it went by; null for another way. */
  sender: number | null,
): Promise<void> {
  const lasting = !answer.ok && (!answer.retry || at - letter.madeAt > GIVE_UP_AFTER_MS);
  const waitMs = Math.max(answer.retryAfterMs ?? 0, spread(retryDelayMs(attempts + 1), Math.random()));
  await transaction(db, async (trx) => {
    await saveLetterOutcome(trx, {
      ...{ id, at, sender, said: answer.said.slice(0, 300) },
      state: answer.ok ? 'sent' : lasting ? 'given-up' : 'waiting',
      nextAt: answer.ok ? at : at + waitMs,
    });
    if (answer.ok) await saveReached(trx, follower.id, at);
    else if (answer.gone || isRefusedForGood(answer)) {
      await saveRefusal(trx, follower.id, asideAfter(answer, follower.refusals));
    }
  });
}
