import type { Db } from '@/store/db/connection';

/** A request that was answered, by whom it came from and the key it gave itself. */
export interface AnsweredRequest {
  who: string;
  key: string;
  /** A mark of all that was asked. */
  request: string;
  /** Sealed. */
  answer: string;
  at: number;
}

export async function fetchAnswered(
  db: Db,
  { who, key, since }: { who: string; key: string; since: number },
): Promise<AnsweredRequest | null> {
  return (await db('answered_requests').where({ who, key }).andWhere('at', '>', since).first()) ?? null;
}

export async function saveAnswered(db: Db, answered: AnsweredRequest): Promise<void> {
  await db('answered_requests').insert(answered).onConflict(['who', 'key']).merge();
}
