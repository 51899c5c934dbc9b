import type { Knex } from 'knex';
import { NO_FILTER } from '@/core/settings/watch-filter';
import { fetchOverview } from '@/views/overview/overview';

/** The overview of a day as it is first seen, but for what is said otherwise. */
export function overviewOf(db: Knex, now: number, rest: object = {}) {
  const seen = { range: '24h', worstFirst: false, filter: NO_FILTER, whole: false, zone: 'UTC' } as const;
  return fetchOverview(db, { ...seen, now, ...rest });
}
