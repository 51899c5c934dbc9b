import type { Knex } from 'knex';
import { WatchRegistry, type WatchRegistryOptions } from '@/engine/state/watch-registry';

/** A registry on a database that tells nobody anything, and fails the test where something goes wrong. */
export function registryOn(
  db: Knex,
  now: () => number,
  rest: Partial<WatchRegistryOptions> = {},
): WatchRegistry {
  return new WatchRegistry({
    db,
    now,
    zone: 'UTC',
    onNews: () => undefined,
    onHappenings: () => undefined,
    onState: () => undefined,
    onError: (error) => {
      throw error;
    },
    ...rest,
  });
}
