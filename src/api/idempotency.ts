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
  body: string | null;
  headers: Record<string, string>;
}

interface Asked {
  key: string;
  method: string;
  path: string;
  body: unknown;
}

/** Keeps an answer, in the transaction of what was done. */
type Keep = (trx: Db, answer: KeptAnswer) => Promise<void>;

function keyProblem(key: string): Refusal | null {
  if (KEY.test(key)) return null;
  const message = 'Expected Idempotency-Key to be 1 to 200 plain characters.';
  return new Refusal('input.invalid', message, [{ field: 'Idempotency-Key', message }]);
}

/**
 * Does something once for all requests with the same key, which stands for the request and its answer for a day: whoever
 * sends it again is answered as before. Answers may hold a secret that is shown once, and are kept sealed.
 */
export async function doneOnce(
  { key, ...request }: Asked,
  who: Principal,
  { db, vault, now }: World,
  work: (keep: Keep) => Promise<KeptAnswer>,
): Promise<{ answer: KeptAnswer; replayed: boolean }> {
  const problem = keyProblem(key);
  if (problem) throw problem;
  const { kind, id } = actorOf(who);
  const at = now();
  const asked = { who: `${kind} ${id}`, key, since: at - KEEP_MS };
  const mark = createHash('sha256')
    .update(JSON.stringify([request.method, request.path, request.body]))
    .digest('base64url');
  const before = async (): Promise<KeptAnswer | null> => {
    const kept = await fetchAnswered(db, asked);
    if (kept && kept.request !== mark) {
      const why = 'This Idempotency-Key came with another request before; use a new one.';
      throw new Refusal('key.reused', why);
    }
    return kept && (JSON.parse(vault.open(kept.answer)) as KeptAnswer);
  };
  const known = await before();
  if (known) return { answer: known, replayed: true };
  const keep: Keep = async (trx, answer) => {
    // By another request at the same time, or by the desk that this one takes over from: here it is undone again.
    if (await fetchAnswered(trx, asked)) throw new Error('The same request was done meanwhile.');
    const sealed = vault.seal(JSON.stringify(answer));
    await saveAnswered(trx, { who: asked.who, key, request: mark, answer: sealed, at });
  };
  try {
    return { answer: await work(keep), replayed: false };
  } catch (error) {
    // What the same request did at the same time may stand in the way of this one.
    const meanwhile = await before();
    if (meanwhile) return { answer: meanwhile, replayed: true };
    throw error;
  }
}
