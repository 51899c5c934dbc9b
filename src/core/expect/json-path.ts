import { JSONPathEnvironment } from 'json-p3';

const environment = new JSONPathEnvironment();
// These two run a pattern of the path's own on JavaScript's matcher, which a bad pattern can hang.
environment.functionRegister.delete('match');
environment.functionRegister.delete('search');

/** The values at a path (RFC 9535), in document order; none where it leads nowhere. Throws on a wrong path. */
export function valuesAt(path: string, document: unknown): unknown[] {
  return environment.query(path, document as never).values();
}

/** What is wrong with a path, in words, or null. */
export function jsonPathProblem(path: string): string | null {
  try {
    environment.compile(path);
    return null;
  } catch (error) {
    return `Expected a JSON path such as $.queue.length (RFC 9535), got “${path}”: ${(error as Error).message}.`;
  }
}
