import { ValidationError, type AnySchema, type SchemaFieldDescription } from 'yup';
import { Blanker } from '@/core/text/secret-forms';
import { refused, type FieldRefusal } from './refusal';

/** Checks a body against its schema; throws a problem that names every field that was refused. */
export async function validateBody<T>(
  schema: AnySchema,
  body: unknown,
  secrets: readonly string[] = [],
): Promise<T> {
  const wrong = wrongShapes(schema.describe() as SchemaFieldDescription, body, '');
  if (wrong.length > 0) throw refused(wrong);
  try {
    return (await schema.validate(body, { abortEarly: false })) as T;
  } catch (error) {
    if (!(error instanceof ValidationError)) throw error;
    throw refused(fieldProblems(error).map((problem) => withoutEcho(problem, body, secrets)));
  }
}

/** A refusal does not repeat what was typed into a secret field. */
function withoutEcho(problem: FieldRefusal, body: unknown, secrets: readonly string[]): FieldRefusal {
  if (secrets.length === 0) return problem;
  const settings = (body as { settings?: Record<string, unknown> } | null)?.settings ?? {};
  const typed = secrets.map((name) => settings[name]).filter((value) => typeof value === 'string');
  const own = secrets.some((name) => problem.field.startsWith(`settings.${name}`));
  const message = own ? problem.message.replace(/,? got [^]*$/, '.') : problem.message;
  return { ...problem, message: new Blanker(typed).text(message) };
}

function fieldProblems(error: ValidationError): FieldRefusal[] {
  const inner = error.inner.length > 0 ? error.inner : [error];
  const seen = new Set<string>();
  const problems: FieldRefusal[] = [];
  for (const one of inner) {
    const field = one.path ?? '';
    if (seen.has(field)) continue;
    seen.add(field);
    problems.push({ field, message: one.message });
  }
  return problems;
}

const PLAIN_TYPES: Record<string, { what: string; is: readonly string[] }> = {
  string: { what: 'text', is: ['string', 'number', 'boolean'] },
  number: { what: 'a number', is: ['number', 'string'] },
  boolean: { what: 'true or false', is: ['boolean', 'string'] },
  date: { what: 'a date', is: ['string', 'number'] },
};

/** What stands at a place, in words. */
function wantedAt(described: SchemaFieldDescription): string {
  if ('fields' in described) return 'an object';
  if (described.type === 'array') return 'a list';
  return PLAIN_TYPES[described.type]?.what ?? 'something';
}

/** Whether a place may be left out but not be null, and has no words of its own for that. */
function isNullRefused(described: SchemaFieldDescription): boolean {
  return 'nullable' in described && !described.nullable && described.optional;
}

function nameOf(value: unknown): string {
  if (value === null) return 'null';
  if (Array.isArray(value)) return 'a list';
  return typeof value === 'object' ? 'an object' : JSON.stringify(value).slice(0, 80);
}

function expected(what: string, value: unknown, path: string): FieldRefusal[] {
  return [
    {
      field: path,
      message: `Expected ${path === '' ? 'the body' : path} to be ${what}, got ${nameOf(value)}.`,
    },
  ];
}

/**
 * What cannot be what the schema describes: fields it does not have (Yup would drop them without a word, and a typing
 * error with them), lists or objects where text is expected (Yup would ask them for their text, whatever that is), and
 * null where something is.
 */
function wrongShapes(described: SchemaFieldDescription, value: unknown, path: string): FieldRefusal[] {
  if (value === undefined) return [];
  if (value === null) return isNullRefused(described) ? expected(wantedAt(described), value, path) : [];
  const plain = PLAIN_TYPES[described.type];
  if (plain) return plain.is.includes(typeof value) ? [] : expected(plain.what, value, path);
  if ('fields' in described) {
    if (typeof value !== 'object' || Array.isArray(value)) return expected('an object', value, path);
    return Object.entries(value).flatMap(([name, inner]) => {
      const field = path === '' ? name : `${path}.${name}`;
      if (Object.hasOwn(described.fields, name)) return wrongShapes(described.fields[name]!, inner, field);
      const names = Object.keys(described.fields).join(', ');
      return [{ field, message: `Expected only ${names}; got ${name.slice(0, 80)}.` }];
    });
  }
  if (described.type === 'array') {
    if (!Array.isArray(value)) return expected('a list', value, path);
    const inner = 'innerType' in described ? described.innerType : undefined;
    if (!inner || Array.isArray(inner)) return [];
    return value.flatMap((item, i) => wrongShapes(inner, item, `${path}[${i}]`));
  }
  return [];
}
