import type { Knex } from 'knex';
import { decide } from '@/core/lifecycle/decide';
import { runOf } from '@/core/reports/run-of';
import { factsOf, happeningsOf } from '@/core/telling/happen';
import { isOurOwnFault } from '@/core/causes/causes';
import type { FailedFinding, Finding } from '@/core/causes/finding';
import type { State } from '@/core/lifecycle/state';
import type { Input, Rules, Status } from '@/core/lifecycle/status';
import { isSameDigest, type WatchDigest } from '@/core/settings/watch-digest';
import { rulesOf } from '@/core/settings/watch-config';
import { sharedFacts } from '@/probes/diagnosis/trouble-facts';
import { probeKind } from '@/probes/kinds/registry';
import { Recorder, type Outcome } from '@/store/history/recorder';
import { fetchDigests, saveDigests } from '@/store/watches/digests';
import { inChunks } from '@/store/db/chunks';
import { fetchWatches, type WatchWithStatus } from '@/store/watches/watches';
import type { EngineNews } from '@/engine/link/protocol';
import { Dependencies } from './dependencies';
import { digestOf, lastOf, type LastFinding } from './digest';
import { onceAMinute } from './once-a-minute';

export interface RegisteredWatch {
  watch: WatchWithStatus;
  rules: Rules;
  status: Status;
  /** The host whose share of concurrent looks it uses. */
  host: string;
  /** Its digest as it is, or is about to be, kept; null where that is not known. */
  digest: WatchDigest | null;
  /** What its last finding came to. */
  last: LastFinding | null;
}

export interface WatchRegistryOptions {
  db: Knex;
  now: () => number;
  zone: string;
  onNews: (news: EngineNews) => void;
  onHappenings: () => void;
  /** A watch went from one state to another. */
  onState: (id: number, from: State, to: State) => void;
  onError: (error: unknown) => void;
  /** The database refused a batch; it is tried again. */
  onRefused?: (error: unknown) => void;
  /** There is no room for more than what matters most. */
  isFull?: () => boolean;
}

const FLUSH_AFTER_MS = 20;
/** So many outcomes are written in one transaction, which holds the right to write for some ten milliseconds. */
const WRITTEN_AT_ONCE = 250;
const RETRY_FLUSH_MS = 500;
/** More than this waits only while nothing can be written; findings are then let go of, the oldest first. */
const MOST_PENDING = 50_000;
/** More than this are read with all others. */
const MOST_NAMED = 500;
/** So many digests are compared in one go, which takes some milliseconds. */
const COMPARED_AT_ONCE = 100;

/** How slow a look was that passed the limit of its watch. */
function slowOf(rules: Rules, input: Input): { slow?: { ms: number; limitMs: number } } {
  if (input.type !== 'finding' || rules.type !== 'probe' || rules.slowAfterMs === null) return {};
  return { slow: { ms: Math.round(input.finding.ms), limitMs: rules.slowAfterMs } };
}

/** What every watch is in, in memory; each input goes through `decide`, and what comes of it is written in batches. */
export class WatchRegistry {
  private readonly watches = new Map<number, RegisteredWatch>();
  private readonly recorder: Recorder;
  readonly ties = new Dependencies();
  /** The finding with which each failing watch first failed in the way it fails now. */
  private readonly failing = new Map<number, FailedFinding>();
  private pending: Outcome[] = [];
  private flushing: Promise<unknown> | null = null;
  private timer: NodeJS.Timeout | null = null;
  private readonly complain: (error: unknown) => void;

  constructor(private readonly options: WatchRegistryOptions) {
    this.recorder = new Recorder(options.db);
    this.complain = onceAMinute(options.onError);
  }

  /** All watches there are, with their digests as they were kept. */
  async load(): Promise<void> {
    const { db } = this.options;
    const kept = await fetchDigests(db);
    for (const watch of await fetchWatches(db)) this.register(watch).digest = kept.get(watch.id) ?? null;
  }

