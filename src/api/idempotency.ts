import { DAY_MS } from '@/core/time/units';
import { createHash } from 'node:crypto';
import type { Principal } from '@/cases/frame/principal';
import { actorOf } from '@/cases/frame/principal';
import { Refusal } from '@/cases/frame/refusal';
import type { World } from '@/cases/frame/world';
import type { Db } from '@/store/db/connection';
import { fetchAnswered, saveAnswered } from '@/store/access/answered-requests';

/** So long an answer is kept for whoever asks again. */
const KEEP_MS = DAY_MS;
const KEY = /^[\x20-\x7e]{1,200}$/;

export interface KeptAnswer {
  body: string;
  headers: Record<string, string>;
}

export interface Repeatable {
  /** What was answered before; null where this is the first time. */
  before: KeptAnswer | null;
  /** Keeps the answer, in the transaction of what was done. */
  keep: (trx: Db, answer: KeptAnswer) => Promise<void>;
  /** The request is not under way any more. */
  done: () => void;
}

const underWay = new Set<string>();

/**
 * A request that may be sent again without being done again: the key stands for it and its answer for a day. Answers
 * may hold a secret that is shown once, and are kept sealed.
 */
export async function repeatable(
  request: { key: string; method: string; path: string; body: unknown },
  who: Principal,
  { db, vault, now }: World,
): Promise<Repeatable> {
  if (!KEY.test(request.key)) {
    const message = 'Expected Idempotency-Key to be 1 to 200 plain characters.';
    throw new Refusal('input.invalid', message, [{ field: 'Idempotency-Key', message }]);
  }
  const { kind, id } = actorOf(who);
  const place = `${kind} ${id}`;
  const fingerprint = createHash('sha256')
    .update(JSON.stringify([request.method, request.path, request.body]))
    .digest('base64url');
  const mark = `${place} ${request.key}`;
  if (underWay.has(mark)) {
    throw new Refusal('key.busy', 'The first request with this Idempotency-Key is still under way.');
  }
  underWay.add(mark);
  try {
    const at = now();
    const kept = await fetchAnswered(db, { who: place, key: request.key, since: at - KEEP_MS });
    if (kept && kept.request !== fingerprint) {
      throw new Refusal(
        'key.reused',
        'This Idempotency-Key came with another request before; use a new one.',
      );
    }
    return {
      before: kept ? (JSON.parse(vault.open(kept.answer)) as KeptAnswer) : null,
      keep: (trx, answer) =>
        saveAnswered(trx, {
          who: place,
          key: request.key,
          request: fingerprint,
          answer: vault.seal(JSON.stringify(answer)),
          at,
        }),
      done: () => underWay.delete(mark),
    };
  } catch (error) {
    underWay.delete(mark);
    throw error;
  }
}
