import { ValidationError, type AnySchema, type SchemaFieldDescription } from 'yup';
import { refused, type FieldProblem } from './problem';

/** Checks a body against its schema; throws a problem that names every field that was refused. */
export async function validateBody<T>(schema: AnySchema, body: unknown): Promise<T> {
  const unknown = unknownFields(schema.describe(), body, '');
  if (unknown.length > 0) throw refused(unknown);
  try {
    return (await schema.validate(body, { abortEarly: false })) as T;
  } catch (error) {
    if (!(error instanceof ValidationError)) throw error;
    throw refused(fieldProblems(error));
  }
}

function fieldProblems(error: ValidationError): FieldProblem[] {
  const inner = error.inner.length > 0 ? error.inner : [error];
  const seen = new Set<string>();
  const problems: FieldProblem[] = [];
  for (const one of inner) {
    const field = one.path ?? '';
    if (seen.has(field)) continue;
    seen.add(field);
    problems.push({ field, message: one.message });
  }
  return problems;
}

/** Fields the schema does not have: Yup would drop them without a word, and a typing error with them. */
function unknownFields(described: SchemaFieldDescription, value: unknown, path: string): FieldProblem[] {
  if ('fields' in described && value !== null && typeof value === 'object' && !Array.isArray(value)) {
    return Object.entries(value).flatMap(([name, inner]) => {
      const field = path === '' ? name : `${path}.${name}`;
      const known = described.fields[name];
      if (known) return unknownFields(known, inner, field);
      const names = Object.keys(described.fields).join(', ');
      return [{ field, message: `Expected only ${names}; got ${name}.` }];
    });
  }
  if (
    'innerType' in described &&
    Array.isArray(value) &&
    described.innerType &&
    !Array.isArray(described.innerType)
  ) {
    const { innerType } = described;
    return value.flatMap((item, i) => unknownFields(innerType, item, `${path}[${i}]`));
  }
  return [];
}
