import { cronInWords } from '../core/cron-words';
import { calendarInWords } from '../core/calendar-words';
import {
  jobName,
  leewayFor,
  readCrontab,
  reportedKeys,
  wrappedLine,
  type CrontabForm,
} from '../core/crontab';
import { formatDuration } from '../core/duration';
import { expressionLines, timesProblem } from '../core/schedule';
import type { JobDraft, JobRow } from '../core/job-draft';
import { dropIn, readTimers } from '../core/timers';
import { uniqueName } from '../core/unique-name';
import type { ScheduleConfig } from '../core/watch-config';
import type { WatchWithStatus } from '../store/watches';

export interface ImportWish {
  text: string;
  zone: string;
  form: CrontabForm | 'auto';
  section: string | null;
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
  return a.type === b.type && plain(a) === plain(b);
}

/** How a job stands to what is watched: by the address it reports to, or by its name where it reports to none. */
function standing(
  text: string,
  schedule: ScheduleConfig | null,
  watches: readonly WatchWithStatus[],
  name: string,
) {
  const keys = reportedKeys(text);
  const watch = keys.map((key) => byKey(watches, key)).find((one) => one !== undefined);
  const named =
    watch ??
    (keys.length === 0
      ? watches.find((one) => one.name === name && one.config.type === 'checkin')
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
  const names: string[] = [];
  const rows: JobRow[] = [];
  let form: JobDraft['form'] = 'timers';
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
        ...standing('', schedule, watches, timer.name),
      });
    }
  } else {
    const crontab = readCrontab(wish.text, wish.zone, wish.form === 'auto' ? undefined : wish.form);
    form = crontab.form;
    for (const job of crontab.jobs) {
      const schedule = job.problem
        ? null
        : ({ type: 'cron', expression: job.expression, zone: job.zone } as const);
      const name = uniqueName(jobName(job.command), names);
      names.push(name);
      const text = crontab.lines[job.line - 1]!;
      rows.push({
        line: job.line,
        text,
        words: cronInWords(job.expression) ?? job.expression,
        name,
        schedule,
        leeway: schedule ? leewayFor(schedule, job.randomSeconds, now) : 0,
        problem: job.problem,
        ...standing(text, schedule, watches, name),
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
  return { form, rows, without };
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
  const { lines, jobs } = readCrontab(wish.text, wish.zone, wish.form === 'auto' ? undefined : wish.form);
  const out = [...lines];
  for (const job of jobs) {
    const address = addresses.get(job.line);
    if (address !== undefined) out[job.line - 1] = wrappedLine(job, address);
  }
  return out.join('\n');
}
