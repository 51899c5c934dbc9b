import type { CauseCode, CauseDetail } from '../core/causes';
import type { Evidence, Finding, Phases, Rung, RungName } from '../core/finding';
import type { LookupFunction } from 'node:net';
import type { LookContext } from './kind';
import { errorCause, LookFailure, timeoutCause, type Failure, type Stage, type Target } from './socket-cause';

const STAGE_RUNGS: Record<Stage, RungName> = {
  name: 'name',
  connect: 'port',
  certificate: 'certificate',
  reply: 'reply',
  download: 'reply',
};

/** The rung a failure belongs to, from its layer; where the layer does not say, from the stage it came in. */
export function rungOf(cause: CauseCode, stage: Stage): RungName {
  const layer = cause.split('.')[0]!;
  // Nobody is there to say anything of a container.
  if (cause === 'container.no-engine') return 'port';
  switch (layer) {
    case 'name':
    case 'record':
      return layer === 'name' ? 'name' : 'content';
    case 'host':
      return 'host';
    case 'port':
    case 'datagram':
      return 'port';
    case 'tls':
      return 'certificate';
    case 'text':
    case 'json':
    case 'value':
    case 'parts':
    case 'container':
    case 'answer':
    case 'topic':
      return 'content';
    case 'look':
      return STAGE_RUNGS[stage];
    default:
      return 'reply';
  }
}

/** Node fails past every handler when a resolver gives an empty list; here that is a name without an address. */
function neverEmpty(lookup: LookupFunction): LookupFunction {
  return (name, options, callback) =>
    lookup(name, options, (error, address, family) => {
      if (!error && (address as unknown) instanceof Array && address.length === 0) {
        callback(Object.assign(new Error('no address'), { code: 'ENOTFOUND' }), '', 4);
      } else callback(error, address, family);
    });
}

/** One look under way: its time limit, what it has learnt, and where it stands. */
export class Run {
  readonly evidence: Evidence = { phases: {} };
  readonly lookup: LookupFunction;
  stage: Stage = 'name';
  private readonly started: number;
  private mark: number;

  constructor(
    readonly context: LookContext,
    readonly target: Target,
  ) {
    this.lookup = neverEmpty(context.lookup);
    this.started = this.mark = context.monotonic();
  }

  private readonly endings = new Set<() => void>();
  private ended = false;

  /** Calls `free` when the look ends, whichever way; returns what takes that back. */
  onEnd(free: () => void): () => void {
    if (this.ended) free();
    else this.endings.add(free);
    return () => this.endings.delete(free);
  }

  /** The same for what wants a signal; made only when asked for, as most looks need none. */
  get signal(): AbortSignal {
    const controller = new AbortController();
    this.onEnd(() => controller.abort());
    return controller.signal;
  }

  end(): void {
    this.ended = true;
    for (const free of this.endings) free();
    this.endings.clear();
  }

  /** Milliseconds since the look began. */
  get ms(): number {
    return this.context.monotonic() - this.started;
  }

  get leftMs(): number {
    return Math.max(1, this.context.timeoutMs - this.ms);
  }

  /** Notes how long the phase that ends here took, and goes on to the next stage. */
  lap(phase: keyof Phases, next: Stage): void {
    const now = this.context.monotonic();
    this.evidence.phases![phase] = (this.evidence.phases![phase] ?? 0) + (now - this.mark);
    this.mark = now;
    this.stage = next;
  }

  /** What it means when the time is up from here on; without it, the stage says so. */
  whenTimeIsUp: (() => Failure) | null = null;

  fact(label: string, value: string): void {
    (this.evidence.facts ??= []).push({ label, value: value.slice(0, 500) });
  }

  /** Ends the look as failed from outside its steps: for limits on what a library gathers by itself. */
  breakOff: (failure: Failure) => void = () => undefined;

  /** Which step of several is under way; it stands before the sentence of a failure. */
  at = '';

  failure(cause: CauseCode, detail: CauseDetail = {}): LookFailure {
    return new LookFailure({ cause, detail });
  }

