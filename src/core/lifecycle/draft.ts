import type { CauseCode, CauseDetail } from '@/core/causes/causes';
import type { State } from './state';
import { NO_UPSTREAM, type Decision, type Status, type StatusEvent, type Upstream } from './status';

/** A decision in the making: a copy of the status and the events so far. */
export interface Draft {
  status: Status;
  events: StatusEvent[];
  upstream: Upstream;
}

export function draftOf(status: Status, upstream: Upstream = NO_UPSTREAM): Draft {
  return { status: { ...status, running: { ...status.running } }, events: [], upstream };
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
  const { status, upstream } = draft;
  const { began, noticed, cause, detail } = outage;
  if (!status.outage) {
    const held = upstream.down !== null || upstream.doubtful;
    const withheld = held ? { withheld: { follows: upstream.down } } : {};
    status.outage = { began, noticed, causes: [cause], detail, ...withheld };
    draft.events.push({ type: 'outage-began', ...outage, ...withheld });
  } else if (status.outage.causes.at(-1) !== cause) {
    status.outage = { ...status.outage, causes: [...status.outage.causes, cause].slice(-20), detail };
    draft.events.push({
      type: 'outage-cause',
      at: noticed,
      cause,
      detail,
    });
  }
}

/** Ends the open outage; a clock that was set back in between does not end it before it began. */
export function closeOutage(draft: Draft, at: number): void {
  const { status } = draft;
  if (!status.outage) return;
  const { began, withheld } = status.outage;
  const ended = Math.max(at, began);
  draft.events.push({ type: 'outage-ended', began, ended, ...(withheld && { withheld: true }) });
  status.outage = null;
}

/**
 * What becomes of an outage nobody was told of. While something below it is down it follows from that; once all
 * it rests on has come back, the next sure sign that it is still down is told.
 */
export function settleWithheld(draft: Draft, sure: boolean, now: number): void {
  const { outage } = draft.status;
  if (!outage?.withheld || draft.events.some((event) => event.type === 'outage-began')) return;
  const { down, doubtful } = draft.upstream;
  if (down !== null) {
    if (down === outage.withheld.follows) return;
    draft.status.outage = { ...outage, withheld: { follows: down } };
    draft.events.push({ type: 'outage-follows', of: down });
  } else if (!doubtful && sure) {
    const { withheld: _, ...told } = outage;
    draft.status.outage = told;
    const { began, causes, detail = {} } = outage;
    draft.events.push({ type: 'outage-announced', began, noticed: now, cause: causes.at(-1)!, detail });
  }
}
