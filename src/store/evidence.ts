import type { Knex } from 'knex';
import type { CauseCode, CauseDetail } from '../core/causes';
import type { Evidence } from '../core/finding';
import { inChunks } from './chunks';
import { withRawConnection, type Db } from './connection';

/** What was seen when a look first failed, or failed in a new way. */
export interface KeptEvidence {
  watchId: number;
  at: number;
  cause: CauseCode;
  detail: CauseDetail;
  evidence: Evidence;
}

/** The evidence of one watch since a time, the newest first. */
export async function fetchEvidence(
  db: Db,
  watchId: number,
  page: { since?: number; limit: number },
): Promise<KeptEvidence[]> {
  const query = db('evidence').where('watch_id', watchId).orderBy('at', 'desc').limit(page.limit);
  if (page.since !== undefined) query.where('at', '>=', page.since);
  return ((await query) as Row[]).map(keptOf);
}

interface Row {
  watch_id: number;
  at: number;
  cause: CauseCode;
  detail: string;
  evidence: string;
}

function keptOf(row: Row): KeptEvidence {
  return {
    watchId: row.watch_id,
    at: row.at,
    cause: row.cause,
    detail: JSON.parse(row.detail) as CauseDetail,
    evidence: JSON.parse(row.evidence) as Evidence,
  };
}

/** The newest evidence of each of these watches, where there is any. */
export async function fetchLatestEvidence(
  db: Db,
  watchIds: readonly number[],
): Promise<Map<number, KeptEvidence>> {
  const latest = new Map<number, KeptEvidence>();
  for (const ids of inChunks(watchIds)) {
    const newest = db('evidence').whereIn('watch_id', ids).groupBy('watch_id').select('watch_id');
    const rows = await db('evidence').whereIn(['watch_id', 'at'], newest.max({ at: 'at' }));
    for (const row of rows) latest.set(row.watch_id, keptOf(row as Row));
  }
  return latest;
}

/** Deletes evidence older than `before` that belongs to no outage; outages keep theirs for ever. */
export async function deleteEvidenceBefore(db: Knex, before: number): Promise<void> {
  await withRawConnection(db, (raw) =>
    raw
      .prepare(
        `DELETE FROM evidence WHERE at < ? AND NOT EXISTS (SELECT 1 FROM outages o
         WHERE o.watch_id = evidence.watch_id AND o.began <= evidence.at
         AND (o.ended IS NULL OR o.ended >= evidence.at))`,
      )
      .run(before),
  );
}
