import type { Knex } from 'knex';
import type { CauseCode, CauseDetail } from '../core/causes';
import type { Evidence } from '../core/finding';
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
  return (await query).map((row) => ({
    watchId: row.watch_id,
    at: row.at,
    cause: row.cause,
    detail: JSON.parse(row.detail),
    evidence: JSON.parse(row.evidence),
  }));
}

/** The newest evidence of each of these watches, where there is any. */
export async function fetchLatestEvidence(
  db: Db,
  watchIds: readonly number[],
): Promise<Map<number, KeptEvidence>> {
  const latest = new Map<number, KeptEvidence>();
  for (const watchId of watchIds) {
    const [newest] = await fetchEvidence(db, watchId, { limit: 1 });
    if (newest) latest.set(watchId, newest);
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
