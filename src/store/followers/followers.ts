import { randomBytes } from 'node:crypto';
import type { Language } from '@/core/languages/language';
import { DAY_MS } from '@/core/time/units';
import type { FollowerChoice, FollowerKind, FollowerState } from '@/core/followers/follower';
import type { Db } from '@/store/db/connection';
import { turnTo, type ListPage } from '@/store/db/list-page';
import type { FollowerRow } from '@/store/db/public-tables';

/** Somebody outside who asked to be told what a page tells. */
export interface Follower {
  id: number;
  pageId: number;
  kind: FollowerKind;
  address: string;
  /** Sealed. */
  secret: string | null;
  choice: FollowerChoice;
  language: Language;
  state: FollowerState;
  mark: string;
  /** How we know that they want it. */
  consent: string;
  madeAt: number;
  askedAt: number | null;
  confirmedAt: number | null;
  refusals: number;
  asideWhy: string | null;
}

export type NewFollower = Omit<Follower, 'id' | 'mark' | 'refusals' | 'asideWhy'>;

export function followerOf(row: FollowerRow): Follower {
  return {
    id: row.id,
    pageId: row.page_id,
    kind: row.kind,
    address: row.address,
    secret: row.secret,
    choice: JSON.parse(row.choice) as FollowerChoice,
    language: row.language as Language,
    state: row.state,
    mark: row.mark,
    consent: row.consent,
    madeAt: row.made_at,
    askedAt: row.asked_at,
    confirmedAt: row.confirmed_at,
    refusals: row.refusals,
    asideWhy: row.aside_why,
  };
}

export interface FollowerFilter {
  pageId: number;
  state?: FollowerState;
  kind?: FollowerKind;
  /** A part of the address. */
  words?: string;
}

export async function fetchFollowers(
  db: Db,
  { pageId, state, kind, words }: FollowerFilter,
  page: ListPage,
): Promise<Follower[]> {
  const query = db('followers').where({ page_id: pageId, ...(state && { state }), ...(kind && { kind }) });
  if (words) query.whereRaw(String.raw`address LIKE ? ESCAPE '\'`, [`%${words.replace(/[\\%_]/g, '\\$&')}%`]);
  return (await turnTo(query, page, { at: 'made_at', id: 'id' })).map(followerOf);
}

export async function fetchFollower(db: Db, id: number): Promise<Follower | null> {
  const row = await db('followers').where({ id }).first();
  return row ? followerOf(row) : null;
}

export async function fetchFollowerAt(
  db: Db,
  pageId: number,
  kind: FollowerKind,
  address: string,
): Promise<Follower | null> {
  const row = await db('followers').where({ page_id: pageId, kind, address }).first();
  return row ? followerOf(row) : null;
}

/** How many follow each of these pages, and how many were put aside or have not said yes. */
export async function countFollowers(
  db: Db,
  pageIds: readonly number[],
): Promise<Map<number, Record<FollowerState, number>>> {
  const counts = new Map(pageIds.map((id) => [id, { asked: 0, follows: 0, aside: 0 }]));
  const rows = (await db('followers')
    .whereIn('page_id', [...pageIds])
    .groupBy('page_id', 'state')
    .select('page_id', 'state')
    .count({ number: '*' })) as { page_id: number; state: FollowerState; number: number }[];
  for (const { page_id: id, state, number } of rows) counts.get(id)![state] = Number(number);
  return counts;
}

/** How many were asked since a time, and have not said yes. */
export async function countAsked(db: Db, pageId: number, since: number): Promise<number> {
  const [row] = await db('followers')
    .where({ page_id: pageId, state: 'asked' })
    .where('asked_at', '>', since)
    .count({ number: '*' });
  return Number(row!.number);
}

/** How many browsers are told of a page. */
export async function countBrowsers(db: Db, pageId: number): Promise<number> {
  const [row] = await db('followers').where({ page_id: pageId, kind: 'push' }).count({ number: '*' });
  return Number(row!.number);
}

