import type { CauseCode, CauseDetail } from './causes';
import type { State } from './state';
import type { Decision, Status, StatusEvent } from './status';

/** A decision in the making: a copy of the status and the events so far. */
export interface Draft {
  status: Status;
  events: StatusEvent[];
}

export function draftOf(status: Status): Draft {
  return { status: { ...status, running: { ...status.running } }, events: [] };
}

export function decisionOf(draft: Draft): Decision {
  return { status: draft.status, events: draft.events };
}

/** Moves to a state as of `at`; a change never reaches back before the present state began. */
export function moveTo(draft: Draft, to: State, at: number): void {
  const { status } = draft;
  if (status.state === to) return;
  const since = Math.max(at, status.since);
  draft.events.push({ type: 'state', from: status.state, since: status.since, to, at: since });
  status.state = to;
  status.since = since;
}

/** Undoes lateness that stayed inside its leeway: the calm before it goes on as if nothing had been. */
export function forgiveLateness(draft: Draft, at: number): void {
  const { status } = draft;
  const { calmSince } = status;
  status.calmSince = null;
  if (calmSince === null) {
    moveTo(draft, 'up', at);
    return;
  }
  draft.events.push({ type: 'state', from: status.state, since: status.since, to: 'up', at: calmSince });
  status.state = 'up';
  status.since = calmSince;
}

/** Opens an outage, or notes a new cause on the open one. */
export function openOutage(
  draft: Draft,
  outage: { began: number; noticed: number; cause: CauseCode; detail: CauseDetail },
): void {
  const { status } = draft;
  if (!status.outage) {
    status.outage = { began: outage.began, noticed: outage.noticed, causes: [outage.cause] };
    draft.events.push({ type: 'outage-began', ...outage });
  } else if (status.outage.causes.at(-1) !== outage.cause) {
    status.outage = { ...status.outage, causes: [...status.outage.causes, outage.cause].slice(-20) };
    draft.events.push({
      type: 'outage-cause',
      at: outage.noticed,
      cause: outage.cause,
      detail: outage.detail,
    });
  }
}

export function closeOutage(draft: Draft, ended: number): void {
  const { status } = draft;
  if (!status.outage) return;
  draft.events.push({ type: 'outage-ended', began: status.outage.began, ended });
  status.outage = null;
}
