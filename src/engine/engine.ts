import { setMaxListeners } from 'node:events';
import type { Knex } from 'knex';
import type { LookupFunction } from 'node:net';
import type { Answer } from '@/channels/kind';
import { composeMessage } from '@/core/messages/message';
import { isOurOwnFault } from '@/core/causes/causes';
import type { Evidence, FailedFinding, Finding } from '@/core/causes/finding';
import type { State } from '@/core/lifecycle/state';
import type { ProbeConfig } from '@/core/settings/watch-config';
import { nextPlannedLook, offsetOf } from '@/core/schedule/schedule';
import { fetchPageWords } from '@/probes/diagnosis/page-words';
import type { WebSettings } from '@/probes/kinds/web';
import { ClockMonitor } from '@/engine/own/clock-monitor';
import { DiskSpace } from '@/engine/own/disk-space';
import { isFullError } from '@/store/db/connection';
import { ReportFeed } from '@/engine/state/report-feed';
import { Housekeeping } from '@/engine/state/housekeeping';
import { Scheduler } from '@/engine/looks/scheduler';
import { UplinkMonitor } from '@/engine/own/uplink-monitor';
import { runLook, runWalk, type LookRunnerOptions } from '@/engine/looks/look-runner';
import { LookThreads, type LookThreadsOptions } from '@/engine/looks/look-threads';
import { makeOffers } from '@/engine/looks/offers';
import { Dispatcher, sendThrough } from '@/engine/messages/dispatcher';
import type { EngineCall, EngineCalls, EngineNews } from '@/engine/link/protocol';
import { SelfMonitor } from '@/engine/own/self-monitor';
import { openSecrets, type Vault } from '@/store/db/vault';
import type { Watch } from '@/store/watches/watches';
import { WatchRegistry, type RegisteredWatch } from '@/engine/state/watch-registry';
import { partsOf } from '@/probes/diagnosis/watch-target';

export interface EngineOptions {
  db: Knex;
  vault: Vault;
  now: () => number;
  monotonic: () => number;
  lookup: LookupFunction;
  zone: string;
  linkBase: string;
  looksAtOnce: number;
  looksPerHost: number;
  /** Where looks are carried out; on the engine's own thread without it. */
  lookThreads?: Pick<LookThreadsOptions, 'script' | 'threads' | 'data'>;
  keepFindingsDays: number;
  /** The folder whose disk is looked after; none where the data lies nowhere. */
  dataFolder?: string;
  onNews: (news: EngineNews) => void;
  onError: (error: unknown) => void;
}

const TICK_MS = 1000;
const PAGE_LIMIT_MS = 10_000;
const SWEEP_MS = 5 * 60_000;
const OUTBOX_GRACE_MS = 5_000;
/** So long a failed look waits for those of what it rests on. */
const BELOW_LIMIT_MS = 5_000;
/** After a start, looks that are overdue are spread over this time, or one interval if that is shorter. */
const START_SPREAD_MS = 5_000;

function settingsOf(watch: Watch | undefined): string {
  return watch?.config.type === 'probe' ? JSON.stringify(watch.config.settings) : '';
}

function pickBaseline({ baseline, seenSince }: Evidence): Evidence {
  return { baseline, ...(seenSince !== undefined && { seenSince }) };
}

type Handlers = { [C in EngineCall]: (ask: EngineCalls[C]['ask']) => Promise<EngineCalls[C]['answer']> };

/** The long-running part: looks, the check-in inbox, the outbox, rollups and retention. */
export class Engine {
  private readonly registry: WatchRegistry;
  private readonly inbox: ReportFeed;
  private readonly outbox: Dispatcher;
  private readonly housekeeping: Housekeeping;
  private readonly queue: Scheduler;
  private readonly abort = new AbortController();
  private readonly timers: NodeJS.Timeout[] = [];
  private readonly lastFindings = new Map<number, Finding>();
  /** Watches whose next look compares with nothing from before. */
  private readonly afresh = new Set<number>();
  private readonly line: UplinkMonitor;
  private readonly looker: LookRunnerOptions;
  private readonly threads: LookThreads;
  private readonly self: SelfMonitor;
  private readonly clock: ClockMonitor;
  private closing: Promise<void> | null = null;

