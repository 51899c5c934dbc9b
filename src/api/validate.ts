import { ValidationError, type AnySchema } from 'yup';
import { refused, type FieldProblem } from './problem';

/** Checks a body against its schema; throws a problem that names every field that was refused. */
export async function validateBody<T>(schema: AnySchema, body: unknown): Promise<T> {
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
