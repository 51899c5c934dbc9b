import { DAY_MS, MINUTE_MS } from '@/core/time/units';
import { dueAnswered, heardFirst, passesFilter, runsOf, type Run, type RunFilter } from '@/core/reports/runs';
import { nextDue } from '@/core/schedule/schedule';
import { scheduleOf } from '@/core/settings/watch-config';
import type { Db } from '@/store/db/connection';
import type { ListPage } from '@/store/db/list-page';
import { fetchLastFailed, fetchReports, type KeptReport } from '@/store/history/reports';
import type { WatchWithStatus } from '@/store/watches/watches';
import { EARLY_MS } from './runs';

/** A run that is not over after so many other reports is put together from what is in sight. */
const IN_SIGHT = 200;
const LEAST_STEP = 200;
const MOST_STEP = 5000;
/** Between these the due time before a run is looked for. */
const LEAST_BACK_MS = 5 * MINUTE_MS;
const LONGEST_BACK_MS = 400 * DAY_MS;

type Place = readonly [at: number, id: number];
const placeOf = ({ at, id }: KeptReport): Place => [at, id];
const isBefore = (a: Place, b: Place) => a[0] < b[0] || (a[0] === b[0] && a[1] < b[1]);

/**
 * Tells the due time that is answered at a moment; null where there is none within a year. It looks back as far as it had
 * to for the moment before, for those that are asked about lie near each other.
 */
function duesAnswered(watch: WatchWithStatus): (moment: number) => number | null {
  if (watch.config.type !== 'checkin' || watch.config.schedule.type === 'period') return () => null;
  const schedule = scheduleOf(watch.config.schedule);
  // Times that never come, as the 30th of February, are looked for once: it takes longest.
  if (nextDue(schedule, watch.createdAt - LONGEST_BACK_MS) === null) return () => null;
  let back = LEAST_BACK_MS;
  return (moment) => {
    back = Math.max(LEAST_BACK_MS, back / 4);
    while (back < LONGEST_BACK_MS && (nextDue(schedule, moment - back) ?? Infinity) > moment) back *= 4;
    let last: number | null = null;
    let next = nextDue(schedule, moment - back);
    while (next !== null && next <= moment) {
      last = next;
      next = nextDue(schedule, next);
    }
    return dueAnswered(moment, last, next, EARLY_MS);
  };
}

/** The runs whose first report is among these, with what is in sight before and behind. */
async function runsAmong(db: Db, watch: WatchWithStatus, reports: readonly KeptReport[]): Promise<Run[]> {
  const [first, last] = [placeOf(reports[0]!), placeOf(reports.at(-1)!)];
  const before = await fetchReports(db, watch.id, { after: first, limit: IN_SIGHT });
  const behind = await fetchReports(db, watch.id, { after: last, ascending: true, limit: IN_SIGHT });
  return runsOf([...before.reverse(), ...reports, ...behind]).filter((run) => {
    const place: Place = [heardFirst(run), run.firstId];
    return !isBefore(place, first) && !isBefore(last, place);
  });
}

/** The runs of a job, by when they were heard of first: put together from its reports, a part of them at a time. */
export async function fetchRuns(
  db: Db,
  watch: WatchWithStatus,
  page: ListPage,
  only?: RunFilter,
): Promise<Run[]> {
  const found: Run[] = [];
  let step = Math.max(LEAST_STEP, 2 * page.limit);
  let { after } = page;
  while (found.length < page.limit) {
    if (only === 'failed' && !page.ascending) {
      // Of those that failed there may be few: what lies before the last one is passed over. A run that began before
      // this place may have failed behind it.
      const failed = await fetchLastFailed(db, watch.id, after, IN_SIGHT);
      if (!failed) break;
      const next: Place = [failed[0], failed[1] + 1];
      if (!after || isBefore(next, after)) after = next;
    }
    const part = await fetchReports(db, watch.id, { ...page, ...(after && { after }), limit: step });
    if (part.length === 0) break;
    after = placeOf(part.at(-1)!);
    const inOrder = page.ascending ? part : part.toReversed();
    const runs = await runsAmong(db, watch, inOrder);
    const shown = runs.filter((run) => passesFilter(run, only));
    found.push(...(page.ascending ? shown.reverse() : shown));
    if (part.length < step) break;
    step = Math.min(MOST_STEP, 2 * step);
    // Others are answered between two parts.
    await new Promise((resolve) => setImmediate(resolve));
  }
  const dueOf = duesAnswered(watch);
  return found.slice(0, page.limit).map((run) => ({ ...run, due: dueOf(heardFirst(run)) }));
}
