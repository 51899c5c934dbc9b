import type { AnySchema, SchemaDescription, SchemaInnerTypeDescription, SchemaObjectDescription } from 'yup';

export type JsonSchema = Record<string, unknown>;

type Described = SchemaDescription & { default?: unknown; optional?: boolean; nullable?: boolean };

/** A Yup schema as JSON Schema 2020-12, as far as OpenAPI 3.1 readers need it. */
export function jsonSchemaOf(schema: AnySchema): JsonSchema {
  return convert(schema.describe() as Described);
}

function convert(described: Described): JsonSchema {
  const meta = (described.meta ?? {}) as { description?: string; format?: string; jsonSchema?: JsonSchema };
  const base: JsonSchema = {
    ...(meta.description && { description: meta.description }),
    ...(meta.format && { format: meta.format }),
  };
  if (meta.jsonSchema) return { ...meta.jsonSchema, ...base };
  const tests = new Map(described.tests.map((test) => [test.name, test.params ?? {}]));
  const integer = tests.has('integer');
  const type = described.type === 'number' && integer ? 'integer' : described.type;
  const result: JsonSchema = { ...base };
  if (type !== 'mixed') result.type = described.nullable ? [type, 'null'] : type;
  if (described.oneOf.length > 0) result.enum = described.oneOf;
  if (described.default !== undefined && described.type !== 'object') result.default = described.default;
  const [least, most] = described.type === 'number' ? ['minimum', 'maximum'] : lengthWords(described.type);
  if (tests.has('min')) result[least!] = tests.get('min')!.min;
  if (tests.has('max')) result[most!] = tests.get('max')!.max;
  const pattern = tests.get('matches')?.regex;
  if (pattern instanceof RegExp) result.pattern = pattern.source;
  if (described.type === 'object') addFields(result, described as unknown as SchemaObjectDescription);
  if (described.type === 'array') {
    const inner = (described as unknown as SchemaInnerTypeDescription).innerType;
    if (inner) result.items = convert(inner as Described);
  }
  return result;
}

function lengthWords(type: string): [string, string] {
  return type === 'array' ? ['minItems', 'maxItems'] : ['minLength', 'maxLength'];
}

function addFields(result: JsonSchema, described: SchemaObjectDescription): void {
  const fields = Object.entries(described.fields) as [string, Described][];
  result.properties = Object.fromEntries(fields.map(([name, field]) => [name, convert(field)]));
  const required = fields.filter(([, field]) => !field.optional).map(([name]) => name);
  if (required.length > 0) result.required = required;
  result.additionalProperties = false;
}
