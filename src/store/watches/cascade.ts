import type { Knex } from 'knex';
import type { Levels, SharedPlace, Values } from '@/core/settings/cascade';
import { transaction, type Db } from '@/store/db/connection';
import { fetchSetting, saveSetting } from '@/store/db/settings';

const SHIPPED = 'shipped_for_kinds';
const DEFAULTS = 'defaults_of_kinds';
const INSTANCE = 'shared_by_all';
const KINDS = 'shared_by_kind';

async function fetchJson<T extends object>(db: Db, key: string): Promise<T> {
  return JSON.parse((await fetchSetting(db, key)) ?? '{}') as T;
}

/** Everything that is set for more than one watch. */
export async function fetchLevels(db: Db): Promise<Levels> {
  const sections: { name: string; settings: string }[] = await db('sections').select('name', 'settings');
  return {
    usual: await fetchJson(db, SHIPPED),
    defaults: await fetchJson<NonNullable<Levels['defaults']>>(db, DEFAULTS),
    instance: await fetchJson(db, INSTANCE),
    kinds: await fetchJson(db, KINDS),
    sections: Object.fromEntries(
      sections.map(({ name, settings }) => [name, JSON.parse(settings) as Values]),
    ),
  };
}

/** Notes what this version ships for each kind, so that whoever reads the database knows it too. */
export async function saveShipped(
  db: Db,
  shipped: Levels['usual'],
  defaults: Levels['defaults'] = {},
): Promise<void> {
  for (const [key, value] of [
    [SHIPPED, shipped],
    [DEFAULTS, defaults],
  ] as const) {
    const text = JSON.stringify(value);
    if ((await fetchSetting(db, key)) !== text) await saveSetting(db, key, text);
  }
}

/** The values of one place within all levels. */
export function valuesAt(levels: Levels, place: SharedPlace): Values {
  if (place.level === 'instance') return levels.instance;
  return (place.level === 'kind' ? levels.kinds[place.kind] : levels.sections[place.section]) ?? {};
}

/** All levels with other values at one place. */
export function withValuesAt(levels: Levels, place: SharedPlace, values: Values): Levels {
  if (place.level === 'instance') return { ...levels, instance: values };
  return place.level === 'kind'
    ? { ...levels, kinds: { ...levels.kinds, [place.kind]: values } }
    : { ...levels, sections: { ...levels.sections, [place.section]: values } };
}

export async function saveShared(db: Knex, place: SharedPlace, values: Values): Promise<void> {
  await transaction(db, async (trx) => {
    if (place.level === 'section') {
      await trx('sections')
        .where({ name: place.section })
        .update({ settings: JSON.stringify(values) });
    } else if (place.level === 'instance') {
      await saveSetting(trx, INSTANCE, JSON.stringify(values));
    } else {
      const kinds = await fetchJson(trx, KINDS);
      await saveSetting(trx, KINDS, JSON.stringify({ ...kinds, [place.kind]: values }));
    }
  });
}
