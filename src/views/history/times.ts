import { DAY_MS, HOUR_MS } from '@/core/time/units';
import { addToHistogram, emptyHistogram, mergeHistograms, type Histogram } from '@/core/history/histogram';
import type { Db } from '@/store/db/connection';
import { fetchTimes } from '@/store/history/findings';
import { fetchDays, fetchHours, fetchRollupCursor } from '@/store/history/rollups';

const up = (at: number, unit: number) => Math.ceil(at / unit) * unit;
const down = (at: number, unit: number) => Math.floor(at / unit) * unit;

async function looksIn(db: Db, watchId: number, from: number, to: number): Promise<Histogram> {
  const times = emptyHistogram();
  if (from < to) for (const { ms } of await fetchTimes(db, watchId, from, to)) addToHistogram(times, ms);
  return times;
}

type Fetch = typeof fetchHours;

async function rolledUp(
  fetch: Fetch,
  db: Db,
  watchId: number,
  from: number,
  to: number,
): Promise<Histogram[]> {
  if (from >= to) return [];
  return (await fetch(db, watchId, from, to)).map((rollup) => rollup.times);
}

/**
 * The response times of a watch in [from, to) as one histogram: whole days and hours from what was rolled up, the
 * pieces at both ends from the looks themselves, as far as those are still kept.
 */
export async function fetchTimesIn(db: Db, watchId: number, from: number, to: number): Promise<Histogram> {
  const cursor = await fetchRollupCursor(db);
  const hours = { from: up(from, HOUR_MS), to: down(Math.min(to, cursor), HOUR_MS) };
  if (hours.from >= hours.to) return looksIn(db, watchId, from, to);
  const days = { from: up(hours.from, DAY_MS), to: down(hours.to, DAY_MS) };
  const middle =
    days.from < days.to
      ? [
          ...(await rolledUp(fetchHours, db, watchId, hours.from, days.from)),
          ...(await rolledUp(fetchDays, db, watchId, days.from, days.to)),
          ...(await rolledUp(fetchHours, db, watchId, days.to, hours.to)),
        ]
      : await rolledUp(fetchHours, db, watchId, hours.from, hours.to);
  return mergeHistograms([
    await looksIn(db, watchId, from, hours.from),
    ...middle,
    await looksIn(db, watchId, hours.to, to),
  ]);
}
