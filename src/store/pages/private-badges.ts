import type { PageSection } from '@/core/pages/page';
import type { Db } from '@/store/db/connection';
import type { PrivateBadgeRow } from '@/store/db/public-tables';
import { fetchShown, type ShownSection } from './shown';

/** What a badge stands for: one of the three. */
export interface BadgeSubject {
  watchId: number | null;
  sectionId: number | null;
  tagId: number | null;
}

/** A badge of what need not stand on any page, found by a secret. */
export interface PrivateBadge extends BadgeSubject {
  id: number;
  secret: string;
  madeAt: number;
}

const badgeOf = (row: PrivateBadgeRow): PrivateBadge => ({
  id: row.id,
  secret: row.secret,
  watchId: row.watch_id,
  sectionId: row.section_id,
  tagId: row.tag_id,
  madeAt: row.made_at,
});

async function fetchPrivateBadges(db: Db): Promise<PrivateBadge[]> {
  return (await db('private_badges').orderBy('id')).map(badgeOf);
}

export async function fetchPrivateBadge(db: Db, id: number): Promise<PrivateBadge | null> {
  const row = await db('private_badges').where({ id }).first();
  return row ? badgeOf(row) : null;
}

export async function fetchBadgeBySecret(db: Db, secret: string): Promise<PrivateBadge | null> {
  const row = await db('private_badges').where({ secret }).first();
  return row ? badgeOf(row) : null;
}

export async function saveNewPrivateBadge(
  db: Db,
  { secret, watchId, sectionId, tagId, madeAt }: Omit<PrivateBadge, 'id'>,
): Promise<number> {
  const [id] = await db('private_badges').insert({
    ...{ secret, watch_id: watchId, section_id: sectionId, tag_id: tagId, made_at: madeAt },
  });
  return id!;
}

export async function deletePrivateBadge(db: Db, id: number): Promise<void> {
  await db('private_badges').where({ id }).delete();
}

/** What a badge is of, by the name it has on the desk; null where that is gone. */
export async function fetchBadgeName(db: Db, subject: BadgeSubject): Promise<string | null> {
  const { watchId, sectionId, tagId } = subject;
  if (watchId !== null) {
    return (await db('watches').where({ id: watchId }).whereNull('deleted_at').first('name'))?.name ?? null;
  }
  if (sectionId !== null) return (await db('sections').where({ id: sectionId }).first('name'))?.name ?? null;
  if (tagId !== null) return (await db('tags').where({ id: tagId }).first('name'))?.name ?? null;
  return null;
}

/** A badge with what it stands for is called; null where that is gone. */
export interface NamedBadge extends PrivateBadge {
  name: string | null;
}

export async function withName(db: Db, badge: PrivateBadge): Promise<NamedBadge> {
  return { ...badge, name: await fetchBadgeName(db, badge) };
}

export async function fetchNamedBadges(db: Db): Promise<NamedBadge[]> {
  return Promise.all((await fetchPrivateBadges(db)).map((badge) => withName(db, badge)));
}

/** What a badge shows, as a page would. */
export async function fetchBadgeShown(db: Db, badge: PrivateBadge, name: string): Promise<ShownSection[]> {
  const { watchId, sectionId, tagId } = badge;
  const section: PageSection =
    watchId === null
      ? { title: name, items: [], follows: { sectionId, tagId } }
      : {
          title: '',
          items: [{ watchIds: [watchId], label: name, description: '', shows: 'times', counting: 'any' }],
          follows: null,
        };
  const shown = await fetchShown(db, [section]);
  return shown.map(({ title, items }) => ({
    title,
    items: items.map((item) => ({ ...item, shows: 'times' })),
  }));
}
