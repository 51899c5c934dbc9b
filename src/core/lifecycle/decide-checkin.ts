import type { CauseCode, CauseDetail } from '@/core/causes/causes';
import { closeOutage, forgiveLateness, moveTo, openOutage, type Draft } from './draft';
import { formatDuration } from '@/core/time/duration';
import { expectedAfter, nextDue } from '@/core/schedule/schedule';
import type { CheckinRules, Report, Status } from './status';
import { formatClock } from '@/core/time/clock-text';
import { ownEntry } from '@/core/text/own-entry';

/** Runs remembered at once for one watch; the oldest are forgotten first. */
const MOST_RUNNING = 50;

/** Brings a check-in watch up to `at`: is it overdue, missed or running too long by then? */
export function takeTick(draft: Draft, rules: CheckinRules, at: number, now: number): void {
  const { status } = draft;
  if (status.state === 'paused' || status.state === 'maintenance') return;
  const missedAt = status.due === null ? Infinity : status.due + rules.leewayMs;
  const overlong = firstOverlong(draft, rules);
  // Where both are found out at once, the outage began with whatever came first.
  if (overlong && at > overlong.deadline && overlong.deadline < missedAt && !status.outage) {
    if (status.due !== null && status.due < overlong.deadline) becomeLate(draft, status.due);
    // What ran out inside a maintenance window counts from its end.
    const began = Math.max(overlong.deadline, status.since);
    openOutage(draft, {
      began,
      noticed: now,
      cause: 'checkin.overlong',
      detail: {
        begun: formatClock(overlong.begun, rules.zone),
        limit: formatDuration(rules.longestRunMs!),
      },
    });
    moveTo(draft, 'down', began);
  }
  if (status.due === null) {
    takeNever(draft, rules, at);
    return;
  }
  const deadline = status.due + rules.leewayMs;
  if (at > deadline) {
    const { cause, detail } = missedCause(draft, rules, deadline);
    if (!status.outage) openOutage(draft, { began: deadline, noticed: now, cause, detail });
    if (rules.leewayMs > 0 && status.state !== 'down') becomeOverdue(draft, status.due);
    moveTo(draft, 'down', deadline);
  } else if (at > status.due) becomeLate(draft, status.due);
}

const firstDeadlines = new WeakMap<Status, { rules: CheckinRules; deadline: number | null }>();

/** By when a job that was never heard of should have reported first; asked every second, so it is worked out once. */
function firstDeadlineOf(status: Status, rules: CheckinRules): number | null {
  const known = firstDeadlines.get(status);
  if (known?.rules === rules) return known.deadline;
  const due = nextDue(rules.schedule, status.since);
  const deadline = due === null ? null : due + rules.leewayMs;
  firstDeadlines.set(status, { rules, deadline });
  return deadline;
}

/** Nothing was ever heard of it: its first due time passes, and that is said once. It stays waiting. */
function takeNever(draft: Draft, rules: CheckinRules, at: number): void {
  const { status } = draft;
  if (status.state !== 'waiting' || status.lastAt !== null) return;
  const firstDeadline = firstDeadlineOf(status, rules);
  if (firstDeadline === null || at <= firstDeadline || status.warned === 'checkin.never') return;
  const detail = { deadline: formatClock(firstDeadline, rules.zone) };
  status.warned = 'checkin.never';
  status.warnedDetail = detail;
  draft.events.push({ type: 'warned', at: firstDeadline, cause: 'checkin.never', detail });
}

function becomeLate(draft: Draft, due: number): void {
  if (['up', 'waiting'].includes(draft.status.state)) becomeOverdue(draft, due);
}

function becomeOverdue(draft: Draft, due: number): void {
  const { status } = draft;
  if (status.state === 'overdue') return;
  status.calmSince = status.state === 'up' ? status.since : null;
  moveTo(draft, 'overdue', due);
}

function missedCause(
  draft: Draft,
  rules: CheckinRules,
  deadline: number,
): { cause: CauseCode; detail: CauseDetail } {
  const begun = Math.max(-Infinity, ...Object.values(draft.status.running));
  return Number.isFinite(begun)
    ? { cause: 'checkin.unfinished', detail: { begun: formatClock(begun, rules.zone) } }
    : { cause: 'checkin.missed', detail: { deadline: formatClock(deadline, rules.zone) } };
}

function firstOverlong(
  draft: Pick<Draft, 'status'>,
  rules: CheckinRules,
): { begun: number; deadline: number } | null {
  if (rules.longestRunMs === null) return null;
  const begun = Math.min(...Object.values(draft.status.running));
  return Number.isFinite(begun) ? { begun, deadline: begun + rules.longestRunMs } : null;
}

