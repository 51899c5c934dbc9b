import { bisectRight, group, median } from 'd3-array';
import { formatDuration } from '@/core/time/duration';
import type { ReportKind } from '@/core/lifecycle/status';

/** A report as far as runs go; times are ms since 1970. */
export interface RunReport {
  id: number;
  at: number;
  kind: ReportKind;
  code: number | null;
  run: string | null;
  progress: number | null;
  took: number | null;
  output: string | null;
  address: string;
  agent: string | null;
}

/** One run of a job, put together from what it reported. */
export interface Run {
  /** The id of its last report. */
  id: number;
  /** The id of its first report. */
  firstId: number;
  name: string | null;
  /** The due time it answers, where one is near. */
  due: number | null;
  begun: number | null;
  ended: number | null;
  ms: number | null;
  result: 'done' | 'failed' | 'running' | 'never done';
  code: number | null;
  progress: number | null;
  output: string | null;
  notes: number;
  address: string;
  agent: string | null;
  /** Another run had begun and not ended when this one began. */
  doubled: boolean;
}

function begunBy(report: RunReport, open: number): Run {
  return {
    id: report.id,
    firstId: report.id,
    name: report.run,
    due: null,
    begun: report.at,
    ended: null,
    ms: null,
    result: 'running',
    code: null,
    progress: null,
    output: report.output,
    notes: 0,
    address: report.address,
    agent: report.agent,
    doubled: open > 0,
  };
}

/**
 * The runs of a job, the newest first, from its reports in the order in which they arrived. A done without a begun is a
 * run of unknown length; a begun that comes again under the same name leaves the earlier one never done.
 */
export function runsOf(reports: readonly RunReport[]): Run[] {
  const runs: Run[] = [];
  const open = new Map<string, Run>();
  for (const report of reports) {
    const name = report.run ?? '';
    const running = open.get(name);
    if (report.kind === 'begun') {
      if (running) running.result = 'never done';
      open.delete(name);
      const run = begunBy(report, open.size + (running ? 1 : 0));
      open.set(name, run);
      runs.push(run);
    } else if (report.kind === 'note') {
      const told = running ?? [...open.values()].at(-1);
      if (!told) continue;
      told.notes += 1;
      told.progress = report.progress ?? told.progress;
      told.output = [told.output, report.output].filter(Boolean).join('\n') || null;
    } else {
      const run = running ?? { ...begunBy(report, 0), begun: null };
      if (!running) runs.push(run);
      open.delete(name);
      const failed = report.kind === 'failed' || (report.code !== null && report.code !== 0);
      run.id = report.id;
      run.ended = report.at;
      run.ms = run.begun === null ? report.took : report.at - run.begun;
      run.result = failed ? 'failed' : 'done';
      run.code = report.code;
      run.output = [run.output, report.output].filter(Boolean).join('\n') || null;
      run.address = report.address;
      run.agent = report.agent;
    }
  }
  return runs.reverse();
}

/**
 * The due time that is answered at a moment, of the last one up to it and the next one after it: the last one, unless the
 * next is just ahead and nearer. What runs each minute is a second late more often than a minute early.
 */
export function dueAnswered(
  at: number,
  last: number | null,
  next: number | null,
  earlyMs: number,
): number | null {
  if (next === null || next - at > earlyMs) return last;
  return last !== null && at - last <= next - at ? last : next;
}

/** Gives each run the due time it answers. */
export function withDues(runs: readonly Run[], dues: readonly number[], earlyMs: number): Run[] {
  return runs.map((run) => {
    const at = run.begun ?? run.ended!;
    const later = bisectRight(dues, at);
    return { ...run, due: dueAnswered(at, dues[later - 1] ?? null, dues[later] ?? null, earlyMs) };
  });
}

/** One due time and what came of it, for the strip of due times against arrivals. */
export interface Arrival {
  due: number;
  /** How much later the first run that answers it came, in ms; negative when it came early. Null when none came. */
  lateMs: number | null;
  /** How many runs answered it. */
  runs: number;
  failed: boolean;
}

/** What came of each due time, the oldest first. */
export function arrivalsOf(runs: readonly Run[], dues: readonly number[]): Arrival[] {
  const answers = group(runs, (run) => run.due);
  return dues.map((due) => {
    const own = answers.get(due) ?? [];
    const times = own.map((run) => run.begun ?? run.ended!);
    return {
      due,
      lateMs: times.length === 0 ? null : Math.min(...times) - due,
      runs: own.length,
      failed: own.some((run) => run.result === 'failed'),
    };
  });
}

/** A limit worked out from how a job behaved so far. */
export interface Suggestion {
  /** Seconds. */
  value: number;
  /** How it was worked out, in words. */
  how: string;
  /** How often it would have raised an alarm in the history it was worked out from. */
  alarms: number;
}

/** Below this much history nothing is suggested. */
const LEAST_RUNS = 8;
const STEPS = [5, 10, 15, 20, 30, 45, 60, 90, 120, 180, 240, 360, 480, 720, 1440].map(
  (minutes) => minutes * 60,
);

/** Rounded up to a length people would say, but no longer than `most` where that can be kept. */
function roundUp(seconds: number, most: number): number {
  const round = STEPS.find((step) => step >= seconds) ?? Math.ceil(seconds / 86_400) * 86_400;
  return round <= most ? round : Math.ceil(seconds);
}

function suggest(
  values: readonly number[],
  what: string,
  factor: number,
  most = Infinity,
): Suggestion | null {
  if (values.length < LEAST_RUNS) return null;
  const sorted = [...values].sort((a, b) => a - b);
  const p99 = sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * 0.99))]!;
  const value = roundUp(Math.max(60, (p99 * factor) / 1000), most);
  return {
    value,
    how: `99 of 100 ${what} took at most ${formatDuration(p99)}; ${factor} times that, rounded up.`,
    alarms: values.filter((ms) => ms > value * 1000).length,
  };
}

/** A leeway from how long after its due time a job was heard of when all went well. */
export function suggestLeeway(runs: readonly Run[]): Suggestion | null {
  const answered = group(
    runs.filter((run) => run.result === 'done' && run.due !== null),
    (run) => run.due!,
  );
  const dues = [...answered.keys()].sort((a, b) => a - b);
  const apart = median(dues.slice(1).map((due, i) => due - dues[i]!)) ?? Infinity;
  // Only the first answer to a due time was late or not; one that took half the way to the next was a missed run.
  const late = dues
    .map((due) => Math.max(0, Math.min(...answered.get(due)!.map((run) => run.ended!)) - due))
    .filter((ms) => ms < apart / 2);
  return suggest(late, 'check-ins came after their due time and', 1.5, apart / 1000);
}

/** A longest run from how long runs took. */
export function suggestLongestRun(runs: readonly Run[]): Suggestion | null {
  const lengths = runs.filter((run) => run.result === 'done' && run.ms !== null).map((run) => run.ms!);
  return suggest(lengths, 'runs', 3);
}

/** When the first report of a run came. */
export function heardFirst(run: Run): number {
  return run.begun ?? run.ended ?? 0;
}

/** What runs may be narrowed to. */
export const RUN_FILTERS = ['failed', 'never-done', 'doubled'] as const;
export type RunFilter = (typeof RUN_FILTERS)[number];

export function passesFilter(run: Run, only: RunFilter | undefined): boolean {
  switch (only) {
    case 'failed':
      return run.result === 'failed';
    case 'never-done':
      return run.result === 'never done';
    case 'doubled':
      return run.doubled;
    default:
      return true;
  }
}
