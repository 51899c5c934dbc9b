import type { Db } from './connection';

/** Instance-wide values by key. */
export async function fetchSetting(db: Db, key: string): Promise<string | null> {
  const row = await db('settings').where({ key }).first('value');
  return row?.value ?? null;
}

/** Several of them; those that are not there are left out. */
export async function fetchSettings(db: Db, keys: readonly string[]): Promise<Map<string, string>> {
  const rows = await db('settings').whereIn('key', keys).select('key', 'value');
  return new Map(rows.map(({ key, value }) => [key, value]));
}

export async function saveSetting(db: Db, key: string, value: string): Promise<void> {
  await db('settings').insert({ key, value }).onConflict('key').merge();
}
