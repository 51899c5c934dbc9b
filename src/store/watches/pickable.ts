import { MOST_PICKABLE } from '@/core/settings/pickable';
import type { SharedPlace, Values } from '@/core/settings/cascade';
import type { Db } from '@/store/db/connection';
import { inChunks } from '@/store/db/chunks';
import { fetchLevels } from './cascade';
import { fetchNamed } from './tied';
import { fetchFirstNamed } from './watches';

/** A watch to choose from; one that was deleted only where it is chosen already, for it may come back. */
export interface Pickable {
  id: number;
  name: string;
  deleted?: true;
}

async function fetchDeleted(db: Db, ids: readonly number[]): Promise<Pickable[]> {
  const found: Pickable[] = [];
  for (const some of inChunks(ids)) {
    const rows = await db('watches').whereIn('id', some).whereNotNull('deleted_at').select('id', 'name');
    found.push(...rows.map((row) => ({ ...row, deleted: true as const })));
  }
  return found;
}

/** Names to choose from: the first in the order of the desk, and those that are chosen already. */
export async function fetchPickable(db: Db, chosen: readonly number[] = []): Promise<Pickable[]> {
  const first = await fetchFirstNamed(db, MOST_PICKABLE);
  const beside = (some: readonly Pickable[], ids: readonly number[]) => {
    const there = new Set(some.map(({ id }) => id));
    return ids.filter((id) => !there.has(id));
  };
  const others = beside(first, chosen);
  const rest = await fetchNamed(db, others);
  const deleted = await fetchDeleted(db, beside(rest, others));
  return [...[...first, ...rest].map(({ id, name }) => ({ id, name })), ...deleted];
}

const restsOn = (values: Values | undefined): number[] =>
  Array.isArray(values?.restsOn) ? (values.restsOn as number[]) : [];

/** What watches rest on by what is set for many. */
export async function fetchSharedRests(db: Db): Promise<number[]> {
  const { instance, kinds, sections } = await fetchLevels(db);
  return [instance, ...Object.values(kinds), ...Object.values(sections)].flatMap(restsOn);
}

/** How many watches take their settings from a place, if they have none of their own. */
export async function countReached(db: Db, place: SharedPlace): Promise<number> {
  const query = db('watches').whereNull('watches.deleted_at');
  if (place.level === 'kind') query.where('kind', place.kind);
  if (place.level === 'section') {
    query.join('sections', 'sections.id', 'watches.section_id').where('sections.name', place.section);
  }
  const row = await query.count({ n: '*' }).first();
  return Number(row?.n ?? 0);
}
