import type { CauseCode, CauseDetail } from '@/core/causes/causes';
import type { Finding } from '@/core/causes/finding';
import type { Schedule, TimesSchedule } from '@/core/schedule/schedule';
import type { State } from './state';

export interface ProbeRules {
  type: 'probe';
  everyMs: number;
  /** Looks at these times in place of every `everyMs`. */
  cron?: TimesSchedule;
  timeoutMs: number;
  /** How many more failed looks before the watch counts as down. */
  secondLooks: number;
  secondLookGapMs: number;
  /** Fine looks that take longer are slow; null for no limit. */
  slowAfterMs: number | null;
  /** How many such looks in a row make the watch slow. */
  slowLooks: number;
}

export interface CheckinRules {
  type: 'checkin';
  schedule: Schedule;
  leewayMs: number;
  /** Longest allowed run; null for no limit. */
  longestRunMs: number | null;
  /** No less than this should pass between two runs; null for no limit. */
  shortestGapMs?: number | null;
  /** The zone in which times are said in causes. */
  zone: string;
}

export type Rules = ProbeRules | CheckinRules;

export const REPORT_KINDS = ['begun', 'done', 'failed', 'note'] as const;
export type ReportKind = (typeof REPORT_KINDS)[number];

/** What a job said. */
export interface Report {
  at: number;
  is: ReportKind;
  code: number | null;
  run: string | null;
  /** How long it says it took, in ms; counts where its begun was not heard. */
  took?: number | null;
}

export interface OpenOutage {
  began: number;
  noticed: number;
  causes: CauseCode[];
  /** Of the newest cause. */
  detail?: CauseDetail;
  /** Nobody was told of it, because something it rests on is in trouble; `follows` is that watch, once it is sure. */
  withheld?: { follows: number | null };
}

/** How the watches stand that a watch rests on. */
export interface Upstream {
  /** One of them that is down. */
  down: number | null;
  /** One of them has failed and is not confirmed yet. */
  doubtful: boolean;
  /** When they last changed, ms since 1970. */
  changedAt: number;
}

/** Rests on nothing. */
export const NO_UPSTREAM: Upstream = { down: null, doubtful: false, changedAt: 0 };

/** Everything `decide` has to remember about one watch; plain data, kept as JSON. */
export interface Status {
  state: State;
  /** When this state began (happened, not noticed). */
  since: number;
  /** The last finding or report. */
  lastAt: number | null;
  lastFine: boolean | null;
  /** A probe's last look stands for the time up to here. */
  coveredUntil: number | null;
  failing: { began: number; count: number } | null;
  slowRun: { began: number; count: number } | null;
  /** When the calm began that lateness has interrupted; a check-in inside the leeway takes it up again. */
  calmSince: number | null;
  outage: OpenOutage | null;
  /** Since when looks fail because this machine cannot reach out. */
  blindSince?: number | null;
  /** The cause of the last warning that still holds. */
  warned?: CauseCode | null;
  /** What that warning names; a check-in has no finding that would. */
  warnedDetail?: CauseDetail;
  /** When a check-in last said it was done, well or not. */
  doneAt?: number | null;
  /** When a check-in is expected; null until it was first heard of. */
  due: number | null;
  /** Runs that said begun and have not said done, by run id ("" without one). */
  running: Record<string, number>;
}

export type Input =
  | { type: 'finding'; finding: Finding }
  | { type: 'report'; report: Report }
  /** `at` is up to when anything would have been heard; now, where it is left out. */
  | { type: 'tick'; at?: number }
  | { type: 'pause' }
  | { type: 'resume' }
  | { type: 'window'; open: boolean }
  /** Nobody could be heard between the two times. */
  | { type: 'gap'; from: number; to: number }
  /** The clock was set: what was noted for times that have not come yet holds no longer. */
  | { type: 'clock' };

export type StatusEvent =
  /**
   * `since` is when the state that is left began. Where `at` lies before it, that state is forgiven: it is as if
   * the one before had gone on.
   */
  | { type: 'state'; from: State; since: number; to: State; at: number }
  | { type: 'unobserved'; from: number; to: number }
  | {
      type: 'outage-began';
      began: number;
      noticed: number;
      cause: CauseCode;
      detail: CauseDetail;
      withheld?: { follows: number | null };
    }
  /** It turned out to follow from another watch's outage. */
  | { type: 'outage-follows'; of: number }
  /** It was withheld, and is not any more: it stands by itself. */
  | { type: 'outage-announced'; began: number; noticed: number; cause: CauseCode; detail: CauseDetail }
  | { type: 'outage-cause'; at: number; cause: CauseCode; detail: CauseDetail }
  | { type: 'outage-ended'; began: number; ended: number; withheld?: true }
  /** Still up, but over a limit that wants a hand. */
  | { type: 'warned'; at: number; cause: CauseCode; detail: CauseDetail }
  /** A run came to its end; `ms` is how long it took. */
  | { type: 'run-ended'; at: number; ms: number };

export interface Decision {
  status: Status;
  events: StatusEvent[];
}

/** A watch nothing is known of yet. */
export function newStatus(at: number): Status {
  return {
    state: 'waiting',
    since: at,
    lastAt: null,
    lastFine: null,
    coveredUntil: null,
    failing: null,
    slowRun: null,
    calmSince: null,
    outage: null,
    due: null,
    running: {},
  };
}
