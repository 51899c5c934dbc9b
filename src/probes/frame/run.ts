import type { CauseCode, CauseDetail } from '@/core/causes/causes';
import { isIP } from 'node:net';
import {
  RUNGS,
  type Evidence,
  type Finding,
  type Phases,
  type Rung,
  type RungName,
} from '@/core/causes/finding';
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

/** What a phase that is over has gone over. */
const LAP_RUNGS: Record<keyof Phases, RungName> = {
  name: 'name',
  connect: 'port',
  certificate: 'certificate',
  firstByte: 'reply',
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

  /** Where it is headed is an address, or was found to be one. */
  get knowsAddress(): boolean {
    return isIP(this.target.host) !== 0 || this.target.address !== undefined;
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
    this.walked.add(LAP_RUNGS[phase]);
  }

  /** Rungs that were gone over, so that they may be called fine. */
  readonly walked = new Set<RungName>();

  /** The way leads through a proxy: what is known of name and port is known of the proxy's. */
  viaProxy = false;

  /** How long what was measured took, where that is not the whole look. */
  tookMs: number | null = null;

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

/** A rung is fine only where it was gone over; what is not known is told as that. */
function ladderOf(planned: readonly PlannedRung[], failure: Failure | null, run: Run): Rung[] {
  // Behind a proxy nobody here saw the name looked up or the port opened.
  const unseen = (rung: RungName) => run.viaProxy && (rung === 'name' || rung === 'port');
  if (!failure) {
    return planned.map(([rung, label]) => ({ rung, label, result: unseen(rung) ? 'unknown' : 'fine' }));
  }
  const broke = rungOf(failure.cause, run.stage);
  const ladder = planned.some(([rung]) => rung === broke) ? [...planned] : withRung(planned, broke);
  const at = ladder.findIndex(([rung]) => rung === broke);
  // An address needs no name to be known.
  const known = (rung: RungName) => run.walked.has(rung) || (rung === 'name' && run.knowsAddress);
  return ladder.map(([rung, label], i) => {
    if (i === at) return { rung, label, result: 'failed' };
    if (i > at) return { rung, label, result: 'not-reached' };
    return { rung, label, result: known(rung) && !unseen(rung) ? 'fine' : 'unknown' };
  });
}

/** Planned rungs with one more in its place among the layers, such as the host when there is no way to it. */
function withRung(planned: readonly PlannedRung[], rung: RungName): PlannedRung[] {
  const order = RUNGS.indexOf(rung);
  const before = planned.filter(([other]) => RUNGS.indexOf(other) < order);
  return [...before, [rung, rung], ...planned.slice(before.length)];
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
  evidence.ladder = ladderOf(rungs(), failure, run);
  const ms = run.tookMs ?? run.ms;
  if (failure && run.at !== '') failure = { ...failure, detail: { step: run.at, ...failure.detail } };
  if (failure) return { at, verdict: 'failed', ms, ...failure, evidence };
  return run.warning
    ? { at, verdict: 'slow', ms, ...run.warning, evidence }
    : { at, verdict: 'fine', ms, evidence };
}
