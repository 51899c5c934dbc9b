import { occurrencesOf, type Occurrence, type Recurrence } from '@/core/maintenance/recurrence';
import { DAY_MS } from '@/core/time/units';
import type { Db } from '@/store/db/connection';
import type { WindowSeriesRow } from '@/store/db/public-tables';
import { coverageColumns, plannedOf, withCovered } from './covering';
import { saveNewWindow, type WindowPlan } from './windows';

/** Maintenance that comes again and again. Its times are made as windows of their own, so far ahead. */
export interface WindowSeries extends WindowPlan, Recurrence {
  id: number;
  /** Times that were called off, by what the wall clock would have shown. */
  calledOff: string[];
  madeAt: number;
  covers: number[];
}

export type NewSeries = Omit<WindowSeries, 'id' | 'calledOff' | 'madeAt' | 'covers'>;

/** So far ahead windows stand in the calendar. */
export const AHEAD_MS = 92 * DAY_MS;
const MOST_AT_ONCE = 100;

function seriesOf(row: WindowSeriesRow): Omit<WindowSeries, 'covers'> {
  return {
    ...plannedOf(row),
    rule: row.rule,
    zone: row.zone,
    first: row.first,
    lastsMinutes: row.lasts_minutes,
    calledOff: JSON.parse(row.called_off) as string[],
    madeAt: row.made_at,
  };
}

const columnsOf = (series: NewSeries) => ({
  title: series.title,
  text: series.text,
  ...coverageColumns(series),
  announce_days: series.announceDays,
  rule: series.rule,
  zone: series.zone,
  first: series.first,
  lasts_minutes: series.lastsMinutes,
});

export async function fetchSeries(db: Db): Promise<WindowSeries[]> {
  return withCovered(db, (await db('window_series').orderBy('id')).map(seriesOf));
}

export async function fetchOneSeries(db: Db, id: number): Promise<WindowSeries | null> {
  const row = await db('window_series').where({ id }).first();
  return row ? (await withCovered(db, [seriesOf(row)]))[0]! : null;
}

export async function countSeries(db: Db): Promise<number> {
  const [row] = await db('window_series').count({ number: '*' });
  return Number(row!.number);
}

/** The times of a series that come within reach of a moment and were not called off. */
function comingOf(series: Omit<WindowSeries, 'covers'>, from: number, until: number): Occurrence[] {
  const all = occurrencesOf(series, { from, until, most: MOST_AT_ONCE + series.calledOff.length });
  return all.filter(({ wall }) => !series.calledOff.includes(wall)).slice(0, MOST_AT_ONCE);
}

/** Makes the windows of a series that are not there yet. */
async function makeWindows(
  trx: Db,
  series: Omit<WindowSeries, 'covers'>,
  { from, now }: { from: number; now: number },
): Promise<void> {
  const there = new Set(await trx('windows').where({ series_id: series.id }).pluck('wall'));
  const until = now + AHEAD_MS;
  for (const { wall, begins, ends } of comingOf(series, from, until)) {
    if (there.has(wall)) continue;
    const { id: seriesId, title, text, watchIds, sectionIds, tagIds, announceDays } = series;
    const plan = { title, text, watchIds, sectionIds, tagIds, announceDays };
    await saveNewWindow(trx, { ...plan, begins, ends, madeAt: now, seriesId, wall });
  }
  await trx('window_series').where({ id: series.id }).update({ made_until: until });
}

export async function saveNewSeries(
  trx: Db,
  series: NewSeries,
  now: number,
  calledOff: string[] = [],
): Promise<number> {
  const row = { ...columnsOf(series), called_off: JSON.stringify(calledOff), made_until: now, made_at: now };
  const [id] = await trx('window_series').insert(row);
  await makeWindows(trx, { ...series, id: id!, calledOff, madeAt: now }, { from: now, now });
  return id!;
}

/**
 * Changes a series. Times that stay where they are stay the same windows, with what is said of them now; others that have
 * not begun and were not changed by themselves are dropped and made anew. What is under way stays as it is.
 */
export async function saveSeriesChange(
  trx: Db,
  { id, ...series }: NewSeries & { id: number },
  now: number,
  onDropped: (windowId: number) => Promise<void>,
): Promise<void> {
  await trx('window_series').where({ id }).update(columnsOf(series));
  const changed = seriesOf((await trx('window_series').where({ id }).first())!);
  const coming = new Map(comingOf(changed, now, now + AHEAD_MS).map((one) => [one.wall, one]));
  const { title, text, announceDays } = series;
  const said = { title, text, announce_days: announceDays, ...coverageColumns(series) };
  for (const row of await trx('windows').where({ series_id: id, apart: 0 }).where('begins', '>', now)) {
    const planned = coming.get(row.wall ?? '');
    if (planned?.begins === row.begins && planned.ends === row.ends) {
      await trx('windows').where({ id: row.id }).update(said);
    } else {
      await onDropped(row.id);
      await trx('windows').where({ id: row.id }).delete();
    }
  }
  await makeWindows(trx, changed, { from: now, now });
}

/** Ends a series: what has not begun is called off; what is under way ends as it was planned. */
export async function deleteSeries(trx: Db, id: number, now: number): Promise<void> {
  await trx('windows').where({ series_id: id }).where('begins', '>', now).delete();
  await trx('windows').where({ series_id: id }).update({ series_id: null, wall: null });
  await trx('window_series').where({ id }).delete();
}

/** One time of a series does not come. */
export async function saveCalledOff(trx: Db, id: number, wall: string): Promise<void> {
  const row = await trx('window_series').where({ id }).first();
  if (!row) return;
  const calledOff = [...new Set([...seriesOf(row).calledOff, wall])].sort();
  await trx('window_series')
    .where({ id })
    .update({ called_off: JSON.stringify(calledOff.slice(-500)) });
}

/** Makes what has come within reach since; whether anything was due. */
export async function saveComing(trx: Db, now: number): Promise<boolean> {
  const due = await trx('window_series').where('made_until', '<', now + AHEAD_MS - DAY_MS);
  // A clock that was set back makes nothing twice: what is there is known by its wall time.
  for (const row of due) await makeWindows(trx, seriesOf(row), { from: Math.max(now, row.made_until), now });
  return due.length > 0;
}
