import type { Db } from '@/store/db/connection';
import { fetchKnownIds } from '@/store/watches/watches';

/** What maintenance is for: watches, and all of some sections and with some tags, those that come later too. */
export interface Coverage {
  watchIds: number[];
  sectionIds: number[];
  tagIds: number[];
}

interface Belonging {
  id: number;
  of: number;
}

function groupedBy(rows: readonly Belonging[]): Map<number, number[]> {
  const groups = new Map<number, number[]>();
  for (const { id, of } of rows) {
    const group = groups.get(of);
    if (group) group.push(id);
    else groups.set(of, [id]);
  }
  return groups;
}

/** Watches by the sections they stand in and the tags they carry, as far as something asks for these. */
async function fetchBelonging(db: Db, all: readonly Coverage[]) {
  const sectionIds = [...new Set(all.flatMap((one) => one.sectionIds))];
  const tagIds = [...new Set(all.flatMap((one) => one.tagIds))];
  const inSections =
    sectionIds.length === 0
      ? []
      : await db('watches')
          .whereIn('section_id', sectionIds)
          .whereNull('deleted_at')
          .select<Belonging[]>('id', 'section_id as of');
  const withTags =
    tagIds.length === 0
      ? []
      : await db('watch_tags')
          .join('watches', 'watches.id', 'watch_tags.watch_id')
          .whereIn('tag_id', tagIds)
          .whereNull('watches.deleted_at')
          .select<Belonging[]>('watches.id as id', 'tag_id as of');
  return { sections: groupedBy(inSections), tags: groupedBy(withTags) };
}

/** The same with the ids of all watches each is for, however they were chosen, each once; without those that are gone. */
export async function withCovered<T extends Coverage>(
  db: Db,
  all: readonly T[],
): Promise<(T & { covers: number[] })[]> {
  const { sections, tags } = await fetchBelonging(db, all);
  const there = await fetchKnownIds(db, [...new Set(all.flatMap(({ watchIds }) => watchIds))]);
  return all.map((one) => {
    const more = [
      ...one.sectionIds.flatMap((id) => sections.get(id) ?? []),
      ...one.tagIds.flatMap((id) => tags.get(id) ?? []),
    ];
    return { ...one, covers: [...new Set([...one.watchIds.filter((id) => there.has(id)), ...more])] };
  });
}

export interface CoverageColumns {
  watch_ids: string;
  section_ids: string;
  tag_ids: string;
}

/** What a window and a row of them have in common. */
interface PlannedRow extends CoverageColumns {
  id: number;
  title: string;
  text: string;
  announce_days: number;
}

export function plannedOf(row: PlannedRow) {
  return {
    id: row.id,
    title: row.title,
    text: row.text,
    watchIds: JSON.parse(row.watch_ids) as number[],
    sectionIds: JSON.parse(row.section_ids) as number[],
    tagIds: JSON.parse(row.tag_ids) as number[],
    announceDays: row.announce_days,
  };
}

export function coverageColumns({ watchIds, sectionIds, tagIds }: Coverage): CoverageColumns {
  return {
    watch_ids: JSON.stringify(watchIds),
    section_ids: JSON.stringify(sectionIds),
    tag_ids: JSON.stringify(tagIds),
  };
}

/** Maintenance that is not over, each once whatever it repeats: its title, and the sections and tags it is for. */
export async function fetchChosenByGroups(
  db: Db,
  now: number,
): Promise<Pick<Coverage & { title: string }, 'title' | 'sectionIds' | 'tagIds'>[]> {
  const rows: PlannedRow[] = [
    ...(await db('windows').where('ends', '>', now).whereNull('series_id').orderBy(['begins', 'id'])),
    ...(await db('window_series').orderBy('id')),
  ];
  return rows.map(plannedOf).filter((one) => one.sectionIds.length > 0 || one.tagIds.length > 0);
}
