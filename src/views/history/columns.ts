import { DAY_MS } from '@/core/time/units';
import type { Rollup } from '@/core/history/rollup';
import type { Db } from '@/store/db/connection';
import { fetchDays, fetchHours } from '@/store/history/rollups';

const dayOf = (at: number) => Math.floor(at / DAY_MS) * DAY_MS;

/**
 * Rollups for a chart with columns of `widthMs`: whole days where columns are that wide or hours are not kept any more,
 * hours for the rest.
 */
export async function fetchColumns(
  db: Db,
  watchId: number,
  from: number,
  to: number,
  widthMs: number,
): Promise<Rollup[]> {
  if (widthMs < DAY_MS) {
    const hours = await fetchHours(db, watchId, from, to);
    // Hours go from the oldest on: days stand for what lies before the first that is kept.
    const kept = dayOf(hours[0]?.hour ?? to);
    const days = await fetchDays(db, watchId, Math.ceil(from / DAY_MS) * DAY_MS, kept);
    return [...days, ...hours];
  }
  const lastDay = dayOf(to);
  const firstDay = Math.ceil(from / DAY_MS) * DAY_MS;
  const days = await fetchDays(db, watchId, firstDay, lastDay);
  return [...days, ...(await fetchHours(db, watchId, Math.max(from, lastDay), to))];
}
