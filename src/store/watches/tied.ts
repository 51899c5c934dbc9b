import type { State } from '@/core/lifecycle/state';
import type { Levels, Values } from '@/core/settings/cascade';
import type { Db } from '@/store/db/connection';
import { inChunks } from '@/store/db/chunks';
import { fetchLevels } from './cascade';
import { watchOf, type NamedWatch, type Row, type Watch } from './watches';

/** A watch as far as what it rests on, or is made of, goes. */
export interface TiedWatch extends Pick<Watch, 'id' | 'kind' | 'name' | 'config'> {
  state: State;
}

const rests = (values: Values | undefined): boolean =>
  Array.isArray(values?.restsOn) && values.restsOn.length > 0;

/** Where what is set for many says that they rest on something. */
function restingLevels({ instance, kinds, sections }: Levels) {
  const named = (of: Readonly<Record<string, Values>>) =>
    Object.entries(of).flatMap(([name, values]) => (rests(values) ? [name] : []));
  return { all: rests(instance), kinds: named(kinds), sections: named(sections) };
}

/**
 * The watches that rest on others or are made of others, by what is set on them or farther away: of thousands these are
 * few, and no other can be part of a circle or be tied to a watch.
 */
export async function fetchTied(db: Db): Promise<TiedWatch[]> {
  const levels = await fetchLevels(db);
  const far = restingLevels(levels);
  const query = db('watches')
    .leftJoin('sections', 'sections.id', 'watches.section_id')
    .leftJoin('watch_status', 'watch_status.watch_id', 'watches.id')
    .whereNull('watches.deleted_at')
    .orderBy('watches.id')
    .select<(Row & { state: State | null })[]>(
      'watches.*',
      'sections.name as section_name',
      'watch_status.state',
    );
  if (!far.all) {
    query.where((some) => {
      void some
        // Taking the text apart is ten times as fast as looking through it.
        .whereRaw("json_extract(watches.config, '$.restsOn') IS NOT NULL")
        .orWhereRaw("json_extract(watches.config, '$.settings.parts') IS NOT NULL")
        .orWhereIn('watches.kind', far.kinds)
        .orWhereIn('sections.name', far.sections);
    });
  }
  return (await query).map((row) => {
    const { id, kind, name, config } = watchOf({ ...row, status: null, last_finding: null }, levels, []);
    return { id, kind, name, config, state: row.state ?? 'waiting' };
  });
}

/** What some watches are called, and how they stand. */
export async function fetchNamed(db: Db, ids: readonly number[]): Promise<NamedWatch[]> {
  const found: NamedWatch[] = [];
  for (const some of inChunks([...new Set(ids)])) {
    const rows: NamedWatch[] = await db('watches')
      .join('watch_status', 'watch_status.watch_id', 'watches.id')
      .whereIn('watches.id', some)
      .whereNull('watches.deleted_at')
      .select('watches.id', 'watches.name', 'watch_status.state');
    found.push(...rows);
  }
  return found;
}

const escaped = (text: string) => text.replace(/[\\%_]/g, '\\$&');

/** Watches with these words in their names, those that begin with them first, as many as that. */
export async function fetchByWords(db: Db, words: string, most: number): Promise<NamedWatch[]> {
  return db('watches')
    .join('watch_status', 'watch_status.watch_id', 'watches.id')
    .whereNull('watches.deleted_at')
    .whereRaw(String.raw`watches.name LIKE ? ESCAPE '\'`, [`%${escaped(words)}%`])
    .orderByRaw(String.raw`watches.name LIKE ? ESCAPE '\' DESC, watches.name COLLATE NOCASE, watches.id`, [
      `${escaped(words)}%`,
    ])
    .limit(most)
    .select('watches.id', 'watches.name', 'watch_status.state');
}

/** The names of watches that begin so, for one that must not be the same. */
export async function fetchNamesFrom(db: Db, begins: string): Promise<string[]> {
  return db('watches')
    .whereNull('deleted_at')
    .whereRaw(String.raw`name LIKE ? ESCAPE '\'`, [`${escaped(begins)}%`])
    .pluck('name');
}
