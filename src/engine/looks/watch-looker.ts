import { isOurOwnFault } from '@/core/causes/causes';
import type { Evidence, FailedFinding, Finding } from '@/core/causes/finding';
import type { State } from '@/core/lifecycle/state';
import type { ProbeConfig, WatchConfig } from '@/core/settings/watch-config';
import type { RegisteredWatch, WatchRegistry } from '@/engine/state/watch-registry';
import type { LookPlanner } from './look-planner';
import { runWalk, type LookRunnerOptions } from './look-runner';
import type { LookThreads } from './look-threads';

/** So long a failed look waits for those of what it rests on. */
const BELOW_LIMIT_MS = 5_000;

interface WatchLookerOptions {
  registry: WatchRegistry;
  planner: LookPlanner;
  threads: Pick<LookThreads, 'look'>;
  runner: LookRunnerOptions;
  /** Whether this machine itself cannot reach out; asked anew where it counts. */
  isLineOut: (anew: boolean) => Promise<boolean>;
  onFinding: (watchId: number, finding: Finding) => void;
}

function pickBaseline({ baseline, seenSince }: Evidence): Evidence {
  return { baseline, ...(seenSince !== undefined && { seenSince }) };
}

/** Whether a watch still looks for the same: one that was only given another name, say, does. */
function isSame(now: WatchConfig | undefined, then: ProbeConfig): boolean {
  return now === then || JSON.stringify(now) === JSON.stringify(then);
}

/** Looks at watches, and doubts what failed before it counts: whose trouble is it, and on which rung? */
export class WatchLooker {
  private readonly lastFindings = new Map<number, Finding>();
  /** Watches whose next look compares with nothing from before. */
  private readonly afresh = new Set<number>();

  constructor(private readonly options: WatchLookerOptions) {}

  /** One look at a watch, from beginning to the plan for the next one. */
  async look(id: number): Promise<void> {
    const { registry, planner, runner, threads } = this.options;
    const registered = registry.get(id);
    if (!registered || registered.watch.config.type !== 'probe') return;
    const { config, kind } = registered.watch;
    let lookedAt = runner.now();
    try {
      let finding = await threads.look({ id, kind, config }, this.beforeOf(registered));
      lookedAt = finding.at;
      if (finding.verdict === 'failed' && !isOurOwnFault(finding.cause)) {
        finding = await this.doubt(id, kind, config, finding);
      }
      // The watch may have been changed, paused or deleted while we looked.
      if (runner.signal.aborted || !isSame(registry.get(id)?.watch.config, config)) return;
      this.lastFindings.set(id, finding);
      this.options.onFinding(id, finding);
      registry.apply(id, { type: 'finding', finding });
    } finally {
      const current = registry.get(id);
      if (current) planner.planAfter(current, lookedAt);
    }
  }

  lastFindingOf(id: number): Finding | undefined {
    return this.lastFindings.get(id);
  }

  /** The next look takes what it finds as right. */
  lookAfresh(id: number): void {
    this.afresh.add(id);
  }

  /** What rests on a watch that came back is looked at again; what it is a part of is put together anew. */
  passOn(id: number, from: State, to: State): void {
    const { registry, planner } = this.options;
    if (from === 'down' && (to === 'up' || to === 'slow')) {
      for (const other of registry.ties.restingOn(id)) {
        if (registry.get(other)?.status.outage) void planner.lookSoon(other);
      }
    }
    for (const whole of registry.ties.wholesOf(id)) void planner.lookSoon(whole);
  }

  /** What the look before found to compare with, unless it is to be forgotten. */
  private beforeOf({ watch }: RegisteredWatch): Evidence | undefined {
    if (this.afresh.delete(watch.id)) return undefined;
    const before = (this.lastFindings.get(watch.id) ?? watch.lastFinding)?.evidence;
    return before?.baseline === undefined ? undefined : pickBaseline(before);
  }

  /** A failed look is doubted once more: is it this machine's own line? If it is news, the ladder is walked. */
  private async doubt(
    id: number,
    kind: string,
    config: ProbeConfig,
    failed: FailedFinding,
  ): Promise<Finding> {
    const { registry, runner, isLineOut } = this.options;
    const known = registry.get(id)?.status.outage && !registry.isNews(id, failed);
    if (await isLineOut(!known)) {
      return { at: failed.at, ms: failed.ms, verdict: 'failed', cause: 'look.no-line', detail: {} };
    }
    if (!registry.isNews(id, failed)) return failed;
    const [walk] = await Promise.all([runWalk(kind, config, failed, runner), this.lookBelow(id)]);
    return walk ? { ...failed, evidence: { ...failed.evidence, walk } } : failed;
  }

  /** Has what a watch rests on looked at first, for a limited time: whose trouble is it? */
  private async lookBelow(id: number): Promise<void> {
    const { registry, planner } = this.options;
    const below = registry.ties.belowOf(id).filter((other) => !registry.get(other)?.status.failing);
    if (below.length === 0) return;
    const looks = Promise.all(below.map((other) => planner.lookSoon(other)));
    let timer: NodeJS.Timeout | undefined;
    const limit = new Promise((resolve) => (timer = setTimeout(resolve, BELOW_LIMIT_MS)));
    await Promise.race([looks, limit]).finally(() => clearTimeout(timer));
  }
}
