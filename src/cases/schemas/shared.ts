import { array, boolean, number, object, string, type AnySchema, type ObjectShape } from 'yup';
import { typeOfKind } from '@/core/settings/cascade';
import { STATES } from '@/core/lifecycle/state';
import { TAG_COLOURS } from '@/core/settings/tag';
import type { FieldDescription } from '@/core/settings/field-description';
import { probeKind, probeKinds } from '@/probes/kinds/registry';
import { strictObject, title } from './common';
import { checkinTiming, probeTiming } from './timing';
import { inherit, tagName } from './watch';

/** A setting of a kind's own form that may be shared, and the kinds that have it. */
export interface SharedField {
  field: FieldDescription;
  kinds: string[];
}

/** The settings of kinds' own forms that may be shared; of one kind only, or of all. */
export function sharedFields(kindId?: string): SharedField[] {
  const found = new Map<string, SharedField>();
  for (const kind of probeKinds()) {
    if (kindId !== undefined && kind.id !== kindId) continue;
    for (const field of kind.fields) {
      if (!field.shared) continue;
      const known = found.get(field.name);
      if (known) known.kinds.push(kind.id);
      else found.set(field.name, { field, kinds: [kind.id] });
    }
  }
  return [...found.values()];
}

/** The checks of shared settings; nothing is filled in for what is left out. */
function sharedShape(kindId?: string): ObjectShape {
  const fields = sharedFields(kindId).map(({ field, kinds }) => {
    const fieldsOfKind = probeKind(kinds[0]!)!.schema.fields as Record<string, AnySchema>;
    const schema = fieldsOfKind[field.name]!.optional() as AnySchema;
    return [field.name, schema.default(undefined) as AnySchema] as const;
  });
  const type = kindId === undefined ? null : typeOfKind(kindId);
  return {
    ...(type !== 'checkin' && probeTiming),
    ...(type !== 'probe' && checkinTiming),
    ...(fields.length > 0 && {
      settings: object(Object.fromEntries(fields) as ObjectShape)
        .default(undefined)
        .optional(),
    }),
    inherit,
  };
}

const preview = boolean()
  .default(false)
  .meta({ description: 'True says what would change, and changes nothing.' });

/** Settings for everything, for a kind, or for a section. */
export function sharedSchema(kindId?: string) {
  return strictObject({
    level: string()
      .oneOf(
        ['instance', 'kind', 'section'],
        ({ value }) =>
          `Expected level to be instance, kind or section, got ${JSON.stringify(value ?? null)}.`,
      )
      .required('Expected level to be instance, kind or section, got nothing.'),
    kind: string().when('level', {
      is: 'kind',
      then: (schema) => schema.required('Expected a kind such as certificate, got nothing.'),
    }),
    section: string().when('level', {
      is: 'section',
      then: (schema) => schema.required('Expected the name of a section, got nothing.'),
    }),
    ...sharedShape(kindId),
    preview,
  });
}

const names = (what: string) =>
  array(string().defined())
    .default([])
    .max(200, `Expected at most 200 ${what}.`)
    .meta({ description: `Any of these ${what}.` });

export const filterSchema = object({
  states: array(
    string()
      .oneOf(STATES, ({ value }) => `Expected one of ${STATES.join(', ')}; got ${JSON.stringify(value)}.`)
      .defined(),
  )
    .default([])
    .meta({ description: 'Any of these states.' }),
  kinds: names('kinds'),
  sections: names('sections'),
  tags: names('tags'),
  text: string()
    .default('')
    .max(200, 'Expected at most 200 characters.')
    .meta({ description: 'Pieces of text.' }),
});

export const keptFilterSchema = strictObject({
  name: title('a name for the filter', 60),
  filter: filterSchema.required('Expected a filter.'),
});

/** One change to many watches. */
export function manySchema() {
  return strictObject({
    ids: array(number().integer().required())
      .optional()
      .default(undefined)
      .max(10_000, 'Expected at most 10,000 watches.')
      .meta({ description: 'Ids of the watches that are meant.' }),
    filter: filterSchema
      .optional()
      .default(undefined)
      .meta({ description: 'Or those a filter lets through.' }),
    action: string()
      .oneOf(['pause', 'resume', 'delete'])
      .optional()
      .meta({ description: 'pause, resume or delete.' }),
    section: string()
      .trim()
      .nullable()
      .optional()
      .max(80, 'Expected a section name of at most 80 characters.')
      .meta({ description: 'Moves them to this section; null takes them out of theirs.' }),
    addTags: array(tagName().required()).optional().default(undefined).meta({ description: 'Tags to add.' }),
    removeTags: array(tagName().required())
      .optional()
      .default(undefined)
      .meta({ description: 'Tags to take off.' }),
    ...sharedShape(),
    preview,
  });
}

export const sectionSchema = strictObject({ name: title('a name for the section', 80) });

export const orderSchema = strictObject({
  ids: array(number().integer().required())
    .required('Expected the ids in their new order, got nothing.')
    .max(10_000, 'Expected at most 10,000 ids.')
    .meta({ description: 'Ids in their new order.' }),
});

export const tagSchema = strictObject({
  name: tagName().required('Expected a name for the tag, got nothing.'),
  colour: string()
    .oneOf(
      [...TAG_COLOURS],
      ({ value }) => `Expected one of ${TAG_COLOURS.join(', ')}; got ${JSON.stringify(value)}.`,
    )
    .optional()
    .meta({ description: 'Left out, it gets the colour used least.' }),
});
