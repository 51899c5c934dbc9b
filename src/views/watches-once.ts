import { cache } from 'react';
import { asKnown } from '@/core/settings/known-state';
import type { Db } from '@/store/db/connection';
import { fetchWatches, type WatchWithStatus } from '@/store/watches/watches';

/** All watches, read once for all that one page shows of them. */
export const fetchWatchesOnce = cache(fetchWatches);

/** The same as they are known at `now`. */
export async function fetchKnownWatches(db: Db, now: number): Promise<WatchWithStatus[]> {
  return (await fetchWatchesOnce(db)).map((watch) => asKnown(watch, now));
}
