/**
 * What a record holds under a key that came from outside, and not what every object has under `constructor`,
 * `toString` and the like.
 */
export function ownEntry<T>(record: Readonly<Record<string, T>>, key: string): T | undefined {
  return Object.hasOwn(record, key) ? record[key] : undefined;
}
