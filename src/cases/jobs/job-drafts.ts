import { cronInWords } from '@/core/schedule/cron-words';
import { calendarInWords } from '@/core/schedule/calendar-words';
import {
  leewayFor,
  readCrontab,
  reportedKeys,
  trialLine,
  USUAL_WRAPPER,
  wrappedLine,
  type Crontab,
} from '@/core/imports/crontab';
import { formOf, isAnacrontab, isJobLine, type CrontabForm } from '@/core/imports/crontab-form';
import type { CronDialect } from '@/core/schedule/cron-times';
import { jobName } from '@/core/imports/job-name';
import { formatDuration } from '@/core/time/duration';
import { expressionLines, timesProblem } from '@/core/schedule/schedule';
import type { JobDraft, JobRow } from '@/core/imports/job-draft';
import { dropIn, readTimers } from '@/core/imports/timers';
import { TakenNames } from '@/core/settings/unique-name';
import type { ScheduleConfig } from '@/core/settings/watch-config';
import type { WatchWithStatus } from '@/store/watches/watches';

export interface ImportWish {
  text: string;
  zone: string;
  form: CrontabForm | 'auto';
  section: string | null;
  /** Whose cron it is; "auto" asks where that makes a difference. */
  cron?: CronDialect | 'auto';
  /** Where the wrapper lies on that machine. */
  wrapper?: string;
}

/** What has to be said before a crontab can be read for certain. */
export type Ask = 'form' | 'cron';

/** A crontab as far as it can be read, and what has to be asked first. */
function crontabOf(wish: ImportWish): { crontab: Crontab; asks: Ask[] } {
  const found = formOf(wish.text);
  const form = wish.form !== 'auto' ? wish.form : found === 'unsure' ? 'user' : found;
  const { cron = 'auto' } = wish;
  const crontab = readCrontab(wish.text, wish.zone, form, cron === 'auto' ? 'usual' : cron);
  const asks: Ask[] = [];
  if (wish.form === 'auto' && found === 'unsure') asks.push('form');
  if (cron === 'auto' && crontab.dialectMatters) asks.push('cron');
  return { crontab, asks };
}

const MOST_JOBS = 1000;

/** Why the jobs of a text cannot be brought along; null where they can. */
export function textProblem(text: string): string | null {
  if (isAnacrontab(text)) {
    return 'This is an anacrontab (anacrontab(5)): its lines name periods in days and no times. Make a check-in with a period for each of its jobs instead.';
  }
  const count = readTimers(text)?.length ?? text.split('\n').filter(isJobLine).length;
  return count > MOST_JOBS ? `Expected at most ${MOST_JOBS} jobs at once, got ${count}.` : null;
}

function byKey(watches: readonly WatchWithStatus[], key: string): WatchWithStatus | undefined {
  const [first, name] = key.split('/');
  return watches.find((watch) =>
    name === undefined
      ? watch.checkinKey === first
      : watch.checkinName === name && watch.config.type === 'checkin',
  );
}

function scheduleText(schedule: ScheduleConfig): string {
  if (schedule.type === 'period') return `every ${formatDuration(schedule.every * 1000)}`;
  return `${expressionLines(schedule.expression).join('; ')} (${schedule.zone})`;
}

function sameSchedule(a: ScheduleConfig, b: ScheduleConfig): boolean {
  if (a.type === 'period' || b.type === 'period') return scheduleText(a) === scheduleText(b);
  const plain = (one: ScheduleConfig) => scheduleText(one).replaceAll(/\s+/g, ' ').toLowerCase();
  const [one, other] = [a.dialect ?? 'usual', b.dialect ?? 'usual'];
  return a.type === b.type && one === other && plain(a) === plain(b);
}

/** How a job stands to what is watched: by the address it reports to, or by its name where it reports to none. */
function standing(
  text: string,
  schedule: ScheduleConfig | null,
  watches: readonly WatchWithStatus[],
  name: string,
  section: string | null,
) {
  const keys = reportedKeys(text);
  const watch = keys.map((key) => byKey(watches, key)).find((one) => one !== undefined);
  const named =
    watch ??
    (keys.length === 0
      ? // Jobs of one name run on many machines: only this one's counts.
        watches.find((one) => one.name === name && one.config.type === 'checkin' && one.section === section)
      : undefined);
  if (!named) {
    return keys.length > 0
      ? {
          stands: 'unknown address' as const,
          watchId: null,
          note: 'It reports to an address that is not here.',
        }
      : { stands: 'new' as const, watchId: null, note: null };
  }
  const { config, id } = named;
  if (!schedule || config.type !== 'checkin' || sameSchedule(schedule, config.schedule)) {
    return { stands: 'watched' as const, watchId: id, note: null };
  }
  const note = `It runs at ${scheduleText(schedule)}; “${named.name}” expects ${scheduleText(config.schedule)}.`;
  return { stands: 'differs' as const, watchId: id, note };
}

