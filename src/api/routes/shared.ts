import { sharedNames, type Levels, type SharedPlace } from '@/core/settings/cascade';
import { sharedWords } from '@/probes/diagnosis/shared-words';
import { fetchLevels, saveShared, valuesAt, withValuesAt } from '@/store/watches/cascade';
import { fetchWatches } from '@/store/watches/watches';
import { notFound, refused } from '@/api/problem';
import type { Call, Route } from '@/api/route';
import { sharedSchema } from '@/api/schemas/shared';
import { watchKindIds } from '@/api/schemas/watch';
import { checkRestsOn, effectsOf, mergeValues, saidValues } from '@/api/sharing';
import { checkInherited } from '@/api/valid-watch';
import { validateBody } from '@/api/validate';
import { tellEngine } from './watch-calls';

interface SharedBody {
  level: SharedPlace['level'];
  kind?: string;
  section?: string;
  inherit?: string[];
  preview: boolean;
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

async function change(call: Call) {
  const { db } = call.context;
  const kindId = (call.body as Partial<SharedBody>).kind;
  if (kindId !== undefined && !watchKindIds().includes(kindId)) {
    const message = `Expected kind to be one of ${watchKindIds().join(', ')}, got ${JSON.stringify(kindId)}.`;
    throw refused([{ field: 'kind', message }]);
  }
  const valid = await validateBody<SharedBody>(sharedSchema(kindId), call.body);
  const place = placeOf(valid);
  const levels = await fetchLevels(db);
  if (place.level === 'section' && !Object.hasOwn(levels.sections, place.section)) {
    throw notFound(`section called “${place.section}”`);
  }
  const {
    level: _,
    kind: _kind,
    section: _section,
    preview,
    inherit = [],
    ...given
  } = call.body as SharedBody;
  checkInherited(inherit, [...kindsBySetting(levels.usual).keys()]);
  const said = saidValues(given, valid);
  const watches = await fetchWatches(db);
  checkRestsOn(said, watches);
  const values = mergeValues(valuesAt(levels, place), said, inherit);
  const effects = effectsOf(watches, levels, withValuesAt(levels, place, values));
  if (!preview) {
    await saveShared(db, place, values);
    await tellEngine(
      call,
      effects.map((effect) => effect.id),
    );
  }
  return { preview: Boolean(preview), values, watches: effects };
}

/** Settings that hold for many watches: for everything, for a kind, for a section. */
export const sharedRoutes: Route[] = [
  {
    method: 'GET',
    path: '/shared-settings',
    tag: 'Shared settings',
    summary: 'What is set for more than one watch',
    status: 200,
    answer:
      'The settings that may be shared, with the kinds that have them; what ships; and what is set for everything, for kinds and for sections.',
    handle: async ({ context: { db } }) => {
      const { usual, ...levels } = await fetchLevels(db);
      const settings = [...kindsBySetting(usual)].map(([name, kinds]) => ({
        name,
        label: sharedWords(name).label,
        kinds,
      }));
      return { settings, shipped: usual, ...levels };
    },
  },
  {
    method: 'PATCH',
    path: '/shared-settings',
    tag: 'Shared settings',
    summary: 'Change what holds for everything, for a kind or for a section; or see what that would change',
    body: sharedSchema(),
    status: 200,
    answer: 'What is set there now, and each watch for which something changes, setting by setting.',
    handle: change,
  },
];