  constructor(
    private readonly options: EngineOptions,
    private readonly onStop: () => void,
  ) {
    const { db, now, onError, monotonic } = options;
    const room = options.dataFolder === undefined ? null : new DiskSpace(options.dataFolder);
    // Every ping of a ladder that is being walked listens for being called off.
    setMaxListeners(0, this.abort.signal);
    this.outbox = new Dispatcher({
      db,
      zone: options.zone,
      linkBase: options.linkBase,
      vault: options.vault,
      now,
      onError,
      onDelivered: () => options.onNews({ watches: [], deliveries: true }),
    });
    this.registry = new WatchRegistry({
      db,
      now,
      zone: options.zone,
      onNews: options.onNews,
      onMessages: () => this.outbox.wake(),
      onState: (id, from, to) => this.passOn(id, from, to),
      onError,
      onRefused: (error) => {
        if (isFullError(error)) room?.useReserve();
      },
      isFull: () => room?.state() === 'full',
    });
    this.inbox = new ReportFeed(db, this.registry);
    this.housekeeping = new Housekeeping({
      db,
      registry: this.registry,
      now,
      monotonic,
      keepFindingsDays: options.keepFindingsDays,
      isBlind: () => this.line.out,
      takeIn: () => this.drainInbox(),
      onWindowClosed: (id) => void this.lookSoon(id),
      onError,
    });
    this.line = new UplinkMonitor({
      ...options,
      registry: this.registry,
      signal: this.abort.signal,
      onMessage: () => this.outbox.wake(),
      lookAgain: (id) => void this.lookSoon(id),
    });
    this.self = new SelfMonitor({
      ...options,
      registry: this.registry,
      room,
      isBlind: () => this.line.out,
      onMessage: () => this.outbox.wake(),
    });
    this.clock = new ClockMonitor({ now, monotonic }, (byMs) => void this.clockJumped(byMs).catch(onError));
    const { lookup, vault } = options;
    const other = (id: number) => {
      const registered = this.registry.get(id);
      return registered ? { name: registered.watch.name, state: registered.status.state } : null;
    };
    this.looker = { now, monotonic, lookup, vault, other, signal: this.abort.signal };
    this.threads = new LookThreads({
      ...(options.lookThreads ?? { script: '', threads: 0, data: { dataFolder: '', hosts: '' } }),
      now,
      here: ({ kind, config }, before) => runLook(kind, config, this.looker, before),
      onlyHere: (watch) => partsOf(watch).length > 0,
      onError,
    });
    this.queue = new Scheduler({
      now,
      monotonic,
      setTimer: (run, ms) => setTimeout(run, ms),
      clearTimer: (timer) => clearTimeout(timer as NodeJS.Timeout),
      mostInFlight: options.looksAtOnce,
      mostPerHost: options.looksPerHost,
      run: (id) => this.look(id).catch(options.onError),
    });
  }

  async start(): Promise<void> {
    this.threads.begin();
    await this.registry.load();
    await this.inbox.open();
    await this.housekeeping.loadWindows();
    await this.line.load();
    await this.self.load();
    await this.inbox.drain();
    // A clock that was wrong at the last run may have planned for times that will not come for long.
    for (const registered of this.registry.all()) {
      if ((registered.status.lastAt ?? 0) > this.options.now())
        this.registry.apply(registered.watch.id, { type: 'clock' });
      this.reconcile(registered);
    }
    this.timers.push(
      setInterval(() => this.clock.glance(), TICK_MS),
      setInterval(() => this.self.tick(), TICK_MS),
      setInterval(() => this.housekeeping.tick(), TICK_MS),
      setInterval(() => void this.drainInbox(), TICK_MS),
      setInterval(() => this.line.tick(), TICK_MS),
      setInterval(() => void this.housekeeping.sweep().catch(this.options.onError), SWEEP_MS),
    );
    void this.housekeeping.sweep().catch(this.options.onError);
    await this.outbox.open();
  }