/** Reads jobs and judges each; nothing is made. Timers are told from a crontab by their looks. */
export function draftJobs(wish: ImportWish, watches: readonly WatchWithStatus[], now: number): JobDraft {
  const timers = readTimers(wish.text);
  const names = new TakenNames([]);
  const rows: JobRow[] = [];
  let form: JobDraft['form'] = 'timers';
  let asked: Ask[] = [];
  if (timers) {
    for (const [i, timer] of timers.entries()) {
      const { expression, every, randomSeconds } = timer;
      const times = { type: 'calendar' as const, expression, zone: wish.zone };
      const problem = timer.problem ?? (expression === '' ? null : timesProblem(times, now));
      const schedule: ScheduleConfig | null =
        problem !== null ? null : expression === '' ? { type: 'period', every: every! } : times;
      const words =
        expression === ''
          ? every === null
            ? ''
            : `About every ${formatDuration(every * 1000)}`
          : expressionLines(expression)
              .map((line) => calendarInWords(line) ?? line)
              .join('; and ');
      const leeway =
        schedule?.type === 'calendar' ? leewayFor(times, randomSeconds, now) : 900 + randomSeconds;
      rows.push({
        line: i + 1,
        text: `${timer.name}.timer`,
        words,
        name: timer.name,
        schedule,
        leeway,
        problem,
        ...standing('', schedule, watches, timer.name, wish.section),
      });
    }
  } else {
    const { crontab, asks } = crontabOf(wish);
    form = crontab.form;
    asked = asks;
    const dialect = wish.cron === 'debian' ? { dialect: 'debian' as const } : {};
    for (const job of crontab.jobs) {
      const schedule = job.problem
        ? null
        : ({ type: 'cron', expression: job.expression, zone: job.zone, ...dialect } as const);
      const name = names.give(jobName(job.command));
      const text = crontab.lines[job.line - 1]!;
      rows.push({
        line: job.line,
        text,
        words: cronInWords(job.expression, wish.cron === 'debian' ? 'debian' : 'usual') ?? job.expression,
        name,
        schedule,
        leeway: schedule ? leewayFor(schedule, job.randomSeconds, now) : 0,
        problem: job.problem,
        ...standing(text, schedule, watches, name, wish.section),
      });
    }
  }
  const met = new Set(rows.map((row) => row.watchId));
  const without = watches
    .filter(
      (watch) => watch.config.type === 'checkin' && watch.section !== null && watch.section === wish.section,
    )
    .filter((watch) => !met.has(watch.id))
    .map(({ id, name }) => ({ id, name }));
  return { form, asks: asked, rows, without };
}

/** The same text with the chosen lines wrapped; for timers, the drop-ins that let their services report. */
export function rewritten(wish: ImportWish, addresses: ReadonlyMap<number, string>): string {
  const timers = readTimers(wish.text);
  if (timers) {
    return timers
      .flatMap((timer, i) => {
        const address = addresses.get(i + 1);
        return address === undefined ? [] : [dropIn(timer.name, address)];
      })
      .join('\n\n');
  }
  const { lines, jobs, variables } = crontabOf(wish).crontab;
  const out = [...lines];
  const how = { wrapper: wish.wrapper, shell: variables.SHELL };
  for (const job of jobs) {
    const address = addresses.get(job.line);
    if (address === undefined) continue;
    const end = out[job.line - 1]!.endsWith('\r') ? '\r' : '';
    out[job.line - 1] = wrappedLine(job, address, how) + end;
  }
  return out.join('\n');
}

/** What to type on that machine: how the wrapper gets there, and one of the lines run as cron would run it. */
export function handingOver(
  wish: ImportWish,
  addresses: ReadonlyMap<number, string>,
  base: string,
): { fetch: string; trial: string | null } {
  const { wrapper = USUAL_WRAPPER } = wish;
  const fetch = `curl -fsS ${base}/lantern-run -o ${wrapper} && chmod +x ${wrapper}`;
  if (readTimers(wish.text)) return { fetch, trial: null };
  const { jobs, variables } = crontabOf(wish).crontab;
  const job = jobs.find((one) => addresses.has(one.line) && one.input === '');
  if (!job) return { fetch, trial: null };
  const line = wrappedLine(job, addresses.get(job.line)!, { wrapper, shell: variables.SHELL });
  return { fetch, trial: trialLine(line.slice(job.before.length).trimEnd(), variables) };
}