export async function saveNewFollower(db: Db, follower: NewFollower): Promise<number> {
  const [id] = await db('followers').insert({
    page_id: follower.pageId,
    kind: follower.kind,
    address: follower.address,
    secret: follower.secret,
    choice: JSON.stringify(follower.choice),
    language: follower.language,
    state: follower.state,
    mark: randomBytes(9).toString('base64url'),
    consent: follower.consent,
    made_at: follower.madeAt,
    asked_at: follower.askedAt,
    confirmed_at: follower.confirmedAt,
  });
  return id!;
}

/** Asked once more, perhaps for something else. */
export async function saveAskedAgain(
  db: Db,
  id: number,
  { choice, language, at }: { choice: FollowerChoice | null; language: Language; at: number },
): Promise<void> {
  await db('followers')
    .where({ id })
    .update({ asked_at: at, language, ...(choice && { choice: JSON.stringify(choice) }) });
}

export async function saveFollows(db: Db, id: number, consent: string, at: number): Promise<void> {
  await db('followers')
    .where({ id })
    .update({ state: 'follows', confirmed_at: at, consent, refusals: 0, aside_why: null });
}

export async function saveChoice(db: Db, id: number, choice: FollowerChoice): Promise<void> {
  await db('followers')
    .where({ id })
    .update({ choice: JSON.stringify(choice) });
}

/** Calls lines by their new names where they were chosen. */
export async function renameChosen(
  db: Db,
  pageId: number,
  renamed: ReadonlyMap<string, string>,
): Promise<void> {
  const rows = await db('followers')
    .where({ page_id: pageId })
    .whereRaw("json_type(choice, '$.labels') = 'array'")
    .select('id', 'choice');
  for (const { id, choice } of rows) {
    const { labels, ...rest } = JSON.parse(choice) as FollowerChoice;
    if (!labels?.some((label) => renamed.has(label))) continue;
    const now = [...new Set(labels.map((label) => renamed.get(label) ?? label))];
    await saveChoice(db, id, { labels: now, ...rest });
  }
}

/** One more lasting refusal; with a reason, the address is put aside. */
export async function saveRefusal(db: Db, id: number, asideWhy: string | null): Promise<void> {
  await db('followers')
    .where({ id })
    .increment('refusals', 1)
    .update(asideWhy === null ? {} : { state: 'aside', aside_why: asideWhy });
}

/** A letter that was taken came back; with a reason, the address is put aside. */
export async function saveBounced(
  db: Db,
  id: number,
  { at, asideWhy }: { at: number; asideWhy: string | null },
): Promise<void> {
  await saveRefusal(db, id, asideWhy);
  await db('followers').where({ id }).update({ bounced_at: at });
}

/** Letters come back within this time, or are delivered. */
const COMES_BACK_MS = 3 * DAY_MS;

/**
 * A letter was taken for somebody: what was refused before counts no more. Where letters came back of late, that this one
 * was taken says little, for it may come back too.
 */
export async function saveReached(db: Db, id: number, at: number): Promise<void> {
  await db('followers')
    .where({ id })
    .where('refusals', '>', 0)
    .whereRaw('(bounced_at IS NULL OR bounced_at < ?)', [at - COMES_BACK_MS])
    .update({ refusals: 0 });
}

/** Erases somebody, and everything kept of them. */
export async function deleteFollower(db: Db, id: number): Promise<void> {
  await db('letter_deliveries').where({ follower_id: id }).delete();
  await db('followers').where({ id }).delete();
}

/** Those who were asked before a time and never said yes are forgotten. */
export async function forgetUnsaid(db: Db, before: number): Promise<void> {
  const unsaid = db('followers').where({ state: 'asked' }).where('asked_at', '<', before);
  await db('letter_deliveries').whereIn('follower_id', unsaid.clone().select('id')).delete();
  await unsaid.delete();
}
