import { notFound } from './refusal';

/** What was found, or the refusal that there is none. */
export function orNotFound<T>(found: T | null | undefined, what: string): T {
  if (found === null || found === undefined) throw notFound(what);
  return found;
}

/** Finds one by its id among a few. */
export function byId<T extends { id: number }>(all: readonly T[], id: number, what: string): T {
  return orNotFound(
    all.find((one) => one.id === id),
    `${what} ${id}`,
  );
}
