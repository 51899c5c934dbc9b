import { DAY_MS } from '@/core/time/units';
import type { Db } from '@/store/db/connection';
import { fetchRollups } from '@/store/history/rollups';

/** Rollups for a chart with columns of `widthMs`: whole days where columns are that wide, hours for the rest. */
export async function fetchColumns(db: Db, watchId: number, from: number, to: number, widthMs: number) {
  if (widthMs < DAY_MS) return fetchRollups(db, watchId, from, to);
  const lastDay = Math.floor(to / DAY_MS) * DAY_MS;
  const firstDay = Math.ceil(from / DAY_MS) * DAY_MS;
  const days = await fetchRollups(db, watchId, firstDay, lastDay, 'day');
  return [...days, ...(await fetchRollups(db, watchId, Math.max(from, lastDay), to))];
}