  fail(cause: CauseCode, detail: CauseDetail = {}): never {
    throw this.failure(cause, detail);
  }

  /** Keeps a warning; the look goes on, and is slow if nothing worse comes. */
  warning: Failure | null = null;

  warn(cause: CauseCode, detail: CauseDetail): void {
    this.warning ??= { cause, detail };
  }
}

/** A rung that this kind of look walks, in order. */
export type PlannedRung = [RungName, string];

/** The rung of the certificate, for a look that speaks TLS. */
export function certificateRung(spoken: boolean): PlannedRung[] {
  return spoken ? [['certificate', 'certificate']] : [];
}

function ladderOf(planned: readonly PlannedRung[], failure: Failure | null, stage: Stage): Rung[] {
  if (!failure) return planned.map(([rung, label]) => ({ rung, label, result: 'fine' }));
  const broke = rungOf(failure.cause, stage);
  const found = planned.findIndex(([rung]) => rung === broke);
  const at = found < 0 ? planned.length - 1 : found;
  return planned.map(([rung, label], i) => ({
    rung,
    label,
    result: i < at ? 'fine' : i === at ? 'failed' : 'not-reached',
  }));
}

/** What the looks in flight do when they are called off. One listener serves them all: adding one is not cheap. */
const calledOff = new WeakMap<AbortSignal, Set<() => void>>();

/** Calls `stop` when the signal says so, at once if it has; returns what takes that back. */
function onCallOff(signal: AbortSignal, stop: () => void): () => void {
  if (signal.aborted) stop();
  let stops = calledOff.get(signal);
  if (!stops) {
    const all = (stops = new Set());
    calledOff.set(signal, all);
    signal.addEventListener('abort', () => all.forEach((one) => one()), { once: true });
  }
  stops.add(stop);
  return () => stops.delete(stop);
}

/** Resolves when the steps are done; rejects when they fail, the time is up, or the look is called off. */
function withinTime(run: Run, steps: (run: Run) => Promise<void>): Promise<void> {
  const { context, target } = run;
  return new Promise((resolve, reject) => {
    const timer = setTimeout(() => {
      reject(new LookFailure(run.whenTimeIsUp?.() ?? timeoutCause(run.stage, target)));
    }, context.timeoutMs);
    run.onEnd(() => clearTimeout(timer));
    run.breakOff = (failure) => reject(new LookFailure(failure));
    const calledOffCause: Failure = { cause: 'look.broken', detail: { reason: 'it was called off' } };
    run.onEnd(onCallOff(context.signal, () => reject(new LookFailure(calledOffCause))));
    // What the work still throws after the end of time has no bearing any more.
    steps(run).then(resolve, reject);
  });
}

/**
 * Carries out one look: limits its time, translates what goes wrong into a cause once, and puts the finding
 * together. `steps` works until it returns (fine) or throws; `rungs` is asked at the end.
 */
export async function carryOut(
  context: LookContext,
  target: Target,
  rungs: () => readonly PlannedRung[],
  steps: (run: Run) => Promise<void>,
): Promise<Finding> {
  const at = context.now();
  const run = new Run(context, target);
  let failure: Failure | null = null;
  try {
    await withinTime(run, steps);
  } catch (error) {
    if (error instanceof LookFailure) failure = error.failure;
    else if ((error as NodeJS.ErrnoException).code !== undefined)
      failure = errorCause(error as NodeJS.ErrnoException, run.stage, target);
    else throw error;
  } finally {
    run.end();
  }
  const { evidence } = run;
  if (target.address) evidence.address ??= target.address;
  evidence.ladder = ladderOf(rungs(), failure, run.stage);
  const ms = run.ms;
  if (failure && run.at !== '') failure = { ...failure, detail: { step: run.at, ...failure.detail } };
  if (failure) return { at, verdict: 'failed', ms, ...failure, evidence };
  return run.warning
    ? { at, verdict: 'slow', ms, ...run.warning, evidence }
    : { at, verdict: 'fine', ms, evidence };
}
