import type { Levels, Values } from '@/core/settings/cascade';
import type { Db } from '@/store/db/connection';
import { fetchLevels } from './cascade';

const says = (values: Values | undefined): boolean => values?.tells !== undefined;

function saidForMany({ instance, kinds, sections }: Levels): boolean {
  return [instance, ...Object.values(kinds), ...Object.values(sections)].some(says);
}

/** The watches whose own settings say who hears of them; null where settings for many do, so that it may be any. */
export async function fetchTellingThemselves(db: Db): Promise<number[] | null> {
  if (saidForMany(await fetchLevels(db))) return null;
  return db('watches')
    .whereNull('deleted_at')
    .whereRaw("json_extract(config, '$.tells') IS NOT NULL")
    .orderBy('id')
    .pluck('id');
}
