import { refused } from './refusal';

/** Names of sections, tags and filters are told apart by every letter. */
export function refuseTwice(
  name: string,
  others: readonly { id: number; name: string }[],
  id?: number,
): void {
  if (!others.some((other) => other.name === name && other.id !== id)) return;
  throw refused([{ field: 'name', message: `Expected a name of its own; there is one called “${name}”.` }]);
}
