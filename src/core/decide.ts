import { takeGap, takeReport, takeTick } from './decide-checkin';
import { takeFinding } from './decide-probe';
import { closeOutage, decisionOf, draftOf, moveTo, settleWithheld, type Draft } from './draft';
import { expectedAfter } from './schedule';
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
      if (rules.type === 'checkin') takeTick(draft, rules, now, now);
      break;
    case 'gap':
      if (rules.type === 'checkin') takeGap(draft, rules, input.from, input.to);
      break;
    case 'pause':
      takePause(draft, now);
      break;
    case 'resume':
      if (draft.status.state === 'paused') startAfresh(draft, rules, now);
      break;
    case 'window':
      if (input.open) openWindow(draft, now);
      else if (draft.status.state === 'maintenance') closeWindow(draft, rules, now);
      break;
  }
  settleWithheld(draft, isSure(rules, input, upstream), now);
  return decisionOf(draft);
}

/** Whether an input shows that a watch is down though what it rests on is back. */
function isSure(rules: Rules, input: Input, upstream: Upstream): boolean {
  if (rules.type === 'checkin') return input.type === 'tick' || input.type === 'report';
  // A look that began before the change may have failed because of what has come back since.
  return (
    input.type === 'finding' && input.finding.verdict === 'failed' && input.finding.at > upstream.changedAt
  );
}

function forgetRuns(draft: Draft): void {
  draft.status.failing = null;
  draft.status.slowRun = null;
}

/** Pausing ends an open outage: from here on nobody looks, so nobody can say that it goes on. */
function takePause(draft: Draft, now: number): void {
  if (draft.status.state === 'paused') return;
  forgetRuns(draft);
  closeOutage(draft, now);
  moveTo(draft, 'paused', now);
}

function startAfresh(draft: Draft, rules: Rules, now: number): void {
  const { status } = draft;
  status.coveredUntil = null;
  status.running = {};
  if (rules.type === 'checkin' && status.due !== null) status.due = expectedAfter(rules.schedule, now);
  moveTo(draft, 'waiting', now);
}

/** A window hides trouble without ending it: an open outage goes on below, uncounted. */
function openWindow(draft: Draft, now: number): void {
  if (draft.status.state === 'paused') return;
  forgetRuns(draft);
  moveTo(draft, 'maintenance', now);
}

function closeWindow(draft: Draft, rules: Rules, now: number): void {
  const { status } = draft;
  if (rules.type === 'checkin' && status.due !== null) status.due = expectedAfter(rules.schedule, now);
  moveTo(draft, status.outage ? 'down' : status.lastFine ? 'up' : 'waiting', now);
}
