import { DAY_MS } from '@/core/time/units';
import type { State } from '@/core/lifecycle/state';
import type { Tag } from '@/core/settings/tag';
import { passes, type WatchFilter } from '@/core/settings/watch-filter';
import { nextDue, nextDues } from '@/core/schedule/schedule';
import { scheduleOf } from '@/core/settings/watch-config';
import { wallAt } from '@/core/time/zone-time';
import { filterable, targetText } from '@/probes/diagnosis/watch-target';
import type { Db } from '@/store/db/connection';
import { fetchLastRuns } from '@/store/history/reports';
import { fetchJobs, type WatchWithStatus } from '@/store/watches/watches';
import { fetchFilterView, type FilterView } from '@/views/settings/watch-list';

export interface JobLine {
  id: number;
  name: string;
  state: State;
  warned: boolean;
  section: string;
  tags: Tag[];
  times: string;
  /** When it is expected next; null where that is not known. */
  due: number | null;
  /** Since when its runs go on, the oldest first. */
  running: number[];
  lastAt: number | null;
  lastFine: boolean | null;
  /** Milliseconds of the last measured run. */
  usualMs: number | null;
}

/** A due time on the clock of the day. */
export interface ClockMark {
  id: number;
  name: string;
  /** Minutes since midnight, in the reader's zone. */
  minute: number;
  /** Minutes it usually runs. */
  lasts: number;
}

export interface JobsView extends FilterView {
  now: number;
  jobs: JobLine[];
  all: number;
  /** Due times of the next 24 hours; jobs that run more often than every half hour are told apart. */
  marks: ClockMark[];
  often: { id: number; name: string }[];
}

const OFTEN_MS = 30 * 60_000;
const MOST_DUES = 50;

function lineOf(watch: WatchWithStatus, usualMs: number | null, now: number): JobLine {
  const { config, status } = watch;
  const schedule = config.type === 'checkin' ? scheduleOf(config.schedule) : null;
  return {
    id: watch.id,
    name: watch.name,
    state: status.state,
    warned: Boolean(status.warned),
    section: watch.section ?? '',
    tags: watch.tags,
    times: targetText(watch),
    due: status.due ?? (schedule && schedule.type !== 'period' ? nextDue(schedule, now) : null),
    running: Object.values(status.running).sort((a, b) => a - b),
    lastAt: status.lastAt,
    lastFine: status.lastFine,
    usualMs,
  };
}

/** All jobs together: due next first, with where they crowd on the clock of the day. */
export async function fetchJobsView(
  db: Db,
  filter: WatchFilter,
  { now, zone }: { now: number; zone: string },
): Promise<JobsView> {
  const watches = await fetchJobs(db);
  const shown = watches.filter((watch) => passes(filter, filterable(watch)));
  const runs = await fetchLastRuns(
    db,
    shown.map(({ id }) => id),
  );
  const marks: ClockMark[] = [];
  const often: JobsView['often'] = [];
  for (const watch of shown) {
    if (watch.config.type !== 'checkin' || watch.paused) continue;
    const schedule = scheduleOf(watch.config.schedule);
    const { id, name } = watch;
    if (schedule.type === 'period') {
      if (schedule.everyMs <= OFTEN_MS) often.push({ id, name });
      continue;
    }
    const dues = nextDues(schedule, now, MOST_DUES).filter((due) => due < now + DAY_MS);
    if (dues.length * OFTEN_MS >= DAY_MS) {
      often.push({ id, name });
      continue;
    }
    const lasts = Math.max(1, (runs.get(id) ?? 0) / 60_000);
    for (const due of dues) {
      const { hour, minute } = wallAt(due, zone);
      marks.push({ id, name, minute: hour * 60 + minute, lasts });
    }
  }
  const lines = shown.map((watch) => lineOf(watch, runs.get(watch.id) ?? null, now));
  return {
    ...(await fetchFilterView(db, {
      kinds: new Set(watches.map(({ kind }) => kind)),
      loose: watches.some(({ section }) => section === null),
    })),
    now,
    jobs: lines.sort(
      (a, b) => b.running.length - a.running.length || (a.due ?? Infinity) - (b.due ?? Infinity),
    ),
    all: watches.length,
    marks: marks.sort((a, b) => a.minute - b.minute),
    often,
  };
}
