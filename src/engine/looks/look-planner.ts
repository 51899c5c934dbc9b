import { nextPlannedLook, offsetOf } from '@/core/schedule/schedule';
import type { RegisteredWatch, WatchRegistry } from '@/engine/state/watch-registry';
import { Scheduler } from './scheduler';

/** After a start, looks that are overdue are spread over this time, or one interval if that is shorter. */
const START_SPREAD_MS = 5_000;

interface LookPlannerOptions {
  registry: WatchRegistry;
  now: () => number;
  monotonic: () => number;
  mostInFlight: number;
  mostPerHost: number;
  /** Carries out one look; never rejects. */
  run: (watchId: number) => Promise<void>;
}

/** When each watch is looked at next. */
export class LookPlanner {
  private readonly scheduler: Scheduler;
  private closing: Promise<void> | null = null;

  constructor(private readonly options: LookPlannerOptions) {
    const { now, monotonic, mostInFlight, mostPerHost, run } = options;
    this.scheduler = new Scheduler({
      now,
      monotonic,
      setTimer: (fire, ms) => setTimeout(fire, ms),
      clearTimer: (timer) => clearTimeout(timer as NodeJS.Timeout),
      mostInFlight,
      mostPerHost,
      run,
    });
  }

  /** Brings a watch in line with what was set: paused or not, and when it is looked at next. */
  reconcile({ watch, status, rules, host }: RegisteredWatch): void {
    const { registry, now: clock } = this.options;
    if (watch.paused && status.state !== 'paused') registry.apply(watch.id, { type: 'pause' });
    if (!watch.paused && status.state === 'paused') registry.apply(watch.id, { type: 'resume' });
    if (rules.type !== 'probe' || watch.paused) {
      this.scheduler.remove(watch.id);
      return;
    }
    const now = clock();
    const spread = offsetOf(watch.id, Math.min(START_SPREAD_MS, rules.everyMs));
    const regular = nextPlannedLook(rules, watch.id, now);
    // A look at set times that was missed is not made up for at another time.
    const missed = !rules.cron && (status.coveredUntil === null || status.coveredUntil <= now);
    const never = status.lastAt === null;
    const at = never ? now : missed ? Math.min(regular, now + spread) : regular;
    this.scheduler.schedule(watch.id, host, at);
  }

  /** Plans the look after one that was begun at `lookedAt`: a second look while the watch is doubted. */
  planAfter({ watch, rules, status, host }: RegisteredWatch, lookedAt: number): void {
    if (rules.type !== 'probe' || status.state === 'paused') return;
    const now = this.options.now();
    const regular = nextPlannedLook(rules, watch.id, Math.max(lookedAt, now));
    const { secondLookGapMs: gap, everyMs } = rules;
    // Nor sooner than the gap, where a look that was asked for lies right before a regular one.
    const again = gap < everyMs ? now + gap : Math.min(regular, now + gap);
    const at = status.state === 'doubtful' ? again : regular;
    this.scheduler.schedule(watch.id, host, at);
  }

  /** Has a watch looked at as soon as there is room for it. */
  planNow({ watch, host }: RegisteredWatch): void {
    this.scheduler.schedule(watch.id, host, this.options.now());
  }

  /** Looks out of turn, and resolves once that look is done. */
  lookNow({ watch, host }: RegisteredWatch): Promise<void> {
    return this.scheduler.runNow(watch.id, host);
  }

  /** The same for a watch that may be gone, paused or no probe: then nothing happens. */
  async lookSoon(id: number): Promise<void> {
    const registered = this.options.registry.get(id);
    if (registered?.rules.type !== 'probe' || registered.watch.paused || this.closing) return;
    await this.lookNow(registered);
  }

  remove(id: number): void {
    this.scheduler.remove(id);
  }

  /** Plans nothing more, and waits for looks in flight. */
  close(): Promise<void> {
    this.closing ??= this.scheduler.close();
    return this.closing;
  }
}
