import type { AnySchema, SchemaDescription, SchemaInnerTypeDescription, SchemaObjectDescription } from 'yup';

export type JsonSchema = Record<string, unknown>;

type Described = SchemaDescription & { default?: unknown; optional?: boolean; nullable?: boolean };

interface Meta {
  name?: string;
  description?: string;
  format?: string;
  jsonSchema?: JsonSchema;
  /** A setting of a body that is told: of its checks only what it is. */
  told?: true;
}

interface Reading {
  /** Shapes with a name of their own come here, and are referred to. */
  components: Record<string, JsonSchema>;
  /** A change: nothing is required, and nothing is filled in. */
  partial: boolean;
  /** What leaves: everything is there, and nothing is filled in. */
  told: boolean;
}

/** A Yup schema as JSON Schema 2020-12, as far as OpenAPI 3.1 readers need it. */
export function jsonSchemaOf(schema: AnySchema, reading: Partial<Reading> = {}): JsonSchema {
  return convert(schema.describe() as Described, {
    components: {},
    partial: false,
    told: false,
    ...reading,
  });
}

function orNull(schema: JsonSchema, nullable: boolean | undefined): JsonSchema {
  return nullable ? { oneOf: [schema, { type: 'null' }] } : schema;
}

function convert(described: Described, reading: Reading): JsonSchema {
  const meta = (described.meta ?? {}) as Meta;
  if (meta.name !== undefined) {
    reading.components[meta.name] ??= inner(described, meta, reading);
    return orNull({ $ref: `#/components/schemas/${meta.name}` }, described.nullable);
  }
  return inner(described, meta, reading);
}

function inner(described: Described, meta: Meta, outer: Reading): JsonSchema {
  const reading = meta.told ? { ...outer, told: true } : outer;
  const base: JsonSchema = {
    ...(meta.description && { description: meta.description }),
    ...(meta.format && { format: meta.format }),
  };
  if (meta.jsonSchema) return { ...meta.jsonSchema, ...base };
  const tests = new Map(described.tests.map((test) => [test.name, test.params ?? {}]));
  const type = described.type === 'number' && tests.has('integer') ? 'integer' : described.type;
  const nullable = described.nullable && meta.name === undefined;
  const result: JsonSchema = { ...base };
  if (type !== 'mixed') result.type = nullable ? [type, 'null'] : type;
  if (described.oneOf.length > 0) {
    result.enum = nullable && !described.oneOf.includes(null) ? [...described.oneOf, null] : described.oneOf;
  }
  if (!reading.told) addChecks(result, described, tests, reading);
  if (described.type === 'object') {
    addFields(result, described as unknown as SchemaObjectDescription, reading);
  }
  if (described.type === 'array') {
    const of = (described as unknown as SchemaInnerTypeDescription).innerType;
    if (of) result.items = convert(of as Described, { ...reading, partial: false });
  }
  return result;
}

function addChecks(
  result: JsonSchema,
  described: Described,
  tests: ReadonlyMap<string | undefined, Record<string, unknown>>,
  { partial }: Reading,
): void {
  // Not as `default`: generated clients take a field that has one for one that is always there.
  if (described.default !== undefined && described.type !== 'object' && !partial) {
    const usual = `Left out, it is ${JSON.stringify(described.default)}.`;
    result.description = [result.description, usual].filter(Boolean).join(' ');
  }
  const [least, most] = described.type === 'number' ? ['minimum', 'maximum'] : lengthWords(described.type);
  if (tests.has('min')) result[least!] = tests.get('min')!.min;
  if (tests.has('max')) result[most!] = tests.get('max')!.max;
  const pattern = tests.get('matches')?.regex;
  if (pattern instanceof RegExp && pattern.flags === '') result.pattern = pattern.source;
}

function lengthWords(type: string): [string, string] {
  return type === 'array' ? ['minItems', 'maxItems'] : ['minLength', 'maxLength'];
}

function addFields(result: JsonSchema, described: SchemaObjectDescription, reading: Reading): void {
  const fields = Object.entries(described.fields) as [string, Described][];
  result.properties = Object.fromEntries(fields.map(([name, field]) => [name, convert(field, reading)]));
  const required = fields.filter(([, field]) => !field.optional).map(([name]) => name);
  if (required.length > 0 && !reading.partial) result.required = required;
  result.additionalProperties = false;
}
