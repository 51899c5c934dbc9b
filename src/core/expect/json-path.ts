import { JSONPathEnvironment, JSONPathRecursionLimitError } from 'json-p3';

const environment = new JSONPathEnvironment();
// These two run a pattern of the path's own on JavaScript's matcher, which a bad pattern can hang.
environment.functionRegister.delete('match');
environment.functionRegister.delete('search');

/** So often a path may go from one value of a document to another: `$..*..*..*` would go through each of them many times. */
const MOST_STEPS = 400_000;

/** A path that leads through more of a document than is gone through. */
export class PathTooFar extends Error {
  override name = 'PathTooFar';
}

/** Whether a path may visit a value more often than once: only such a one is worth counting. */
const mayReturn = (path: string) => /\.\.|\?/.test(path);

/** A document that counts how often it is looked into, and throws beyond a number; `bare` is what stands behind a part of it. */
function counting(document: object, most: number): { document: object; bare: (value: unknown) => unknown } {
  let left = most;
  const shown = new WeakMap<object, object>();
  const behind = new WeakMap<object, object>();
  const step = (count: number) => {
    left -= count;
    if (left < 0) throw new PathTooFar(`Expected at most ${most} steps.`);
  };
  const handler: ProxyHandler<object> = {
    get: (target, key) => {
      step(1);
      return shownFor(Reflect.get(target, key));
    },
    ownKeys: (target) => {
      const keys = Reflect.ownKeys(target);
      step(keys.length);
      return keys;
    },
  };
  function shownFor(value: unknown): unknown {
    if (typeof value !== 'object' || value === null) return value;
    let proxy = shown.get(value);
    if (!proxy) {
      proxy = new Proxy(value, handler);
      shown.set(value, proxy);
      behind.set(proxy, value);
    }
    return proxy;
  }
  return {
    document: shownFor(document) as object,
    bare: (value) => (typeof value === 'object' && value !== null ? (behind.get(value) ?? value) : value),
  };
}

/**
 * The values at a path (RFC 9535), in document order; none where it leads nowhere. Throws on a wrong path, and a `PathTooFar`
 * where it goes through too much, or too deep.
 */
export function valuesAt(path: string, document: unknown): unknown[] {
  if (typeof document !== 'object' || document === null || !mayReturn(path)) {
    return environment.query(path, document as never).values();
  }
  const counted = counting(document, MOST_STEPS);
  try {
    return environment
      .query(path, counted.document as never)
      .values()
      .map(counted.bare);
  } catch (error) {
    if (error instanceof JSONPathRecursionLimitError) throw new PathTooFar(error.message);
    throw error;
  }
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
