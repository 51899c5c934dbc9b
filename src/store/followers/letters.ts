import type { LetterFacts } from '@/core/followers/letter';
import type { Db } from '@/store/db/connection';
import type { FollowerRow, LetterRow } from '@/store/db/public-tables';
import { followerOf, type Follower } from './followers';

/** What followers of a page are told, once each. */
export interface Letter {
  id: number;
  pageId: number;
  key: string;
  facts: LetterFacts;
  about: string;
  urgency: number;
  madeAt: number;
  dueAt: number;
}

/** Questions go first, then trouble, then everything else. */
export const URGENCY = { question: 2, trouble: 1, usual: 0 } as const;

/** So long nothing is sent after it was published: it can be taken back. */
export const UNDO_MS = 30_000;

export function letterOf(row: LetterRow): Letter {
  return {
    id: row.id,
    pageId: row.page_id,
    key: row.key,
    facts: JSON.parse(row.facts) as LetterFacts,
    about: row.about,
    urgency: row.urgency,
    madeAt: row.made_at,
    dueAt: row.due_at,
  };
}

/** Notes what is to be told; what was noted under the same key already is not told twice. Answers whether it was new. */
export async function saveNewLetter(trx: Db, letter: Omit<Letter, 'id'>): Promise<boolean> {
  const there = await trx('letters').where({ page_id: letter.pageId, key: letter.key }).first('id');
  if (there) return false;
  await trx('letters').insert({
    page_id: letter.pageId,
    key: letter.key,
    facts: JSON.stringify(letter.facts),
    about: letter.about,
    urgency: letter.urgency,
    made_at: letter.madeAt,
    due_at: letter.dueAt,
  });
  return true;
}

/** A letter to one follower alone. */
export async function saveLetterTo(
  trx: Db,
  follower: Pick<Follower, 'id' | 'pageId'>,
  facts: LetterFacts,
  at: number,
): Promise<void> {
  const [id] = await trx('letters').insert({
    page_id: follower.pageId,
    key: `to.${follower.id}.${at}`,
    facts: JSON.stringify(facts),
    about: '',
    urgency: URGENCY.question,
    made_at: at,
    due_at: at,
    spread_at: at,
  });
  await trx('letter_deliveries').insert({
    ...{ letter_id: id!, follower_id: follower.id, state: 'waiting', next_at: at },
  });
}

/** Letters that were not given to anybody yet, of which the key begins so. */
export async function fetchUnspread(db: Db, keyBegins: string): Promise<Letter[]> {
  const rows = await db('letters').whereNull('spread_at').where('key', '>=', keyBegins).orderBy('id');
  return rows.filter(({ key }) => key.startsWith(keyBegins)).map(letterOf);
}

/** The pages whose followers were told this. */
export async function fetchToldPages(db: Db, key: string): Promise<number[]> {
  return db('letters').where({ key }).whereNotNull('spread_at').pluck('page_id');
}

/** Takes letters back that were not given to anybody yet; how many. */
export async function deleteUnspread(trx: Db, keyBegins: string): Promise<number> {
  const ids = (await fetchUnspread(trx, keyBegins)).map(({ id }) => id);
  await trx('letters').whereIn('id', ids).whereNull('spread_at').delete();
  return ids.length;
}

/** What is told was put right before it went out. */
export async function saveLetterFacts(trx: Db, id: number, facts: LetterFacts): Promise<void> {
  await trx('letters')
    .where({ id })
    .whereNull('spread_at')
    .update({ facts: JSON.stringify(facts) });
}

/** One letter on its way to one follower. */
export interface LetterDelivery {
  id: number;
  letter: Letter;
  follower: Follower;
  attempts: number;
}

/** What waits for those of one kind who follow these pages, the most urgent first. */
export async function fetchDueLetterDeliveries(
  db: Db,
  {
    kind,
    pageIds,
    now,
    limit,
  }: { kind: Follower['kind']; pageIds: readonly number[]; now: number; limit: number },
): Promise<LetterDelivery[]> {
  const rows = await db('letter_deliveries as d')
    .join('letters as l', 'l.id', 'd.letter_id')
    .join('followers as f', 'f.id', 'd.follower_id')
    .where({ 'd.state': 'waiting', 'f.kind': kind })
    .whereIn('l.page_id', [...pageIds])
    .where('d.next_at', '<=', now)
    .orderBy([
      { column: 'l.urgency', order: 'desc' },
      // One address that is put off again and again must not be what its account is judged by each time it is tried; a
      // program hears of one thing after the other.
      ...(kind === 'mail' ? [{ column: 'd.attempts' }] : []),
      { column: 'l.id' },
      { column: 'd.id' },
    ])
    .limit(limit)
    .select<{ id: number; letter_id: number; follower_id: number; attempts: number }[]>(
      'd.id as id',
      'd.letter_id as letter_id',
      'd.follower_id as follower_id',
      'd.attempts as attempts',
    );
  const letters = await byId(
    db,
    'letters',
    rows.map((row) => row.letter_id),
  );
  const followers = await byId(
    db,
    'followers',
    rows.map((row) => row.follower_id),
  );
  return rows.map((row) => ({
    id: row.id,
    attempts: row.attempts,
    letter: letterOf(letters.get(row.letter_id) as LetterRow),
    follower: followerOf(followers.get(row.follower_id) as FollowerRow),
  }));
}

