import { ValidationError, type AnySchema, type SchemaFieldDescription } from 'yup';
import { Blanker } from '@/core/text/secret-forms';
import { unwritableIn } from '@/core/text/writable';
import { nameOf, reasonOf, TYPE_WORDS } from './plain-words';
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
    problems.push({ field, message: reasonOf(one) });
  }
  return problems;
}

/** What may come for a value of a type: what can be read as one. */
const TAKEN_FOR: Readonly<Record<string, readonly string[]>> = {
  string: ['string', 'number', 'boolean'],
  number: ['number', 'string'],
  boolean: ['boolean', 'string'],
  date: ['string', 'number'],
};

/** Whether a place may be left out but not be null, and has no words of its own for that. */
function isNullRefused(described: SchemaFieldDescription): boolean {
  return 'nullable' in described && !described.nullable && described.optional;
}

function expected(type: string, value: unknown, path: string): FieldRefusal[] {
  const what = TYPE_WORDS[type] ?? 'something';
  return [{ field: path, message: `Expected ${path || 'the body'} to be ${what}, got ${nameOf(value)}.` }];
}

function unwritable(value: unknown, path: string): FieldRefusal[] {
  const found = typeof value === 'string' ? unwritableIn(value) : null;
  if (found === null) return [];
  return [{ field: path, message: `Expected text without hidden control characters, got ${found}.` }];
}

/**
 * What cannot be what the schema describes: fields it does not have (Yup would drop them without a word, and a typing
 * error with them), lists or objects where text is expected (Yup would ask them for their text, whatever that is), and
 * null where something is. Nor text that could be shown nowhere.
 */
function wrongShapes(described: SchemaFieldDescription, value: unknown, path: string): FieldRefusal[] {
  if (value === undefined) return [];
  if (value === null) return isNullRefused(described) ? expected(described.type, value, path) : [];
  const { type } = described;
  const taken = TAKEN_FOR[type];
  if (taken) return taken.includes(typeof value) ? unwritable(value, path) : expected(type, value, path);
  if ('fields' in described) {
    if (typeof value !== 'object' || Array.isArray(value)) return expected(type, value, path);
    return Object.entries(value).flatMap(([name, inner]) => {
      const field = path === '' ? name : `${path}.${name}`;
      if (Object.hasOwn(described.fields, name)) return wrongShapes(described.fields[name]!, inner, field);
      const names = Object.keys(described.fields).join(', ');
      return [{ field, message: `Expected only ${names}; got ${name.slice(0, 80)}.` }];
    });
  }
  if (type === 'array') {
    if (!Array.isArray(value)) return expected(type, value, path);
    const inner = 'innerType' in described ? described.innerType : undefined;
    if (!inner || Array.isArray(inner)) return [];
    return value.flatMap((item, i) => wrongShapes(inner, item, `${path}[${i}]`));
  }
  return [];
}
