import { HOUR_MS } from '@/core/time/units';
import type { Db } from '@/store/db/connection';
import { fetchValues } from '@/store/history/findings';
import { fetchRollupCursor } from '@/store/history/rollups';
import { fetchColumns } from './columns';

/** What was read in one column of the chart. */
export interface ReadingPoint {
  at: number;
  least: number;
  mean: number;
  most: number;
}

interface Sum {
  least: number;
  most: number;
  total: number;
  count: number;
}

/** Readings in columns of `widthMs`; older ones from the rollups of their hours, newer ones one by one. */
export async function fetchReadings(
  db: Db,
  watchId: number,
  range: { from: number; to: number },
  widthMs: number,
): Promise<ReadingPoint[]> {
  const cursor = await fetchRollupCursor(db);
  const from = widthMs < HOUR_MS ? range.from : Math.max(range.from, cursor);
  const columns = new Map<number, Sum>();
  const add = (at: number, sum: Sum) => {
    const column = range.from + Math.floor((at - range.from) / widthMs) * widthMs;
    const old = columns.get(column);
    columns.set(column, {
      least: Math.min(sum.least, old?.least ?? Infinity),
      most: Math.max(sum.most, old?.most ?? -Infinity),
      total: sum.total + (old?.total ?? 0),
      count: sum.count + (old?.count ?? 0),
    });
  };
  if (from > range.from) {
    for (const { hour, readings } of await fetchColumns(db, watchId, range.from, from, widthMs))
      if (readings) add(hour, readings);
  }
  for (const { at, value } of await fetchValues(db, watchId, from, range.to)) {
    add(at, { least: value, most: value, total: value, count: 1 });
  }
  return [...columns]
    .sort(([a], [b]) => a - b)
    .map(([at, { least, most, total, count }]) => ({
      at: at + widthMs / 2,
      least,
      most,
      mean: total / count,
    }));
}
