import type { Knex } from 'knex';
import { NO_FILTER } from '@/core/settings/watch-filter';
import type { LinesWish } from '@/views/overview/lines';
import { fetchOverview } from '@/views/overview/overview';

/** The overview of a day as it is first seen, but for what is said otherwise. */
export function overviewOf(db: Knex, now: number, rest: Partial<LinesWish> = {}, engineAnswers = true) {
  const seen = { range: '24h', worstFirst: false, filter: NO_FILTER } as const;
  return fetchOverview(db, { ...seen, ...rest }, { now, zone: 'UTC', engineAnswers });
}
