import { heldAt, type SharedPlace, type Values } from '@/core/settings/cascade';
import type { FieldDescription } from '@/core/settings/field-description';
import { probeKinds } from '@/probes/kinds/registry';
import { fetchLevels, valuesAt } from '@/store/watches/cascade';
import type { Db } from '@/store/db/connection';
import { fetchChannels } from '@/store/messages/channels';
import { fetchSectionNames } from '@/store/watches/sections';
import { countReached, fetchPickable, fetchSharedRests } from '@/store/watches/pickable';
import { kindChoices, type KindChoice } from './kind-choices';

export interface SharedView {
  place: SharedPlace;
  /** The fields of kinds' own forms that may be set here. */
  fields: FieldDescription[];
  kinds: KindChoice[];
  sections: string[];
  watches: { id: number; name: string }[];
  channels: { id: number; name: string }[];
  held: { values: Values; from: ReturnType<typeof heldAt>['from']; varying: string[] };
  values: Values;
  /** How many watches take their settings from here, if they have none of their own. */
  reach: number;
}

/** Everything the screen for shared settings shows; null where there is no such place. */
export async function fetchSharedView(db: Db, place: SharedPlace): Promise<SharedView | null> {
  const levels = await fetchLevels(db);
  const kinds = kindChoices();
  if (place.level === 'kind' && !kinds.some((kind) => kind.id === place.kind)) return null;
  if (place.level === 'section' && !Object.hasOwn(levels.sections, place.section)) return null;
  const fields = new Map<string, FieldDescription>();
  for (const kind of probeKinds()) {
    if (place.level === 'kind' && kind.id !== place.kind) continue;
    for (const field of kind.fields)
      if (field.shared && !fields.has(field.name)) fields.set(field.name, field);
  }
  const held = heldAt(place, levels);
  return {
    place,
    fields: [...fields.values()],
    kinds,
    sections: await fetchSectionNames(db),
    watches: await fetchPickable(db, await fetchSharedRests(db)),
    channels: (await fetchChannels(db)).map(({ id, name }) => ({ id, name })),
    held: { ...held, varying: [...held.varying] },
    values: valuesAt(levels, place),
    reach: await countReached(db, place),
  };
}