async function byId(db: Db, table: 'letters' | 'followers', ids: readonly number[]) {
  const rows = (await db(table).whereIn('id', [...new Set(ids)])) as (LetterRow | FollowerRow)[];
  return new Map(rows.map((row) => [row.id, row]));
}

/** How many were sent by a channel since a time, and when the first of them was. */
export async function countSentBy(
  db: Db,
  sender: number,
  since: number,
): Promise<{ number: number; firstAt: number | null }> {
  const [row] = (await db('letter_deliveries')
    .where({ sender })
    .where('sent_at', '>', since)
    .count({ number: '*' })
    .min({ firstAt: 'sent_at' })) as unknown as [{ number: number; firstAt: number | null }];
  return { number: Number(row.number), firstAt: row.firstAt };
}

export interface LetterOutcome {
  id: number;
  state: 'waiting' | 'sent' | 'given-up';
  at: number;
  nextAt: number;
  /** The channel it went by; null for a webhook, or where it did not go. */
  sender: number | null;
  said: string;
}

export async function saveLetterOutcome(
  db: Db,
  { id, state, at, nextAt, sender, said }: LetterOutcome,
): Promise<void> {
  await db('letter_deliveries')
    .where({ id })
    .increment('attempts', 1)
    .update({ state, next_at: nextAt, said, ...(state === 'sent' && { sent_at: at, sender }) });
}

/** The last letter that was taken for somebody came back: what was said stands with it. */
export async function saveCameBack(db: Db, followerId: number, said: string): Promise<void> {
  const last = await db('letter_deliveries')
    .where({ follower_id: followerId, state: 'sent' })
    .orderBy('sent_at', 'desc')
    .first('id');
  if (last)
    await db('letter_deliveries')
      .where({ id: last.id })
      .update({ said: said.slice(0, 300) });
}

/** When something is due next: a letter to be given out, or one on its way. */
export async function fetchNextLetterAt(db: Db): Promise<number | null> {
  const letter = await db('letters').whereNull('spread_at').min({ at: 'due_at' }).first();
  const delivery = await db('letter_deliveries').where({ state: 'waiting' }).min({ at: 'next_at' }).first();
  const times = [letter?.at, delivery?.at].filter((at): at is number => typeof at === 'number');
  return times.length === 0 ? null : Math.min(...times);
}

/** A clock that was wrong has planned tries for times that will not come for long. */
export async function pullLetters(db: Db, now: number, mostMs: number): Promise<void> {
  const latest = now + mostMs;
  await db('letter_deliveries')
    .where({ state: 'waiting' })
    .where('next_at', '>', latest)
    .update({ next_at: now });
  await db('letters').whereNull('spread_at').where('due_at', '>', latest).update({ due_at: now });
}

/** Everything one follower was sent, the newest first. */
export async function fetchLettersOf(
  db: Db,
  followerId: number,
): Promise<{ facts: LetterFacts; state: string; at: number | null; said: string }[]> {
  const rows = await db('letter_deliveries as d')
    .join('letters as l', 'l.id', 'd.letter_id')
    .where({ 'd.follower_id': followerId })
    .orderBy('d.id', 'desc')
    .limit(200)
    .select<{ facts: string; state: string; sent_at: number | null; said: string }[]>(
      'l.facts as facts',
      'd.state as state',
      'd.sent_at as sent_at',
      'd.said as said',
    );
  return rows.map((row) => ({
    facts: JSON.parse(row.facts) as LetterFacts,
    state: row.state,
    at: row.sent_at,
    said: row.said,
  }));
}

/** How far a page's letters have got. */
export async function countLetters(
  db: Db,
  pageId: number,
): Promise<{ waiting: number; sent: number; givenUp: number }> {
  const rows = (await db('letter_deliveries as d')
    .join('letters as l', 'l.id', 'd.letter_id')
    .where({ 'l.page_id': pageId })
    .groupBy('d.state')
    .select('d.state as state')
    .count({ number: '*' })) as { state: string; number: number }[];
  const of = (state: string) => Number(rows.find((row) => row.state === state)?.number ?? 0);
  return { waiting: of('waiting'), sent: of('sent'), givenUp: of('given-up') };
}

export async function deleteLettersBefore(db: Db, before: number): Promise<void> {
  await db('letters').where('made_at', '<', before).delete();
}
