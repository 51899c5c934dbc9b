import { takeGap, takeReport, takeTick } from './decide-checkin';
import { settleGap, takeFinding, takeSilence } from './decide-probe';
import { closeOutage, decisionOf, draftOf, moveTo, settleWithheld, type Draft } from './draft';
import { isOurOwnFault } from '@/core/causes/causes';
import { expectedAfter } from '@/core/schedule/schedule';
import { NO_UPSTREAM, type Decision, type Input, type Rules, type Status, type Upstream } from './status';

/**
 * The life cycle of a watch: (settings, previous status, finding or tick, now) to (new status, events).
 * Pure: it reads no clock and no database, so replaying a history in pieces gives what replaying it whole
 * gives. All times are milliseconds since 1970. An input that does not fit the kind of watch changes nothing.
 */
export function decide(
  rules: Rules,
  previous: Status,
  input: Input,
  now: number,
  upstream: Upstream = NO_UPSTREAM,
): Decision {
  const draft = draftOf(previous, upstream);
  switch (input.type) {
    case 'finding':
      if (rules.type === 'probe') takeFinding(draft, rules, input.finding, now);
      break;
    case 'report':
      if (rules.type === 'checkin') takeReport(draft, rules, input.report, now);
      break;
    case 'tick':
      if (rules.type === 'checkin') takeTick(draft, rules, input.at ?? now, now);
      else takeSilence(draft, rules, now);
      break;
    case 'gap':
      if (rules.type === 'checkin') takeGap(draft, rules, input.from, input.to);
      break;
    case 'clock':
      takeClock(draft, rules, now);
      break;
    case 'pause':
      takePause(draft, rules, now);
      break;
    case 'resume':
      if (draft.status.state === 'paused') startAfresh(draft, rules, now);
      break;
    case 'window':
      if (input.open) openWindow(draft, rules, now);
      else if (draft.status.state === 'maintenance') closeWindow(draft, rules, now);
      break;
  }
  settleWithheld(draft, isSure(draft, rules, input), now);
  return decisionOf(draft);
}

/** Whether an input shows that a watch is down though what it rests on is back. */
function isSure({ status, upstream }: Draft, rules: Rules, input: Input): boolean {
  // In maintenance nothing is announced.
  if (status.state === 'maintenance') return false;
  if (rules.type === 'checkin') return input.type === 'tick' || input.type === 'report';
  // A look that began before the change may have failed because of what has come back since.
  return (
    input.type === 'finding' &&
    input.finding.verdict === 'failed' &&
    !isOurOwnFault(input.finding.cause) &&
    input.finding.at > upstream.changedAt
  );
}

function forgetRuns(draft: Draft): void {
  draft.status.failing = null;
  draft.status.slowRun = null;
}

/** Pausing ends an open outage: from here on nobody looks, so nobody can say that it goes on. */
function takePause(draft: Draft, rules: Rules, now: number): void {
  if (draft.status.state === 'paused') return;
  if (rules.type === 'probe') settleGap(draft, rules, now);
  forgetRuns(draft);
  closeOutage(draft, now);
  moveTo(draft, 'paused', now);
}

/**
 * The clock was set, perhaps back. Whatever lies ahead of it was noted by a clock that was wrong: nothing is waited for
 * until that time comes again.
 */
function takeClock(draft: Draft, rules: Rules, now: number): void {
  const { status } = draft;
  const atMost = (at: number | null) => (at === null ? null : Math.min(at, now));
  status.coveredUntil = atMost(status.coveredUntil);
  status.lastAt = atMost(status.lastAt);
  status.doneAt = atMost(status.doneAt ?? null);
  if (status.blindSince) status.blindSince = atMost(status.blindSince);
  status.running = Object.fromEntries(
    Object.entries(status.running).map(([run, begun]) => [run, Math.min(begun, now)]),
  );
  // Looks before and after are no longer in a row.
  forgetRuns(draft);
  if (rules.type === 'checkin' && status.due !== null) {
    const next = expectedAfter(rules.schedule, now);
    if (next !== null) status.due = Math.min(status.due, next);
  }
}

function startAfresh(draft: Draft, rules: Rules, now: number): void {
  const { status } = draft;
  status.coveredUntil = null;
  // What was known before the pause is known no more.
  status.lastFine = null;
  status.running = {};
  if (rules.type === 'checkin' && status.due !== null) status.due = expectedAfter(rules.schedule, now);
  moveTo(draft, 'waiting', now);
}

/** A window hides trouble without ending it: an open outage goes on below, uncounted. */
function openWindow(draft: Draft, rules: Rules, now: number): void {
  if (draft.status.state === 'paused') return;
  if (rules.type === 'probe') settleGap(draft, rules, now);
  forgetRuns(draft);
  moveTo(draft, 'maintenance', now);
}

function closeWindow(draft: Draft, rules: Rules, now: number): void {
  const { status } = draft;
  if (rules.type === 'checkin' && status.due !== null) status.due = expectedAfter(rules.schedule, now);
  moveTo(draft, status.outage ? 'down' : status.lastFine ? 'up' : 'waiting', now);
}
