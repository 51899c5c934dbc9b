import type { Knex } from 'knex';
import type { CauseCode, CauseDetail } from '@/core/causes/causes';
import type { Evidence } from '@/core/causes/finding';
import { inChunks } from '@/store/db/chunks';
import type { Db } from '@/store/db/connection';
import { turnTo, type ListPage } from '@/store/db/list-page';
import { fetchSetting, saveSetting } from '@/store/db/settings';
import { inSteps } from '@/store/db/steps';
import type { EvidenceRow } from '@/store/db/tables';

/** What was seen when a look first failed, or failed in a new way. */
export interface KeptEvidence {
  watchId: number;
  at: number;
  cause: CauseCode;
  detail: CauseDetail;
  evidence: Evidence;
}

/** The evidence of one watch. */
export async function fetchEvidence(db: Db, watchId: number, page: ListPage): Promise<KeptEvidence[]> {
  const query = turnTo(db('evidence').where('watch_id', watchId), page, { at: 'at', id: 'at' });
  return (await query).map(keptOf);
}

function keptOf(row: EvidenceRow): KeptEvidence {
  return {
    watchId: row.watch_id,
    at: row.at,
    cause: row.cause as CauseCode,
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
    for (const row of rows) latest.set(row.watch_id, keptOf(row));
  }
  return latest;
}

/** Up to which time evidence was gone through; what is left from before belongs to outages. */
const SWEPT = 'evidence_swept';
const ROWS_AT_ONCE = 200;

/**
 * Deletes evidence older than `before` that belongs to no outage; outages keep theirs for ever. Each piece is gone
 * through once, in small steps: of one watch there may be tens of thousands.
 */
export async function deleteEvidenceBefore(
  db: Knex,
  watchIds: readonly number[],
  before: number,
): Promise<void> {
  const from = Math.min(Number((await fetchSetting(db, SWEPT)) ?? 0), before);
  if (from === before) return;
  for (const watchId of watchIds) {
    let after = from - 1;
    let left = true;
    function* pieces() {
      while (left) yield watchId;
    }
    await inSteps(db, pieces(), (raw) => {
      const some = raw.prepare<[number, number, number], { at: number }>(
        `SELECT at FROM evidence WHERE watch_id = ? AND at > ? AND at < ? ORDER BY at LIMIT ${ROWS_AT_ONCE}`,
      );
      // Outages of one watch do not overlap: the last one that began by then is the only one that may cover it.
      const covering = raw.prepare<[number, number], { ended: number | null }>(
        'SELECT ended FROM outages WHERE watch_id = ? AND began <= ? ORDER BY began DESC LIMIT 1',
      );
      const remove = raw.prepare('DELETE FROM evidence WHERE watch_id = ? AND at = ?');
      return () => {
        const rows = some.all(watchId, after, before);
        for (const { at } of rows) {
          const outage = covering.get(watchId, at);
          if (!outage || (outage.ended !== null && outage.ended < at)) remove.run(watchId, at);
        }
        after = rows.at(-1)?.at ?? after;
        left = rows.length === ROWS_AT_ONCE;
      };
    });
  }
  await saveSetting(db, SWEPT, String(before));
}