  /** The wall clock was set, or the machine slept: what was planned by it is planned anew. */
  private async clockJumped(byMs: number): Promise<void> {
    this.housekeeping.clockJumped();
    for (const registered of this.registry.all()) this.reconcile(registered);
    await this.outbox.clockJumped(byMs);
    await this.self.noteJump(byMs);
  }

  private drainInbox(): Promise<void> {
    return this.inbox.drain().catch(this.options.onError);
  }

  /** Brings a watch in line with what was set: paused or not, and when it is looked at next. */
  private reconcile(registered: RegisteredWatch): void {
    const { watch, status, rules } = registered;
    if (watch.paused && status.state !== 'paused') this.registry.apply(watch.id, { type: 'pause' });
    if (!watch.paused && status.state === 'paused') this.registry.apply(watch.id, { type: 'resume' });
    if (rules.type !== 'probe' || watch.paused) {
      this.queue.remove(watch.id);
      return;
    }
    const now = this.options.now();
    const spread = offsetOf(watch.id, Math.min(START_SPREAD_MS, rules.everyMs));
    const regular = nextPlannedLook(rules, watch.id, now);
    // A look at set times that was missed is not made up for at another time.
    const missed = !rules.cron && (status.coveredUntil === null || status.coveredUntil <= now);
    const never = status.lastAt === null;
    const at = never ? now : missed ? Math.min(regular, now + spread) : regular;
    this.queue.schedule(watch.id, registered.host, at);
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
    const known = this.registry.get(id)?.status.outage && !this.registry.isNews(id, failed);
    if (await this.line.isOut(!known)) {
      return { at: failed.at, ms: failed.ms, verdict: 'failed', cause: 'look.no-line', detail: {} };
    }
    if (!this.registry.isNews(id, failed)) return failed;
    const [walk] = await Promise.all([runWalk(kind, config, failed, this.looker), this.lookBelow(id)]);
    return walk ? { ...failed, evidence: { ...failed.evidence, walk } } : failed;
  }

  /** Has what a watch rests on looked at first, for a limited time: whose trouble is it? */
  private async lookBelow(id: number): Promise<void> {
    const below = this.registry.ties.belowOf(id).filter((other) => !this.registry.get(other)?.status.failing);
    if (below.length === 0) return;
    const looks = Promise.all(below.map((other) => this.lookSoon(other)));
    let timer: NodeJS.Timeout | undefined;
    const limit = new Promise((resolve) => (timer = setTimeout(resolve, BELOW_LIMIT_MS)));
    await Promise.race([looks, limit]).finally(() => clearTimeout(timer));
  }

  /** What rests on a watch that came back is looked at again; what it is a part of is put together anew. */
  private passOn(id: number, from: State, to: State): void {
    if (from === 'down' && (to === 'up' || to === 'slow')) {
      for (const other of this.registry.ties.restingOn(id)) {
        if (this.registry.get(other)?.status.outage) void this.lookSoon(other);
      }
    }
    for (const whole of this.registry.ties.wholesOf(id)) void this.lookSoon(whole);
  }

  private async look(id: number): Promise<void> {
    const registered = this.registry.get(id);
    if (!registered || registered.watch.config.type !== 'probe') return;
    const { config, kind } = registered.watch;
    let lookedAt = this.options.now();
    try {
      let finding = await this.threads.look({ id, kind, config }, this.beforeOf(registered));
      lookedAt = finding.at;
      if (finding.verdict === 'failed' && !isOurOwnFault(finding.cause)) {
        finding = await this.doubt(id, kind, config, finding);
      }
      // The watch may have been changed, paused or deleted while we looked.
      if (this.abort.signal.aborted || this.registry.get(id)?.watch.config !== config) return;
      this.lastFindings.set(id, finding);
      this.self.noteFinding(id, finding);
      this.registry.apply(id, { type: 'finding', finding });
    } finally {
      const current = this.registry.get(id);
      if (current) this.scheduleNext(current, lookedAt);
    }
  }

  private scheduleNext(registered: RegisteredWatch, lookedAt: number): void {
    const { watch, rules, status } = registered;
    if (rules.type !== 'probe' || status.state === 'paused') return;
    const now = this.options.now();
    const regular = nextPlannedLook(rules, watch.id, Math.max(lookedAt, now));
    const at = status.state === 'doubtful' ? Math.min(regular, now + rules.secondLookGapMs) : regular;
    this.queue.schedule(watch.id, registered.host, at);
  }

