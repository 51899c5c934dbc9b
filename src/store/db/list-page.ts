import type { Knex } from 'knex';

/** Which part of a list is wanted, and in which order. */
export interface ListPage {
  /** Only what lies at or after this time, ms since 1970. */
  since?: number;
  /** Only what lies before this time. */
  until?: number;
  /** Goes on behind this row: its time, and its id. */
  after?: readonly [at: number, id: number];
  /** The newest first where it is not said. */
  ascending?: boolean;
  limit: number;
}

interface Columns {
  at: string;
  id: string;
  /** Where a row lasts for some time: its end, null while it has none. */
  end?: string;
}

/** Narrows a query to a page: by keys, so that the last page costs what the first one does. */
export function turnTo<Q extends Knex.QueryBuilder>(query: Q, page: ListPage, { at, id, end }: Columns): Q {
  const order = page.ascending ? 'asc' : 'desc';
  query.orderBy(at, order).limit(page.limit);
  if (id !== at) query.orderBy(id, order);
  if (page.since !== undefined) {
    const since = page.since;
    if (end === undefined) query.where(at, '>=', since);
    else query.where((q) => void q.whereNull(end).orWhere(end, '>', since));
  }
  if (page.until !== undefined) query.where(at, '<', page.until);
  if (page.after) {
    const sign = page.ascending ? '>' : '<';
    if (id === at) query.where(at, sign, page.after[0]);
    else query.whereRaw(`(${at}, ${id}) ${sign} (?, ?)`, [...page.after]);
  }
  return query;
}