/** Takes one report of a job into the draft. Reports come in the order in which they arrived. */
export function takeReport(draft: Draft, rules: CheckinRules, report: Report, now: number): void {
  const { status } = draft;
  takeTick(draft, rules, report.at, now);
  if (report.is === 'note') return;
  status.lastAt = report.at;
  const run = report.run ?? '';
  if (status.warned === 'checkin.never') status.warned = null;
  if (report.is === 'begun') {
    const others = Object.entries(status.running);
    if (others.length > 0) {
      const begun = formatClock(Math.max(...others.map(([, at]) => at)), rules.zone);
      warn(draft, report.at, 'checkin.doubled', { begun });
    }
    const latest = [...others.filter(([one]) => one !== run), [run, report.at] as const].sort(
      (a, b) => b[1] - a[1],
    );
    status.running = Object.fromEntries(latest.slice(0, MOST_RUNNING));
    // Begun and never done counts from the first report on.
    status.due ??= expectedAfter(rules.schedule, report.at);
    return;
  }
  const begun = ownEntry(status.running, run);
  if (begun !== undefined) {
    delete status.running[run];
    draft.events.push({ type: 'run-ended', at: report.at, ms: report.at - begun });
  } else if (report.took) draft.events.push({ type: 'run-ended', at: report.at, ms: report.took });
  status.due = expectedAfter(rules.schedule, report.at);
  const failed = report.is === 'failed' || (report.code !== null && report.code !== 0);
  status.lastFine = !failed;
  const sinceDone = status.doneAt === undefined || status.doneAt === null ? null : report.at - status.doneAt;
  status.doneAt = report.at;
  if (status.state === 'paused') return;
  if (failed) {
    if (status.state === 'maintenance') return;
    const exit = report.code !== null && report.code !== 0;
    openOutage(draft, {
      began: report.at,
      noticed: now,
      cause: exit ? 'checkin.exit-status' : 'checkin.failed',
      detail: exit ? { code: report.code! } : {},
    });
    moveTo(draft, 'down', report.at);
    return;
  }
  closeOutage(draft, report.at);
  forgetOverlong(draft, rules, report.at);
  if (status.state === 'overdue') forgiveLateness(draft, report.at);
  if (status.state !== 'maintenance') {
    // Of two runs at once, the first to end does not undo that they ran together.
    const still = status.warned === 'checkin.doubled' && Object.keys(status.running).length > 0;
    if (!still) status.warned = null;
    moveTo(draft, still ? 'slow' : 'up', report.at);
  }
  const { shortestGapMs } = rules;
  if (shortestGapMs && sinceDone !== null && sinceDone < shortestGapMs) {
    const detail = { gap: formatDuration(sinceDone), limit: formatDuration(shortestGapMs) };
    warn(draft, report.at, 'checkin.too-soon', detail);
  }
}

/** A run that took too long was told of; once a later one ends well, it is not told of again. */
function forgetOverlong({ status }: Draft, { longestRunMs }: CheckinRules, at: number): void {
  if (longestRunMs === null) return;
  const still = Object.entries(status.running).filter(([, begun]) => at <= begun + longestRunMs);
  status.running = Object.fromEntries(still);
}

/** Something is not as it should be, though the job runs: it wants a hand, and is said once. */
function warn(draft: Draft, at: number, cause: CauseCode, detail: CauseDetail): void {
  const { status } = draft;
  if (status.outage || !['up', 'waiting', 'slow', 'overdue'].includes(status.state)) return;
  if (status.warned !== cause) draft.events.push({ type: 'warned', at, cause, detail });
  status.warned = cause;
  status.warnedDetail = detail;
  // What is overdue stays so until the job is done.
  if (status.state !== 'overdue') moveTo(draft, 'slow', at);
}

/**
 * Time in which no check-in could be heard. A due time whose window touches it cannot be judged: it is left
 * out, and the next one is awaited. Nor can a run that was under way: its end may have been said into the void. Nobody is alarmed for this machine's own absence.
 */
export function takeGap(draft: Draft, rules: CheckinRules, from: number, to: number): void {
  const { status } = draft;
  if (status.due === null) return;
  // Whatever was missed before the gap began was missed for certain.
  takeTick(draft, rules, from, to);
  // What was under way may have ended meanwhile: nobody could hear it say so.
  status.running = {};
  if (status.outage || status.due > to || status.due + rules.leewayMs < from) return;
  draft.events.push({ type: 'unobserved', from: Math.max(from, status.since), to });
  status.due = expectedAfter(rules.schedule, to);
  if (status.state !== 'overdue') return;
  if (status.calmSince === null) moveTo(draft, 'waiting', status.since);
  else forgiveLateness(draft, to);
}

/** When `takeTick` may next change something; null while nothing is awaited. */
export function nextTickOf(draft: { readonly status: Status }, rules: CheckinRules): number | null {
  const { status } = draft;
  if (status.state === 'paused' || status.state === 'maintenance' || status.outage) return null;
  const times: number[] = [];
  if (status.due !== null) {
    times.push((status.state === 'overdue' ? status.due + rules.leewayMs : status.due) + 1);
  }
  const overlong = firstOverlong({ status }, rules);
  if (overlong) times.push(overlong.deadline + 1);
  const unheard = status.due === null && status.state === 'waiting' && status.lastAt === null;
  if (unheard && status.warned !== 'checkin.never') {
    const deadline = firstDeadlineOf(status, rules);
    if (deadline !== null) times.push(deadline + 1);
  }
  return times.length > 0 ? Math.min(...times) : null;
}
