import { sharedNames, type Levels, type SharedPlace, type Values } from '@/core/settings/cascade';
import { coreName, wireName, wireOf } from '@/core/settings/wire-names';
import { sharedWords } from '@/probes/diagnosis/shared-words';
import type { Db } from '@/store/db/connection';
import { fetchLevels, saveShared, valuesAt, withValuesAt } from '@/store/watches/cascade';
import { fetchSections } from '@/store/watches/sections';
import { fetchOwnSettingsMark } from '@/store/watches/own-settings-mark';
import { fetchWatches } from '@/store/watches/watches';
import { withoutReadOnly } from '@/cases/frame/read-only';
import { notFound, refused } from '@/cases/frame/refusal';
import { asks, changes } from '@/cases/frame/use-case';
import { validateBody } from '@/cases/frame/validate';
import { fetchChannelIds } from '@/store/messages/channels';
import { refuseChanged, versionOf, type Expected } from '@/cases/frame/version';
import { sharedSchema } from '@/cases/schemas/shared';
import { watchKindIds } from '@/cases/schemas/watch';
import { tellEngine } from './around';
import { checkRestsOn, effectsOf, mergeValues, saidValues, type Effect } from './sharing';
import { checkInherited, checkTellsTo, sectionNameOf } from './valid-watch';

interface SharedBody {
  level: SharedPlace['level'];
  kind?: string;
  section?: string;
  inherit?: string[];
}

function placeOf({ level, kind, section }: SharedBody): SharedPlace {
  if (level === 'kind') return { level, kind: kind! };
  return level === 'section' ? { level, section: section! } : { level };
}

/** The names of all settings that may be shared, each with the kinds that have it. */
function kindsBySetting(usual: Levels['usual']): Map<string, string[]> {
  const kinds = new Map<string, string[]>();
  for (const kind of watchKindIds()) {
    for (const name of sharedNames(kind, usual)) kinds.set(name, [...(kinds.get(name) ?? []), kind]);
  }
  return kinds;
}

function each(values: Readonly<Record<string, Values>>): Record<string, Values> {
  return Object.fromEntries(Object.entries(values).map(([name, one]) => [name, wireOf(one)]));
}

function sharedVersion({ instance, kinds, sections }: Levels): string {
  return versionOf([instance, kinds, sections]);
}

/** The mark of all that is shared at this moment. */
export async function sharedSettingsVersion(db: Db): Promise<string> {
  return sharedVersion(await fetchLevels(db));
}

/** What is set for more than one watch. */
export const getSharedSettings = asks('getSharedSettings', 'look', async ({ db }) => {
  const levels = await fetchLevels(db);
  const ids = await fetchSections(db);
  const settings = [...kindsBySetting(levels.usual)].map(([name, kinds]) => ({
    name: wireName(name),
    label: sharedWords(name).label,
    kinds,
  }));
  return {
    version: sharedVersion(levels),
    settings,
    shipped: each(levels.usual),
    instance: wireOf(levels.instance),
    kinds: each(levels.kinds),
    sections: ids.map(({ id, name }) => ({
      id,
      name,
      values: wireOf(levels.sections[name] ?? {}),
    })),
  };
});

interface SharedInput {
  body: object;
  expected: Expected;
}

async function validShared({ body, expected }: SharedInput, { db }: { db: Db }) {
  const { kind, section, ...rest } = withoutReadOnly(body, []) as Partial<SharedBody> & { section?: unknown };
  if (kind !== undefined && !watchKindIds().includes(kind)) {
    const got = JSON.stringify(kind).slice(0, 80);
    const message = `Expected kind to be one of ${watchKindIds().join(', ')}, got ${got}.`;
    throw refused([{ field: 'kind', message }]);
  }
  const named = section === undefined ? undefined : sectionNameOf(section, await fetchSections(db));
  const sent = {
    ...rest,
    ...(kind !== undefined && { kind }),
    ...(named !== undefined && { section: named }),
  };
  const valid = await validateBody<SharedBody>(sharedSchema(kind), sent);
  return { sent: sent as SharedBody, valid, expected };
}

async function planShared(db: Db, { sent, valid, expected }: Awaited<ReturnType<typeof validShared>>) {
  const place = placeOf(valid);
  const levels = await fetchLevels(db);
  const version = sharedVersion(levels);
  refuseChanged(expected, version, 'what is shared');
  if (place.level === 'section' && !Object.hasOwn(levels.sections, place.section)) {
    throw notFound(`section called “${place.section}”`);
  }
  const { level: _, kind: _kind, section: _section, inherit = [], ...given } = sent;
  checkInherited(inherit, [...kindsBySetting(levels.usual).keys()]);
  const said = saidValues(withoutReadOnly(given, ['preview']), valid);
  const watches = await fetchWatches(db);
  checkRestsOn(said, new Set(watches.map(({ id }) => id)));
  checkTellsTo(said, await fetchChannelIds(db));
  const values = mergeValues(valuesAt(levels, place), said, inherit.map(coreName));
  const effects = effectsOf(watches, levels, withValuesAt(levels, place, values));
  return { place, version, values, effects };
}

export interface SharedChanged {
  /** Of all that is shared, after it. */
  version: string;
  preview: boolean;
  values: Values;
  watches: Effect[];
}

/**
 * A plan, with a mark of all it was made from. To go through thousands of watches takes long enough that nobody should have
 * to wait for the right to write meanwhile.
 */
async function planAhead(input: SharedInput, asking: { db: Db }) {
  const checked = await validShared(input, asking);
  const mark = await fetchOwnSettingsMark(asking.db);
  return { checked, mark, plan: await planShared(asking.db, checked) };
}

/** The same plan, or another one where anything has changed since. */
async function planAsItIs(trx: Db, { checked, mark, plan }: Awaited<ReturnType<typeof planAhead>>) {
  const same =
    (await fetchOwnSettingsMark(trx)) === mark && sharedVersion(await fetchLevels(trx)) === plan.version;
  return same ? plan : planShared(trx, checked);
}

/** Says what another shared setting would change, and changes nothing. */
export const previewSharedSettings = asks(
  'previewSharedSettings',
  'look',
  async (asking, input: SharedInput): Promise<SharedChanged> => {
    const { values, effects, version } = await planShared(asking.db, await validShared(input, asking));
    return { version, preview: true, values: wireOf(values), watches: effects };
  },
);

/** Changes what holds for everything, for a kind or for a section. */
export const changeSharedSettings = changes(
  'changeSharedSettings',
  'operate',
  planAhead,
  async ({ trx, about, afterwards, world }, ahead): Promise<SharedChanged> => {
    const { place, values, effects } = await planAsItIs(trx, ahead);
    await saveShared(trx, place, values);
    const name =
      place.level === 'instance' ? 'everything' : place.level === 'kind' ? place.kind : place.section;
    about({ kind: 'shared settings', id: null, name });
    afterwards(() =>
      tellEngine(
        world,
        effects.map((effect) => effect.id),
      ),
    );
    return {
      version: await sharedSettingsVersion(trx),
      preview: false,
      values: wireOf(values),
      watches: effects,
    };
  },
);