  /** Writes the digests that are not kept as they are: after an upgrade, or where somebody changed a watch meanwhile. */
  async catchUp(): Promise<void> {
    for (const some of inChunks([...this.all()], COMPARED_AT_ONCE)) {
      await this.keepDigests(some);
      await new Promise((resolve) => setImmediate(resolve));
    }
  }

  /** Writes digests as they are at that moment. What cannot be written waits for the next input; nothing else does. */
  private async keepDigests(all: readonly RegisteredWatch[]): Promise<void> {
    // Which ones is worked out before: nobody waits for the database meanwhile.
    const old = all.filter((registered) => !this.isDigestKept(registered));
    if (old.length === 0) return;
    const digestIfChanged = (registered: RegisteredWatch) => this.digestIfChanged(registered);
    function* changed() {
      for (const registered of old) {
        const digest = digestIfChanged(registered);
        if (digest) yield digest;
      }
    }
    try {
      await saveDigests(this.options.db, changed());
    } catch (error) {
      for (const registered of all) registered.digest = null;
      this.complain(error);
    }
  }

  private isDigestKept(registered: RegisteredWatch): boolean {
    return registered.digest !== null && isSameDigest(registered.digest, digestOf(registered));
  }

  /** The digest of a watch where it is not the one that is kept; it counts as kept from then on. */
  private digestIfChanged(registered: RegisteredWatch): WatchDigest | null {
    const digest = digestOf(registered);
    if (registered.digest && isSameDigest(registered.digest, digest)) return null;
    registered.digest = digest;
    return digest;
  }

  /** Reads watches anew; their status stays the registry's. Null for those that are gone. */
  async reload(ids: readonly number[]): Promise<(RegisteredWatch | null)[]> {
    await this.flush();
    const found = await fetchWatches(this.options.db, ids.length <= MOST_NAMED ? ids : undefined);
    const watches = new Map(found.map((watch) => [watch.id, watch]));
    const all = ids.map((id) => {
      const watch = watches.get(id);
      if (watch) return this.register(watch);
      this.watches.delete(id);
      this.ties.remove(id);
      this.failing.delete(id);
      return null;
    });
    await this.keepDigests(all.filter((registered) => registered !== null));
    return all;
  }

  private register(watch: WatchWithStatus): RegisteredWatch {
    const kept = this.watches.get(watch.id);
    const registered = {
      watch,
      rules: rulesOf(watch.config, this.options.zone),
      host: watch.config.type === 'probe' ? (probeKind(watch.kind)?.hostOf(watch.config.settings) ?? '') : '',
      status: kept?.status ?? watch.status,
      digest: null,
      last: kept?.last ?? lastOf(watch.lastFinding),
    };
    this.watches.set(watch.id, registered);
    this.ties.set(watch);
    return registered;
  }

  get(id: number): RegisteredWatch | undefined {
    return this.watches.get(id);
  }

  all(): RegisteredWatch[] {
    return [...this.watches.values()];
  }

