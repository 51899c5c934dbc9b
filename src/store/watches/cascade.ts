import type { Knex } from 'knex';
import type { Levels, SharedPlace, Values } from '@/core/settings/cascade';
import { transaction, type Db } from '@/store/db/connection';
import { fetchSetting, fetchSettings, saveSetting } from '@/store/db/settings';

const SHIPPED = 'shipped_for_kinds';
const DEFAULTS = 'defaults_of_kinds';
const INSTANCE = 'shared_by_all';
const KINDS = 'shared_by_kind';

async function fetchJson<T extends object>(db: Db, key: string): Promise<T> {
  return JSON.parse((await fetchSetting(db, key)) ?? '{}') as T;
}

/** What was read last, as it lies there, and what that says. */
let last: { text: string; levels: Levels } | null = null;

/** The same levels for the same text, so that what is worked out of them stays known from one reading to the next. */
function levelsOf(
  settings: ReadonlyMap<string, string>,
  sections: { name: string; settings: string }[],
): Levels {
  const text = JSON.stringify([[...settings].toSorted(([a], [b]) => (a < b ? -1 : 1)), sections]);
  if (last?.text === text) return last.levels;
  const said = <T extends object>(key: string) => JSON.parse(settings.get(key) ?? '{}') as T;
  const levels: Levels = {
    usual: said(SHIPPED),
    defaults: said<NonNullable<Levels['defaults']>>(DEFAULTS),
    instance: said(INSTANCE),
    kinds: said(KINDS),
    sections: Object.fromEntries(sections.map((one) => [one.name, JSON.parse(one.settings) as Values])),
  };
  last = { text, levels };
  return levels;
}

/** Everything that is set for more than one watch. */
export async function fetchLevels(db: Db): Promise<Levels> {
  const sections: { name: string; settings: string }[] = await db('sections').select('name', 'settings');
  return levelsOf(await fetchSettings(db, [SHIPPED, DEFAULTS, INSTANCE, KINDS]), sections);
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
