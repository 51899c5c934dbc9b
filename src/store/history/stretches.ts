import type { Stretch } from '@/core/history/availability';
import type { Db } from '@/store/db/connection';

/** The stretches of watches that overlap [from, to), by watch; an open one ends at `to`. */
export async function fetchStretches(
  db: Db,
  watchIds: readonly number[],
  from: number,
  to: number,
): Promise<Map<number, Stretch[]>> {
  const rows = await db('stretches')
    .whereIn('watch_id', watchIds)
    .andWhere('began', '<', to)
    .andWhere((q) => void q.whereNull('ended').orWhere('ended', '>', from))
    .orderBy(['watch_id', 'began']);
  const byWatch = new Map<number, Stretch[]>(watchIds.map((id) => [id, []]));
  for (const row of rows) {
    byWatch.get(row.watch_id)!.push({
      from: Math.max(row.began, from),
      to: Math.min(row.ended ?? to, to),
      kind: row.kind,
    });
  }
  return byWatch;
}
