import { standsForMs } from '@/core/schedule/schedule';
import { closeOutage, moveTo, openOutage, type Draft } from './draft';
import { isOurOwnFault } from '@/core/causes/causes';
import type { FailedFinding, Finding } from '@/core/causes/finding';
import type { ProbeRules, Status } from './status';

/** How much later than due a look may begin before the time between counts as unobserved. */
export function graceOf(rules: ProbeRules): number {
  return rules.timeoutMs + Math.max(30_000, rules.cron ? 0 : rules.everyMs / 2);
}

/** Looks that began in time may end this much later than they were due, and still are on their way. */
const ON_ITS_WAY_MS = 10_000;

/** Until when the last finding is worth something; null where there is none. */
function knownUntil({ coveredUntil }: Pick<Status, 'coveredUntil'>, rules: ProbeRules): number | null {
  return coveredUntil === null ? null : coveredUntil + graceOf(rules) + rules.timeoutMs + ON_ITS_WAY_MS;
}

/** Whether a state says how the target is on the word of a finding that is too old: nobody knows any more. */
export function isOutOfDate(
  status: Pick<Status, 'coveredUntil' | 'state'>,
  rules: ProbeRules,
  now: number,
): boolean {
  return ['up', 'slow', 'doubtful'].includes(status.state) && now > (knownUntil(status, rules) ?? Infinity);
}

/** No finding came for longer than it should take: nobody knows any more that the watch is up. */
export function takeSilence(draft: Draft, rules: ProbeRules, now: number): void {
  const { status } = draft;
  if (!isOutOfDate(status, rules, now)) return;
  forgetRow(draft);
  moveTo(draft, 'waiting', status.coveredUntil!);
}

function forgetRow({ status }: Draft): void {
  status.failing = null;
  status.slowRun = null;
}

/** This machine cannot reach out: from here on nothing is known, and what was in doubt is looked at afresh. */
function becomeBlind(draft: Draft, at: number): void {
  draft.status.blindSince ??= at;
  forgetRow(draft);
}

/**
 * Time up to `at` that nothing is known of becomes unobserved: from where the last look stopped standing for it, or
 * from when this machine could not reach out, whatever comes first.
 */
export function settleGap(draft: Draft, rules: ProbeRules, at: number): void {
  const { status } = draft;
  const { coveredUntil, blindSince = null } = status;
  const missed = coveredUntil !== null && at > coveredUntil + graceOf(rules);
  const from =
    blindSince !== null ? Math.min(blindSince, coveredUntil ?? blindSince) : missed ? coveredUntil : null;
  status.blindSince = null;
  if (from === null || from >= at) return;
  draft.events.push({ type: 'unobserved', from, to: at });
  // Failed looks on the far side of the gap are no longer in a row with what follows.
  forgetRow(draft);
}

/** Takes one finding of a probe into the draft. */
export function takeFinding(draft: Draft, rules: ProbeRules, finding: Finding, now: number): void {
  // This machine could not look: nothing was learnt, and the time becomes unobserved by itself.
  if (isOurOwnFault(finding.cause)) {
    if (finding.cause === 'look.no-line') becomeBlind(draft, finding.at);
    return;
  }
  const { status } = draft;
  const { at } = finding;
  settleGap(draft, rules, at);
  status.lastAt = at;
  status.lastFine = finding.verdict !== 'failed';
  status.coveredUntil = Math.max(status.coveredUntil ?? 0, at + standsForMs(rules, at));
  if (status.state === 'paused') return;
  if (finding.verdict === 'failed') takeFailed(draft, rules, finding as FailedFinding, now);
  else takeFine(draft, rules, finding);
}

function takeFine(draft: Draft, rules: ProbeRules, finding: Finding): void {
  const { status } = draft;
  status.failing = null;
  closeOutage(draft, finding.at);
  const overLimit = rules.slowAfterMs !== null && finding.ms > rules.slowAfterMs;
  status.slowRun = overLimit
    ? { began: status.slowRun?.began ?? finding.at, count: (status.slowRun?.count ?? 0) + 1 }
    : null;
  if (status.state === 'maintenance') return;
  if (finding.verdict === 'slow') {
    // A limit of the probe's own: known for sure at the first look.
    warn(draft, finding);
    moveTo(draft, 'slow', finding.at);
    return;
  }
  status.warned = null;
  const slow = status.slowRun !== null && status.slowRun.count >= rules.slowLooks;
  // A return to health is dated at this look; slowness reaches back to the first slow look of its run.
  moveTo(draft, slow ? 'slow' : 'up', slow && status.state === 'up' ? status.slowRun!.began : finding.at);
}

/** Says once for each cause that something is about to go wrong. */
function warn(draft: Draft, finding: Finding & { verdict: 'slow' }): void {
  const { at, cause, detail } = finding;
  if (draft.status.warned === cause) return;
  draft.status.warned = cause;
  draft.events.push({ type: 'warned', at, cause, detail });
}

function takeFailed(draft: Draft, rules: ProbeRules, finding: FailedFinding, now: number): void {
  const { status } = draft;
  status.slowRun = null;
  const { cause, detail } = finding;
  if (status.state === 'maintenance') {
    status.failing = null;
    return;
  }
  status.failing = {
    began: status.failing?.began ?? finding.at,
    count: (status.failing?.count ?? 0) + 1,
  };
  const { began, count } = status.failing;
  if (status.outage) {
    openOutage(draft, { began: status.outage.began, noticed: now, cause, detail });
    moveTo(draft, 'down', finding.at);
  } else if (count > rules.secondLooks) {
    openOutage(draft, { began, noticed: now, cause, detail });
    moveTo(draft, 'down', finding.at);
  } else {
    moveTo(draft, 'doubtful', finding.at);
  }
}
