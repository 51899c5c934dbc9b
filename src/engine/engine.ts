import { setMaxListeners } from 'node:events';
import type { Knex } from 'knex';
import type { LookupFunction } from 'node:net';
import type { Answer } from '../channels/kind';
import { composeMessage } from '../core/message';
import { isOurOwnFault } from '../core/causes';
import type { Evidence, FailedFinding, Finding } from '../core/finding';
import type { State } from '../core/state';
import type { ProbeConfig } from '../core/watch-config';
import { nextPlannedLook, offsetOf } from '../core/schedule';
import { fetchPageWords } from '../probes/page-words';
import type { WebSettings } from '../probes/web';
import { ClockWatch } from './clock-watch';
import { DiskRoom } from './disk-room';
import { isFullError } from '../store/connection';
import { Inbox } from './inbox';
import { Keeper } from './keeper';
import { LookQueue } from './look-queue';
import { LineWatch } from './line-watch';
import { runLook, runWalk, type LookerOptions } from './looker';
import { LookThreads, type LookThreadsOptions } from './look-threads';
import { makeOffers } from './offers';
import { Outbox, sendThrough } from './outbox';
import type { EngineCall, EngineCalls, EngineNews } from './protocol';
import { SelfWatch } from './self-watch';
import { openSecrets, type Vault } from '../store/vault';
import type { Watch } from '../store/watches';
import { WatchBook, type BookedWatch } from './watch-book';
import { partsOf } from './ties';

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
  private readonly book: WatchBook;
  private readonly inbox: Inbox;
  private readonly outbox: Outbox;
  private readonly keeper: Keeper;
  private readonly queue: LookQueue;
  private readonly abort = new AbortController();
  private readonly timers: NodeJS.Timeout[] = [];
  private readonly lastFindings = new Map<number, Finding>();
  /** Watches whose next look compares with nothing from before. */
  private readonly afresh = new Set<number>();
  private readonly line: LineWatch;
  private readonly looker: LookerOptions;
  private readonly threads: LookThreads;
  private readonly self: SelfWatch;
  private readonly clock: ClockWatch;
  private closing: Promise<void> | null = null;

  constructor(
    private readonly options: EngineOptions,
    private readonly onStop: () => void,
  ) {
    const { db, now, onError, monotonic } = options;
    const room = options.dataFolder === undefined ? null : new DiskRoom(options.dataFolder);
    // Every ping of a ladder that is being walked listens for being called off.
    setMaxListeners(0, this.abort.signal);
    this.outbox = new Outbox({
      db,
      vault: options.vault,
      now,
      onError,
      onDelivered: () => options.onNews({ watches: [], deliveries: true }),
    });
    this.book = new WatchBook({
      db,
      now,
      zone: options.zone,
      linkBase: options.linkBase,
      onNews: options.onNews,
      onMessages: () => this.outbox.wake(),
      onState: (id, from, to) => this.passOn(id, from, to),
      onError,
      onRefused: (error) => {
        if (isFullError(error)) room?.useReserve();
      },
      isFull: () => room?.state() === 'full',
    });
    this.inbox = new Inbox(db, this.book);
    this.keeper = new Keeper({
      db,
      book: this.book,
      now,
      monotonic,
      keepFindingsDays: options.keepFindingsDays,
      isBlind: () => this.line.out,
      takeIn: () => this.drainInbox(),
      onWindowClosed: (id) => void this.lookSoon(id),
      onError,
    });
    this.line = new LineWatch({
      ...options,
      book: this.book,
      signal: this.abort.signal,
      onMessage: () => this.outbox.wake(),
      lookAgain: (id) => void this.lookSoon(id),
    });
    this.self = new SelfWatch({
      ...options,
      book: this.book,
      room,
      isBlind: () => this.line.out,
      onMessage: () => this.outbox.wake(),
    });
    this.clock = new ClockWatch({ now, monotonic }, (byMs) => void this.clockJumped(byMs).catch(onError));
    const { lookup, vault } = options;
    const other = (id: number) => {
      const booked = this.book.get(id);
      return booked ? { name: booked.watch.name, state: booked.status.state } : null;
    };
    this.looker = { now, monotonic, lookup, vault, other, signal: this.abort.signal };
    this.threads = new LookThreads({
      ...(options.lookThreads ?? { script: '', threads: 0, data: { dataFolder: '', hosts: '' } }),
      now,
      here: ({ kind, config }, before) => runLook(kind, config, this.looker, before),
      onlyHere: (watch) => partsOf(watch).length > 0,
      onError,
    });
    this.queue = new LookQueue({
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
    await this.book.load();
    await this.inbox.open();
    await this.keeper.loadWindows();
    await this.line.load();
    await this.self.load();
    await this.inbox.drain();
    // A clock that was wrong at the last run may have planned for times that will not come for long.
    for (const booked of this.book.all()) {
      if ((booked.status.lastAt ?? 0) > this.options.now())
        this.book.apply(booked.watch.id, { type: 'clock' });
      this.reconcile(booked);
    }
    this.timers.push(
      setInterval(() => this.clock.glance(), TICK_MS),
      setInterval(() => this.self.tick(), TICK_MS),
      setInterval(() => this.keeper.tick(), TICK_MS),
      setInterval(() => void this.drainInbox(), TICK_MS),
      setInterval(() => this.line.tick(), TICK_MS),
      setInterval(() => void this.keeper.sweep().catch(this.options.onError), SWEEP_MS),
    );
    void this.keeper.sweep().catch(this.options.onError);
    await this.outbox.open();
  }

  /** The wall clock was set, or the machine slept: what was planned by it is planned anew. */
  private async clockJumped(byMs: number): Promise<void> {
    this.keeper.clockJumped();
    for (const booked of this.book.all()) this.reconcile(booked);
    await this.outbox.clockJumped(byMs);
    await this.self.noteJump(byMs);
  }

  private drainInbox(): Promise<void> {
    return this.inbox.drain().catch(this.options.onError);
  }

  /** Brings a watch in line with what was set: paused or not, and when it is looked at next. */
  private reconcile(booked: BookedWatch): void {
    const { watch, status, rules } = booked;
    if (watch.paused && status.state !== 'paused') this.book.apply(watch.id, { type: 'pause' });
    if (!watch.paused && status.state === 'paused') this.book.apply(watch.id, { type: 'resume' });
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
    this.queue.schedule(watch.id, booked.host, at);
  }

  /** What the look before found to compare with, unless it is to be forgotten. */
  private beforeOf({ watch }: BookedWatch): Evidence | undefined {
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
    const known = this.book.get(id)?.status.outage && !this.book.isNews(id, failed);
    if (await this.line.isOut(!known)) {
      return { at: failed.at, ms: failed.ms, verdict: 'failed', cause: 'look.no-line', detail: {} };
    }
    if (!this.book.isNews(id, failed)) return failed;
    const [walk] = await Promise.all([runWalk(kind, config, failed, this.looker), this.lookBelow(id)]);
    return walk ? { ...failed, evidence: { ...failed.evidence, walk } } : failed;
  }

  /** Has what a watch rests on looked at first, for a limited time: whose trouble is it? */
  private async lookBelow(id: number): Promise<void> {
    const below = this.book.ties.belowOf(id).filter((other) => !this.book.get(other)?.status.failing);
    if (below.length === 0) return;
    const looks = Promise.all(below.map((other) => this.lookSoon(other)));
    let timer: NodeJS.Timeout | undefined;
    const limit = new Promise((resolve) => (timer = setTimeout(resolve, BELOW_LIMIT_MS)));
    await Promise.race([looks, limit]).finally(() => clearTimeout(timer));
  }

  /** What rests on a watch that came back is looked at again; what it is a part of is put together anew. */
  private passOn(id: number, from: State, to: State): void {
    if (from === 'down' && (to === 'up' || to === 'slow')) {
      for (const other of this.book.ties.restingOn(id)) {
        if (this.book.get(other)?.status.outage) void this.lookSoon(other);
      }
    }
    for (const whole of this.book.ties.wholesOf(id)) void this.lookSoon(whole);
  }

  private async look(id: number): Promise<void> {
    const booked = this.book.get(id);
    if (!booked || booked.watch.config.type !== 'probe') return;
    const { config, kind } = booked.watch;
    let lookedAt = this.options.now();
    try {
      let finding = await this.threads.look({ id, kind, config }, this.beforeOf(booked));
      lookedAt = finding.at;
      if (finding.verdict === 'failed' && !isOurOwnFault(finding.cause)) {
        finding = await this.doubt(id, kind, config, finding);
      }
      // The watch may have been changed, paused or deleted while we looked.
      if (this.abort.signal.aborted || this.book.get(id)?.watch.config !== config) return;
      this.lastFindings.set(id, finding);
      this.self.noteFinding(id, finding);
      this.book.apply(id, { type: 'finding', finding });
    } finally {
      const current = this.book.get(id);
      if (current) this.scheduleNext(current, lookedAt);
    }
  }

  private scheduleNext(booked: BookedWatch, lookedAt: number): void {
    const { watch, rules, status } = booked;
    if (rules.type !== 'probe' || status.state === 'paused') return;
    const now = this.options.now();
    const regular = nextPlannedLook(rules, watch.id, Math.max(lookedAt, now));
    const at = status.state === 'doubtful' ? Math.min(regular, now + rules.secondLookGapMs) : regular;
    this.queue.schedule(watch.id, booked.host, at);
  }

  private async lookSoon(id: number): Promise<void> {
    const booked = this.book.get(id);
    if (booked?.rules.type !== 'probe' || booked.watch.paused || this.closing) return;
    await this.queue.runNow(id, booked.host);
  }

  /** Goes on with a watch as it is now. What is new, looks elsewhere or was paused is looked at at once. */
  private takeOver(id: number, before: Watch | undefined, booked: BookedWatch | null): State | null {
    if (!booked) {
      this.queue.remove(id);
      this.threads.forget(id);
      const gone = { id, state: 'paused' as const, at: this.options.now() };
      this.options.onNews({ watches: [gone], deliveries: false });
      return null;
    }
    const elsewhere = settingsOf(before) !== settingsOf(booked.watch);
    if (elsewhere) this.afresh.add(id);
    this.reconcile(booked);
    const { watch, rules } = booked;
    if (rules.type === 'probe' && !watch.paused && (elsewhere || before?.paused !== false)) {
      this.queue.schedule(id, booked.host, this.options.now());
    }
    return booked.status.state;
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
      const booked = this.book.get(watchId) ?? (await this.book.reload([watchId]))[0];
      if (!booked) throw new Error(`There is no watch ${watchId}.`);
      if (booked.rules.type !== 'probe')
        throw new Error('A check-in watch waits to hear; there is nothing to look at.');
      await this.queue.runNow(watchId, booked.host);
      await this.book.flush();
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
    lineChanged: async () => {
      await this.line.load();
      return { out: await this.line.isOut() };
    },
    watchesChanged: async ({ watchIds }) => {
      const before = new Map(watchIds.map((id) => [id, this.book.get(id)?.watch]));
      const booked = await this.book.reload(watchIds);
      this.outbox.wake();
      const states = booked.map((one, i) => this.takeOver(watchIds[i]!, before.get(watchIds[i]!), one));
      await this.book.flush();
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
      await this.keeper.loadWindows();
      this.keeper.tick();
      await this.book.flush();
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
      await this.book.flush();
      await this.self.close();
      await this.outbox.close(OUTBOX_GRACE_MS);
      this.abort.abort();
      await this.threads.close();
    })();
    return this.closing;
  }
}
