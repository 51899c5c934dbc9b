import type { Db } from './connection';

/** Instance-wide values by key. */
export async function fetchSetting(db: Db, key: string): Promise<string | null> {
  const row = await db('settings').where({ key }).first('value');
  return row?.value ?? null;
}

export async function saveSetting(db: Db, key: string, value: string): Promise<void> {
  await db('settings').insert({ key, value }).onConflict('key').merge();
}
