import type { Knex } from 'knex';

/** Settings of kinds that name their unit from here on. */
const RENAMED: readonly [kind: string, from: string, to: string][] = [
  ['web', 'smallest', 'smallestBytes'],
  ['web', 'largest', 'largestBytes'],
  ['ping', 'mostLoss', 'mostLossPercent'],
  ['broker', 'mostAge', 'mostAgeSeconds'],
];

async function rename(db: Knex, kind: string, from: string, to: string): Promise<void> {
  // A value of null is a value too: what is renamed is what is there.
  await db.raw(
    `UPDATE watches
     SET config = json_remove(json_set(config, '$.settings.${to}', json_extract(config, '$.settings.${from}')),
                              '$.settings.${from}')
     WHERE kind = ? AND json_type(config, '$.settings.${from}') IS NOT NULL`,
    [kind],
  );
}

/** The one of them that may be set for many watches at once, by its name there. */
const SHARED = ['settings.mostLoss', 'settings.mostLossPercent'] as const;

/** A JSON text with one name for another in it, at whatever depth; names are quoted in JSON. */
async function renameShared(db: Knex, from: string, to: string): Promise<void> {
  const names = [JSON.stringify(from) + ':', JSON.stringify(to) + ':'];
  await db.raw(
    `UPDATE settings SET value = replace(value, ?, ?) WHERE key IN ('shared_by_all', 'shared_by_kind')`,
    names,
  );
  await db.raw('UPDATE sections SET settings = replace(settings, ?, ?)', names);
}

export async function up(db: Knex): Promise<void> {
  for (const [kind, from, to] of RENAMED) await rename(db, kind, from, to);
  await renameShared(db, SHARED[0], SHARED[1]);
}

export async function down(db: Knex): Promise<void> {
  for (const [kind, from, to] of RENAMED) await rename(db, kind, to, from);
  await renameShared(db, SHARED[1], SHARED[0]);
}
