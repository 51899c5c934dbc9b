import { cache } from 'react';
import { fetchWatches } from '../store/watches';

/** All watches, read once for all that one page shows of them. */
export const fetchWatchesOnce = cache(fetchWatches);
