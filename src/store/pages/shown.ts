import type { PageItem, PageSection } from '@/core/pages/page';
import type { Db } from '@/store/db/connection';

export interface ShownSection {
  title: string;
  items: PageItem[];
}

/** Watches of a section or with a tag, in the order of the desk. */
async function fetchFollowed(
  db: Db,
  follows: PageSection['follows'],
): Promise<{ id: number; name: string }[]> {
  if (!follows) return [];
  const query = db('watches')
    .leftJoin('sections', 'sections.id', 'watches.section_id')
    .whereNull('watches.deleted_at')
    .orderByRaw('sections.position IS NULL, sections.position, watches.position, watches.id')
    .select('watches.id as id', 'watches.name as name');
  if (follows.sectionId !== null) query.where('watches.section_id', follows.sectionId);
  if (follows.tagId !== null) {
    query.whereIn('watches.id', db('watch_tags').where({ tag_id: follows.tagId }).select('watch_id'));
  }
  return query;
}

/**
 * What stands in the sections of a page: what was chosen, and behind it what came by itself, under the name it has on
 * the desk. A watch that was chosen for any line of the page does not come a second time.
 */
export async function fetchShown(db: Db, sections: readonly PageSection[]): Promise<ShownSection[]> {
  const chosen = new Set(sections.flatMap(({ items }) => items.flatMap(({ watchIds }) => watchIds)));
  const shown: ShownSection[] = [];
  for (const { title, items, follows } of sections) {
    const more = (await fetchFollowed(db, follows)).filter(({ id }) => !chosen.has(id));
    for (const { id } of more) chosen.add(id);
    const added = more.map(({ id, name }): PageItem => ({
      watchIds: [id],
      label: name,
      description: '',
      shows: 'history',
      counting: 'any',
    }));
    shown.push({ title, items: [...items, ...added] });
  }
  return shown;
}

/** The watches a page shows, those that came by themselves too. */
export async function fetchShownIds(db: Db, sections: readonly PageSection[]): Promise<number[]> {
  const shown = await fetchShown(db, sections);
  return [...new Set(shown.flatMap(({ items }) => items.flatMap(({ watchIds }) => watchIds)))];
}

/** Which line of a page each of its watches belongs to. */
export async function fetchLabels(
  db: Db,
  page: { sections: readonly PageSection[] },
): Promise<Map<number, string>> {
  const shown = await fetchShown(db, page.sections);
  return new Map(
    shown.flatMap(({ items }) =>
      items.flatMap(({ watchIds, label }) => watchIds.map((id) => [id, label] as const)),
    ),
  );
}

/** What visitors call some watches: each line of theirs once. */
export function namesOn(labels: ReadonlyMap<number, string>, watchIds: readonly number[]): string[] {
  return [...new Set(watchIds.flatMap((id) => labels.get(id) ?? []))];
}
