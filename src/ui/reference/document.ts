/** The parts of the OpenAPI document that the reference shows. */
export interface Schema {
  $ref?: string;
  type?: string | string[];
  format?: string;
  description?: string;
  enum?: unknown[];
  const?: unknown;
  minimum?: number;
  maximum?: number;
  minLength?: number;
  maxLength?: number;
  minItems?: number;
  maxItems?: number;
  properties?: Record<string, Schema>;
  required?: string[];
  items?: Schema;
  anyOf?: Schema[];
  oneOf?: Schema[];
}

export interface Parameter {
  $ref?: string;
  name: string;
  in: string;
  description?: string;
  required?: boolean;
  schema: Schema;
}

export interface Answer {
  description: string;
  content?: Record<string, { schema: Schema }>;
}

export interface Operation {
  operationId: string;
  summary: string;
  description?: string;
  tags: string[];
  parameters?: Parameter[];
  requestBody?: { content: { 'application/json': { schema: Schema; example?: object } } };
  responses: Record<string, Answer>;
}

export interface ReferenceDocument {
  info: { description: string };
  servers: { url: string }[];
  tags: { name: string; description: string }[];
  paths: Record<string, Record<string, Operation>>;
  components: { schemas: Record<string, Schema>; parameters: Record<string, Parameter> };
}

/** The name a reference ends in. */
export function nameOf(ref: string): string {
  return ref.slice(ref.lastIndexOf('/') + 1);
}

function bounds({ minimum, maximum, minLength, maxLength, minItems, maxItems }: Schema): string {
  const [least, most] = [minimum ?? minLength ?? minItems, maximum ?? maxLength ?? maxItems];
  const of = (minLength ?? maxLength) ? ' characters' : (minItems ?? maxItems) ? ' entries' : '';
  if (least !== undefined && most !== undefined) return `${least} to ${most}${of}`;
  if (most !== undefined) return `at most ${most}${of}`;
  return least === undefined ? '' : `at least ${least}${of}`;
}

/** What a value is, in a few words: "integer or null, 5 to 2592000". */
export function typeText(schema: Schema): string {
  if (schema.const !== undefined) return JSON.stringify(schema.const);
  if (schema.enum) return schema.enum.map((value) => JSON.stringify(value)).join(' or ');
  const types = [schema.type ?? []].flat().map((type) => (type === 'null' ? 'null' : type));
  const text = types.join(' or ').replace('string', schema.format === 'date-time' ? 'time' : 'text');
  return [text, bounds(schema)].filter(Boolean).join(', ');
}