  private async lookSoon(id: number): Promise<void> {
    const registered = this.registry.get(id);
    if (registered?.rules.type !== 'probe' || registered.watch.paused || this.closing) return;
    await this.queue.runNow(id, registered.host);
  }

  /** Goes on with a watch as it is now. What is new, looks elsewhere or was paused is looked at at once. */
  private takeOver(id: number, before: Watch | undefined, registered: RegisteredWatch | null): State | null {
    if (!registered) {
      this.queue.remove(id);
      this.threads.forget(id);
      const gone = { id, state: 'paused' as const, at: this.options.now() };
      this.options.onNews({ watches: [gone], deliveries: false });
      return null;
    }
    const elsewhere = settingsOf(before) !== settingsOf(registered.watch);
    if (elsewhere) this.afresh.add(id);
    this.reconcile(registered);
    const { watch, rules } = registered;
    if (rules.type === 'probe' && !watch.paused && (elsewhere || before?.paused !== false)) {
      this.queue.schedule(id, registered.host, this.options.now());
    }
    return registered.status.state;
  }

  readonly handlers: Handlers = {
    tryLook: async ({ kind, config }) => {
      if (config.type !== 'probe') throw new Error('Only a probe can look; a check-in waits to hear.');
      return runLook(kind, config, this.looker);
    },
    offer: ({ typed }) => makeOffers(typed, this.looker),
    pageWords: ({ settings }) => {
      const options = { ...this.looker, timeoutMs: PAGE_LIMIT_MS };
      return fetchPageWords(openSecrets(this.options.vault, settings) as WebSettings, options);
    },
    lookNow: async ({ watchId, afresh }) => {
      if (afresh) this.afresh.add(watchId);
      const registered = this.registry.get(watchId) ?? (await this.registry.reload([watchId]))[0];
      if (!registered) throw new Error(`There is no watch ${watchId}.`);
      if (registered.rules.type !== 'probe')
        throw new Error('A check-in watch waits to hear; there is nothing to look at.');
      await this.queue.runNow(watchId, registered.host);
      await this.registry.flush();
      const finding = this.lastFindings.get(watchId);
      if (!finding) throw new Error('The watch changed while it was looked at. Look again.');
      return finding;
    },
    testChannel: ({ kind, settings }): Promise<Answer> => {
      const text = composeMessage(
        { kind: 'test' },
        { watchName: '', link: this.options.linkBase, zone: this.options.zone },
      );
      return sendThrough(kind, settings, text, this.abort.signal, this.options.vault);
    },
    uplinkChanged: async () => {
      await this.line.load();
      return { out: await this.line.isOut() };
    },
    watchesChanged: async ({ watchIds }) => {
      const before = new Map(watchIds.map((id) => [id, this.registry.get(id)?.watch]));
      const registered = await this.registry.reload(watchIds);
      this.outbox.wake();
      const states = registered.map((one, i) => this.takeOver(watchIds[i]!, before.get(watchIds[i]!), one));
      await this.registry.flush();
      return { states };
    },
    inbox: async () => {
      await this.drainInbox();
      return {};
    },
    channelsChanged: async () => {
      this.outbox.wake();
      return {};
    },
    windowsChanged: async () => {
      await this.housekeeping.loadWindows();
      this.housekeeping.tick();
      await this.registry.flush();
      return {};
    },
    ping: async () => ({ pid: process.pid }),
    stop: async () => {
      this.onStop();
      return {};
    },
  };

  /** Stops taking work, waits for what is in flight, writes it, and lets go. Can be called twice. */
  close(): Promise<void> {
    this.closing ??= (async () => {
      for (const timer of this.timers) clearInterval(timer);
      await this.queue.close();
      await this.drainInbox();
      await this.registry.flush();
      await this.self.close();
      await this.outbox.close(OUTBOX_GRACE_MS);
      this.abort.abort();
      await this.threads.close();
    })();
    return this.closing;
  }
}
