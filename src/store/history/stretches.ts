import type { Stretch } from '@/core/history/availability';
import type { StretchKind } from '@/core/lifecycle/state';
import { inChunks } from '@/store/db/chunks';
import { withRawConnection, type Db } from '@/store/db/connection';

type Row = [watchId: number, began: number, kind: StretchKind, ended: number | null];

/** The stretches of watches that overlap [from, to), by watch; an open one ends at `to`. */
export async function fetchStretches(
  db: Db,
  watchIds: readonly number[],
  from: number,
  to: number,
): Promise<Map<number, Stretch[]>> {
  const byWatch = new Map<number, Stretch[]>(watchIds.map((id) => [id, []]));
  for (const ids of inChunks(watchIds)) {
    // A restless watch has tens of thousands: read as they lie, without an object for each row.
    const rows = await withRawConnection(db, (raw) =>
      raw
        .prepare<(number | string)[], Row>(
          `SELECT watch_id, began, kind, ended FROM stretches
           WHERE watch_id IN (${ids.map(() => '?').join()}) AND began < ? AND (ended IS NULL OR ended > ?)
           ORDER BY watch_id, began`,
        )
        .raw()
        .all(...ids, to, from),
    );
    for (const [id, began, kind, ended] of rows) {
      byWatch.get(id)!.push({ from: Math.max(began, from), to: Math.min(ended ?? to, to), kind });
    }
  }
  return byWatch;
}
