import type { Finding } from '@/core/causes/finding';
import { decide } from './decide';
import { nextTickOf } from './decide-checkin';
import { newStatus, type Input, type ProbeRules, type Report, type Rules, type Status } from './status';

/** A stretch in which a watch rested, was in maintenance, or could not be observed; ms since 1970. */
export interface AsideSpan {
  from: number;
  to: number;
  kind: 'paused' | 'maintenance' | 'unobserved';
}

/** What was seen or heard of a watch, oldest first: looks of a probe, reports of a job. */
export interface WatchPast {
  looks: readonly Finding[];
  reports: readonly Report[];
  aside: readonly AsideSpan[];
  from: number;
  until: number;
}

export interface LivedOutage {
  began: number;
  noticed: number;
  /** Null while it lasts. */
  ended: number | null;
}

/** What a watch would have gone through under some rules. */
export interface Lived {
  outages: LivedOutage[];
  /** How often it would have counted as slow. */
  slow: number;
}

/** So many looks are put in between two that were made, at most: no row of second looks is longer. */
const MOST_BETWEEN = 100;

/** A look as it would have ended under another limit of time; one that took longer than was waited is failed anyway. */
function underLimit(look: Finding, { timeoutMs }: ProbeRules): Finding {
  if (look.verdict === 'failed' || look.ms <= timeoutMs) return look;
  return { at: look.at, ms: timeoutMs, verdict: 'failed', cause: 'reply.timeout', detail: {} };
}

class Life {
  status: Status;
  readonly outages: LivedOutage[] = [];
  slow = 0;

  constructor(
    private readonly rules: Rules,
    from: number,
  ) {
    this.status = newStatus(from);
  }

  take(input: Input, now: number): void {
    const { status, events } = decide(this.rules, this.status, input, now);
    this.status = status;
    for (const event of events) {
      if (event.type === 'outage-began')
        this.outages.push({ began: event.began, noticed: event.noticed, ended: null });
      else if (event.type === 'outage-ended') this.outages.at(-1)!.ended = event.ended;
      else if (event.type === 'state' && event.to === 'slow' && !status.warned) this.slow += 1;
    }
  }

  /** What falls due by itself before `to` does so. */
  pass(to: number): void {
    const { rules } = this;
    if (rules.type !== 'checkin') return;
    for (let at = nextTickOf(this, rules); at !== null && at < to; at = nextTickOf(this, rules)) {
      const before = this.status;
      this.take({ type: 'tick', at }, at);
      if (this.status === before || nextTickOf(this, rules) === at) return;
    }
  }

  /** While a watch is doubted, it is looked at as often as the rules say; what was failed is so until it was seen fine. */
  doubt(last: Finding, next: number): void {
    const { rules } = this;
    if (rules.type !== 'probe') return;
    for (let n = 1; n <= MOST_BETWEEN && this.status.state === 'doubtful'; n += 1) {
      const at = last.at + n * Math.max(1_000, rules.secondLookGapMs);
      if (at >= next) return;
      this.take({ type: 'finding', finding: { ...last, at } }, at);
    }
  }
}

type Step = { at: number; order: number } & ({ look: Finding } | { report: Report } | { input: Input });

function stepsOf({ looks, reports, aside }: WatchPast, rules: Rules): Step[] {
  const steps: Step[] = [];
  const put = (at: number, input: Input) => steps.push({ at, order: 0, input });
  for (const { from, to, kind } of aside) {
    if (kind === 'paused') {
      put(from, { type: 'pause' });
      put(to, { type: 'resume' });
    } else if (kind === 'maintenance') {
      put(from, { type: 'window', open: true });
      put(to, { type: 'window', open: false });
      // What falls due while nobody could hear is not missed: it is known before it does.
    } else if (rules.type === 'checkin') put(from, { type: 'gap', from, to });
  }
  if (rules.type === 'probe')
    for (const look of looks) steps.push({ at: look.at, order: 1, look: underLimit(look, rules) });
  else for (const report of reports) steps.push({ at: report.at, order: 1, report });
  return steps.sort((a, b) => a.at - b.at || a.order - b.order);
}

/**
 * What would have become of a watch under these rules, by the reducer that decides about it now. Looks stand where they
 * were made; the second looks that other rules would have made in between are taken to end as the failed one before them
 * did, until the watch was seen fine. A look that was given up after some time stays failed: how long it would have taken
 * nobody knows.
 */
export function relive(past: WatchPast, rules: Rules): Lived {
  const life = new Life(rules, past.from);
  const steps = stepsOf(past, rules);
  for (const [index, step] of steps.entries()) {
    life.pass(step.at);
    if ('input' in step) life.take(step.input, step.at);
    else if ('report' in step) life.take({ type: 'report', report: step.report }, step.at);
    else {
      life.take({ type: 'finding', finding: step.look }, step.at);
      if (step.look.verdict === 'failed') life.doubt(step.look, steps[index + 1]?.at ?? past.until);
    }
  }
  life.pass(past.until);
  return { outages: life.outages, slow: life.slow };
}

/** What an outage would have been under other rules. */
export interface OtherEnd extends LivedOutage {
  /** When it would have been noticed then; null where it would not have been told. */
  then: number | null;
}

export interface Compared {
  now: { outages: number; slow: number };
  then: { outages: number; slow: number };
  /** Outages that would not have been, or would have been noticed at another time, oldest first. */
  changed: OtherEnd[];
  /** Outages there would have been besides, oldest first. */
  added: LivedOutage[];
}

const overlap = (a: LivedOutage, b: LivedOutage) =>
  a.began <= (b.ended ?? Infinity) && b.began <= (a.ended ?? Infinity);

/** What other rules would have changed. Outages are the same where they overlap. */
export function compareLives(now: Lived, then: Lived): Compared {
  const changed: OtherEnd[] = [];
  const met = new Set<LivedOutage>();
  let first = 0;
  for (const outage of now.outages) {
    while (first < then.outages.length && (then.outages[first]!.ended ?? Infinity) < outage.began) first += 1;
    const other = then.outages.slice(first, first + 3).find((one) => overlap(one, outage));
    if (other) met.add(other);
    if (other?.noticed !== outage.noticed) changed.push({ ...outage, then: other?.noticed ?? null });
  }
  return {
    now: { outages: now.outages.length, slow: now.slow },
    then: { outages: then.outages.length, slow: then.slow },
    changed,
    added: then.outages.filter((one) => !met.has(one)),
  };
}
