import type { Knex } from 'knex';
import { decodeHistogram, encodeHistogram, mergeHistograms } from '@/core/history/histogram';

const DAY_MS = 86_400_000;

interface Hour {
  watch_id: number;
  hour: number;
  fine: number;
  failed: number;
  histogram: Buffer;
  least: number | null;
  most: number | null;
  total: number | null;
  read: number | null;
}

const sum = (hours: readonly Hour[], name: 'fine' | 'failed' | 'total' | 'read') =>
  hours.reduce((total, hour) => total + (hour[name] ?? 0), 0);

function dayOf(hours: readonly Hour[], day: number): Hour {
  const read = hours.filter((hour) => hour.read);
  return {
    watch_id: hours[0]!.watch_id,
    hour: day,
    fine: sum(hours, 'fine'),
    failed: sum(hours, 'failed'),
    histogram: encodeHistogram(
      mergeHistograms(hours.map((hour) => decodeHistogram(hour.histogram))),
    ) as Buffer,
    least: read.length > 0 ? Math.min(...read.map((hour) => hour.least!)) : null,
    most: read.length > 0 ? Math.max(...read.map((hour) => hour.most!)) : null,
    total: read.length > 0 ? sum(read, 'total') : null,
    read: read.length > 0 ? sum(read, 'read') : null,
  };
}

/** Puts days together from all hours that were rolled up before there were days: the chart of a year reads days. */
export async function up(db: Knex): Promise<void> {
  const until = Number((await db('settings').where({ key: 'rollup_until' }).first())?.value ?? 0);
  const end = Math.floor(until / DAY_MS) * DAY_MS;
  for (const watchId of await db('watches').orderBy('id').pluck<number[]>('id')) {
    const hours: Hour[] = await db('rollups')
      .where('watch_id', watchId)
      .andWhere('hour', '<', end)
      .orderBy('hour');
    const days = new Map<number, Hour[]>();
    for (const hour of hours) {
      const day = Math.floor(hour.hour / DAY_MS) * DAY_MS;
      days.set(day, [...(days.get(day) ?? []), hour]);
    }
    for (const [day, of] of days) {
      await db('rollups_by_day').insert(dayOf(of, day)).onConflict(['watch_id', 'hour']).merge();
    }
  }
}

/** Days are made from hours, which stay. */
export async function down(): Promise<void> {}
