import { closeOutage, moveTo, openOutage, type Draft } from './draft';
import type { Finding } from './finding';
import type { ProbeRules } from './status';

/** How much later than due a look may begin before the time between counts as unobserved. */
export function graceOf(rules: ProbeRules): number {
  return rules.timeoutMs + Math.max(30_000, rules.everyMs / 2);
}

/** Takes one finding of a probe into the draft. */
export function takeFinding(draft: Draft, rules: ProbeRules, finding: Finding, now: number): void {
  // This machine could not look: nothing was learnt, and the time becomes unobserved by itself.
  if (finding.cause === 'look.broken') return;
  const { status } = draft;
  const { at } = finding;
  if (status.coveredUntil !== null && at > status.coveredUntil + graceOf(rules)) {
    draft.events.push({ type: 'unobserved', from: status.coveredUntil, to: at });
    // Failed looks on the far side of the gap are no longer in a row with this one.
    status.failing = null;
    status.slowRun = null;
  }
  status.lastAt = at;
  status.lastFine = finding.verdict === 'fine';
  status.coveredUntil = Math.max(status.coveredUntil ?? 0, at + rules.everyMs);
  if (status.state === 'paused') return;
  if (finding.verdict === 'fine') takeFine(draft, rules, finding);
  else takeFailed(draft, rules, finding, now);
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
  const slow = status.slowRun !== null && status.slowRun.count >= rules.slowLooks;
  // A return to health is dated at this look; slowness reaches back to the first slow look of its run.
  moveTo(draft, slow ? 'slow' : 'up', slow && status.state === 'up' ? status.slowRun!.began : finding.at);
}

function takeFailed(
  draft: Draft,
  rules: ProbeRules,
  finding: Extract<Finding, { verdict: 'failed' }>,
  now: number,
): void {
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