  /** Takes one input into a watch's life. Unknown watches are left alone. */
  apply(id: number, input: Input, origin: { reportId?: number } = {}): void {
    const registered = this.watches.get(id);
    if (!registered) return;
    const now = this.options.now();
    const upstream = this.ties.upstreamOf(id, (other) => this.watches.get(other)?.status);
    const { status, events } = decide(registered.rules, registered.status, input, now, upstream);
    if (input.type === 'finding') registered.last = lastOf(input.finding);
    const idle = input.type === 'tick' || input.type === 'gap';
    const from = registered.status.state;
    registered.status = status;
    const keepEvidence = input.type === 'finding' ? this.noteFailing(id, input.finding) : undefined;
    if (from !== status.state) queueMicrotask(() => this.options.onState(id, from, status.state));
    if (idle && events.length === 0) return;
    const first = this.failing.get(id)?.evidence;
    const walk = first?.walk;
    const last = input.type === 'finding' ? input.finding.evidence : undefined;
    const tells = events.some(({ type }) => type === 'outage-began' || type === 'outage-announced');
    const happenings = happeningsOf(factsOf(registered.watch), events, {
      paused: status.state === 'paused',
      at: now,
      ...(walk && { walk }),
      ...(tells && { shares: sharedFacts(registered.watch, last, first) }),
      ...slowOf(registered.rules, input),
    });
    const began = events.some((event) => event.type === 'outage-began');
    const digest = this.digestIfChanged(registered);
    const run = input.type === 'report' ? runOf(input.report, events) : null;
    this.pending.push({
      watchId: id,
      status,
      events,
      ...(input.type === 'finding' && { finding: input.finding }),
      ...(run && { run }),
      ...(digest && { digest }),
      ...origin,
      ...(keepEvidence && { keepEvidence }),
      ...(began && { outageEvidence: this.failing.get(id)?.evidence }),
      ...(happenings.length > 0 && { happenings: { at: now, all: happenings } }),
    });
    this.timer ??= setTimeout(() => void this.flush(), FLUSH_AFTER_MS);
  }

  /** Whether a failing look is news: the first, or in another way than the one before. */
  isNews(id: number, finding: Finding): boolean {
    return this.failing.get(id)?.cause !== finding.cause;
  }

  private noteFailing(id: number, finding: Finding): FailedFinding | undefined {
    if (isOurOwnFault(finding.cause)) return undefined;
    if (finding.verdict !== 'failed') {
      this.failing.delete(id);
      return undefined;
    }
    if (!this.isNews(id, finding)) return undefined;
    this.failing.set(id, finding);
    return finding;
  }

  /**
   * Writes what is pending, a part at a time: nobody waits long for the right to write. While the database refuses,
   * nothing is dropped and it is tried again.
   */
  async flush(): Promise<void> {
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    for (let left = this.pending.length; left > 0; left -= WRITTEN_AT_ONCE) {
      while (this.flushing) await this.flushing;
      const part = this.pending.splice(0, WRITTEN_AT_ONCE);
      if (part.length === 0) return;
      const full = this.options.isFull?.() ?? false;
      const writing = this.write(full ? part.map(withoutFinding) : part);
      this.flushing = writing;
      if (!(await writing)) return;
    }
  }

  /** Whether it was written. */
  private async write(batch: Outcome[]): Promise<boolean> {
    try {
      for (const { outcome, error } of await this.recorder.save(batch)) {
        const registered = this.watches.get(outcome.watchId);
        if (registered) registered.digest = null;
        this.options.onError(new Error(`left out of watch ${outcome.watchId}: ${String(error)}`));
      }
    } catch (error) {
      this.complain(error);
      this.options.onRefused?.(error);
      this.pending = [...batch, ...this.pending];
      if (this.pending.length > MOST_PENDING) this.pending = this.pending.map(withoutFinding).filter(matters);
      this.timer ??= setTimeout(() => void this.flush(), RETRY_FLUSH_MS);
      return false;
    } finally {
      this.flushing = null;
    }
    const states = new Map(batch.map((o) => [o.watchId, o.status.state]));
    const at = this.options.now();
    this.options.onNews({
      watches: [...states].map(([id, state]) => ({ id, state, at })),
      deliveries: false,
    });
    if (batch.some((outcome) => outcome.happenings)) this.options.onHappenings();
    return true;
  }
}

/** What is left of an outcome when there is no room: how the watch stands, what happened, and what to say of it. */
function withoutFinding({ finding: _, keepEvidence: __, run: ___, ...rest }: Outcome): Outcome {
  return { ...rest, ...(rest.outageEvidence && { outageEvidence: { ladder: rest.outageEvidence.ladder } }) };
}

function matters(outcome: Outcome): boolean {
  return outcome.events.length > 0 || outcome.reportId !== undefined || outcome.happenings !== undefined;
}
