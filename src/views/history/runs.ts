import { DAY_MS } from '@/core/time/units';
import * as core from '@/core/reports/runs';
import { scheduleOf } from '@/core/settings/watch-config';
import type { Db } from '@/store/db/connection';
import { fetchReportTimes } from '@/store/history/reports';
import type { WatchWithStatus } from '@/store/watches/watches';
import { KnownDues } from './dues';

const HISTORY_DAYS = 90;
const MOST_REPORTS = 20_000;
const SHOWN_ARRIVALS = 60;
/** A run may begin this much before it is due, as clocks differ. */
export const EARLY_MS = 5 * 60_000;
const BAND_RUNS = 20;
/** Of so many schedules the due times are kept. */
const MOST_WORKED = 50;

/** How long one run took, between what the runs before it usually took. */
export interface RunPoint {
  at: number;
  ms: number;
  low: number;
  high: number;
}

export interface RunsView {
  points: RunPoint[];
  arrivals: core.Arrival[];
  /** The last run that ended well. */
  lastGood: core.Run | null;
  leeway: core.Suggestion | null;
  longestRun: core.Suggestion | null;
}

const worked = new KnownDues(MOST_WORKED, MOST_REPORTS);

/** The due times of a job after one moment and up to another; of one that runs often the last of them. */
async function duesBetween(watch: WatchWithStatus, from: number, to: number): Promise<number[]> {
  if (watch.config.type !== 'checkin' || watch.config.schedule.type === 'period') return [];
  const schedule = scheduleOf(watch.config.schedule);
  return worked.newest(JSON.stringify([watch.id, schedule]), schedule, from, to);
}

/** So many runs can be told apart in a chart. */
const MOST_POINTS = 600;

interface MeasuredRun extends core.Run {
  ended: number;
  ms: number;
}

const isMeasured = (run: core.Run): run is MeasuredRun =>
  run.ms !== null && run.ended !== null && run.result === 'done';

/** The places of runs that can be told apart in a chart: of those that would lie on each other, the longest. */
function placesShown(runs: readonly MeasuredRun[]): number[] {
  const [first, last] = [runs[0], runs.at(-1)];
  if (!first || !last || runs.length <= MOST_POINTS) return runs.map((_, place) => place);
  const width = (last.ended - first.ended + 1) / MOST_POINTS;
  const longest = new Map<number, number>();
  for (const [place, { ended, ms }] of runs.entries()) {
    const column = Math.floor((ended - first.ended) / width);
    const known = longest.get(column);
    if (known === undefined || ms > runs[known]!.ms) longest.set(column, place);
  }
  return [...longest.values()];
}

/** The runs before each one say what is usual: from the 5th to the 95th of a hundred. */
function pointsOf(runs: readonly core.Run[]): RunPoint[] {
  const measured = runs.filter(isMeasured).reverse();
  return placesShown(measured).map((place) => {
    const { ended, ms } = measured[place]!;
    const before = measured.slice(Math.max(0, place - BAND_RUNS), place + 1).map((one) => one.ms);
    const sorted = before.sort((a, b) => a - b);
    const at = (q: number) => sorted[Math.min(sorted.length - 1, Math.round(q * (sorted.length - 1)))]!;
    return { at: ended, ms, low: at(0.05), high: at(0.95) };
  });
}

/** What a job did: its runs, their lengths, when they came, and what its history suggests. */
export async function fetchRunsView(db: Db, watch: WatchWithStatus, now: number): Promise<RunsView> {
  const since = Math.max(watch.createdAt, now - HISTORY_DAYS * DAY_MS);
  const reports = await fetchReportTimes(db, watch.id, since, MOST_REPORTS);
  // Before the first report that is still there nothing is known: no due time of then was missed for certain.
  const from = reports.length === 0 ? now : reports[0]!.at - EARLY_MS;
  const dues = await duesBetween(watch, Math.max(since, from), now);
  const history = core.withDues(core.runsOf(reports), dues, EARLY_MS);
  return {
    points: pointsOf(history),
    arrivals: core.arrivalsOf(history, dues.slice(-SHOWN_ARRIVALS)),
    lastGood: history.find((run) => run.result === 'done') ?? null,
    leeway: core.suggestLeeway(history),
    longestRun: core.suggestLongestRun(history),
  };
}
