import { setMaxListeners } from 'node:events';
import type { Knex } from 'knex';
import type { LookupFunction } from 'node:net';
import { makeHandlers, type Handlers } from '@/engine/handlers';
import type { EngineNews } from '@/engine/link/protocol';
import { LookPlanner } from '@/engine/looks/look-planner';
import { runLook } from '@/engine/looks/look-runner';
import { LookThreads, type LookThreadsOptions } from '@/engine/looks/look-threads';
import { WatchLooker } from '@/engine/looks/watch-looker';
import { consentOf } from './messages/consent';
import { ChannelLines } from '@/engine/messages/channel-lines';
import { Dispatcher } from '@/engine/messages/dispatcher';
import { RoomListener } from '@/engine/messages/room-listener';
import { StateMirror } from '@/engine/messages/state-mirror';
import { Teller } from '@/engine/messages/teller';
import { ClockMonitor } from '@/engine/own/clock-monitor';
import { DiskSpace } from '@/engine/own/disk-space';
import { ProofOfLifeSender } from '@/engine/own/proof-of-life';
import { SelfMonitor } from '@/engine/own/self-monitor';
import { UplinkMonitor } from '@/engine/own/uplink-monitor';
import { FollowerPost } from '@/engine/followers/follower-post';
import { Housekeeping } from '@/engine/state/housekeeping';
import { ReportFeed } from '@/engine/state/report-feed';
import { WatchRegistry } from '@/engine/state/watch-registry';
import type { House } from '@/channels/frame/house';
import { fetchPushKeys } from '@/store/messages/push-keys';
import { partsOf } from '@/probes/diagnosis/watch-target';
import { isFullError } from '@/store/db/connection';
import type { Vault } from '@/store/db/vault';

export interface EngineOptions {
  db: Knex;
  vault: Vault;
  now: () => number;
  monotonic: () => number;
  lookup: LookupFunction;
  zone: string;
  /** Whether browsers of visitors may be pushed to by services of this network. */
  nearPushes?: boolean;
  linkBase: string;
  looksAtOnce: number;
  looksPerHost: number;
  /** Where looks are carried out; on the engine's own thread without it. */
  lookThreads?: Pick<LookThreadsOptions, 'script' | 'threads' | 'data'>;
  keepFindingsDays: number;
  /** The folder messages may run scripts from; none without it. */
  scripts?: string | null;
  /** The folder whose disk is looked after; none where the data lies nowhere. */
  dataFolder?: string;
  /** Answers whether anybody heard it. */
  onNews: (news: EngineNews) => boolean;
  onError: (error: unknown) => void;
}

const TICK_MS = 1000;
const SWEEP_MS = 5 * 60_000;
const OUTBOX_GRACE_MS = 5_000;

/** The long-running part: looks, the check-in inbox, the outbox, rollups and retention. */
export class Engine {
  private readonly registry: WatchRegistry;
  private readonly inbox: ReportFeed;
  private readonly outbox: Dispatcher;
  private readonly teller: Teller;
  private readonly house: House;
  private readonly housekeeping: Housekeeping;
  private readonly followers: FollowerPost;
  private readonly planner: LookPlanner;
  private readonly abort = new AbortController();
  private readonly timers: NodeJS.Timeout[] = [];
  private readonly line: UplinkMonitor;
  private readonly looker: WatchLooker;
  readonly handlers: Handlers;
  private readonly threads: LookThreads;
  private readonly self: SelfMonitor;
  private readonly clock: ClockMonitor;
  private readonly proof: ProofOfLifeSender;
  private readonly mirror: StateMirror;
  private readonly rooms: RoomListener;
  private closing: Promise<void> | null = null;

  constructor(
    private readonly options: EngineOptions,
    onStop: () => void,
  ) {
    const { db, now, onError, monotonic } = options;
    const room = options.dataFolder === undefined ? null : new DiskSpace(options.dataFolder);
    // Every ping of a ladder that is being walked listens for being called off.
    setMaxListeners(0, this.abort.signal);
    this.house = {
      notify: (notice) => void options.onNews({ watches: [], deliveries: false, notices: [notice] }),
      scripts: options.scripts ?? null,
      pushKeys: () => fetchPushKeys(db, options.vault),
      consent: consentOf({ db, vault: options.vault, now, linkBase: options.linkBase }),
    };
    const lines = new ChannelLines(onError, (channelId) => ({
      onOpen: () => {
        this.mirror.opened(channelId);
        this.rooms.opened(channelId);
      },
      onHeard: (heard) => this.rooms.heard(channelId, heard),
      onDeaf: (why) => this.rooms.deaf(channelId, why),
    }));
    const onNews = (news: EngineNews) => {
      options.onNews(news);
      this.mirror.changed(news.watches.map(({ id }) => id));
    };
    this.outbox = new Dispatcher({
      db,
      lines,
      zone: options.zone,
      linkBase: options.linkBase,
      vault: options.vault,
      now,
      onError,
      onDelivered: () => onNews({ watches: [], deliveries: true }),
      house: this.house,
    });
    this.teller = new Teller({ db, now, zone: options.zone, onError, onSaid: () => this.outbox.wake() });
    this.registry = new WatchRegistry({
      db,
      now,
      zone: options.zone,
      onNews,
      onHappenings: () => this.teller.wake(),
      onState: (id, from, to) => this.looker.passOn(id, from, to),
      onError,
      onRefused: (error) => {
        if (isFullError(error)) room?.useReserve();
      },
      isFull: () => room?.state() === 'full',
    });
    this.mirror = new StateMirror({
      ...{ db, vault: options.vault, now, lines, onError },
      watches: this.registry,
      signal: this.abort.signal,
    });
    this.rooms = new RoomListener({
      ...{ db, vault: options.vault, monotonic, lines, onError },
      onAnswer: (answer) => options.onNews({ watches: [], deliveries: false, answers: [answer] }),
      signal: this.abort.signal,
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
      onWindowClosed: (id) => void this.planner.lookSoon(id),
      onHappened: () => this.teller.wake(),
      onError,
    });
    this.line = new UplinkMonitor({
      ...options,
      registry: this.registry,
      signal: this.abort.signal,
      onMessage: () => this.teller.wake(),
      lookAgain: (id) => void this.planner.lookSoon(id),
    });
    this.self = new SelfMonitor({
      ...options,
      registry: this.registry,
      room,
      deafRooms: () => this.rooms.deafRooms(),
      isBlind: () => this.line.out,
      onMessage: () => this.teller.wake(),
    });
    this.clock = new ClockMonitor({ now, monotonic }, (byMs) => void this.clockJumped(byMs).catch(onError));
    const { lookup, vault } = options;
    const other = (id: number) => {
      const registered = this.registry.get(id);
      return registered ? { name: registered.watch.name, state: registered.status.state } : null;
    };
    const runner = { now, monotonic, lookup, vault, other, signal: this.abort.signal };
    this.threads = new LookThreads({
      ...(options.lookThreads ?? { script: '', threads: 0, data: { dataFolder: '', hosts: '' } }),
      now,
      here: ({ kind, config }, before) => runLook(kind, config, runner, before),
      onlyHere: (watch) => partsOf(watch).length > 0,
      onError,
    });
    this.planner = new LookPlanner({
      registry: this.registry,
      now,
      monotonic,
      mostInFlight: options.looksAtOnce,
      mostPerHost: options.looksPerHost,
      run: (id) => this.looker.look(id).catch(onError),
    });
    this.looker = new WatchLooker({
      registry: this.registry,
      planner: this.planner,
      threads: this.threads,
      runner,
      isLineOut: (anew) => this.line.isOut(anew),
      onFinding: (id, finding) => this.self.noteFinding(id, finding),
    });
    this.proof = new ProofOfLifeSender({
      ...{ db, vault, now, monotonic, onError },
      zone: options.zone,
      isWell: () => room?.state() !== 'full',
      onSaid: () => this.outbox.wake(),
      signal: this.abort.signal,
    });
    this.followers = new FollowerPost({
      ...{ db, vault, now, monotonic, onError },
      ...{ linkBase: options.linkBase, zone: options.zone, nearPushes: options.nearPushes ?? false },
    });
    const { registry, planner, looker, threads, outbox, teller, line, housekeeping, proof } = this;
    this.handlers = makeHandlers({
      house: this.house,
      registry,
      planner,
      looker,
      runner,
      threads,
      outbox,
      teller,
      line,
      housekeeping,
      proof,
      followers: this.followers,
      drainInbox: () => this.drainInbox(),
      mirror: this.mirror,
      rooms: this.rooms,
      onNews,
      onStop,
      zone: options.zone,
      linkBase: options.linkBase,
    });
  }

  async start(): Promise<void> {
    this.threads.begin();
    await this.registry.load();
    await this.inbox.open();
    await this.housekeeping.loadWindows();
    await this.line.load();
    await this.self.load();
    await this.proof.load();
    await this.inbox.drain();
    // A clock that was wrong at the last run may have planned for times that will not come for long.
    for (const registered of this.registry.all()) {
      if ((registered.status.lastAt ?? 0) > this.options.now())
        this.registry.apply(registered.watch.id, { type: 'clock' });
      this.planner.reconcile(registered);
    }
    this.timers.push(
      setInterval(() => this.clock.glance(), TICK_MS),
      setInterval(() => this.self.tick(), TICK_MS),
      setInterval(() => this.housekeeping.tick(), TICK_MS),
      setInterval(() => void this.drainInbox(), TICK_MS),
      setInterval(() => this.line.tick(), TICK_MS),
      setInterval(() => this.proof.tick(), TICK_MS),
      setInterval(() => this.followers.tick(), TICK_MS),
      setInterval(() => void this.housekeeping.sweep().catch(this.options.onError), SWEEP_MS),
    );
    void this.housekeeping.sweep().catch(this.options.onError);
    await this.registry.catchUp();
    await this.mirror.load();
    await this.rooms.load();
    await this.teller.work();
    await this.outbox.open();
    await this.followers.open();
  }

  /** The wall clock was set, or the machine slept: what was planned by it is planned anew. */
  private async clockJumped(byMs: number): Promise<void> {
    this.housekeeping.clockJumped();
    for (const registered of this.registry.all()) this.planner.reconcile(registered);
    await this.teller.clockJumped(byMs);
    await this.outbox.clockJumped(byMs);
    await this.followers.clockJumped();
    await this.self.noteJump(byMs);
  }

  private drainInbox(): Promise<void> {
    return this.inbox.drain().catch(this.options.onError);
  }

  /** Stops taking work, waits for what is in flight, writes it, and lets go. Can be called twice. */
  close(): Promise<void> {
    this.closing ??= (async () => {
      for (const timer of this.timers) clearInterval(timer);
      await this.planner.close();
      await this.drainInbox();
      await this.registry.flush();
      await this.self.close();
      await this.teller.close();
      this.mirror.close();
      await Promise.all([this.outbox.close(OUTBOX_GRACE_MS), this.followers.close(OUTBOX_GRACE_MS)]);
      this.abort.abort();
      await this.threads.close();
    })();
    return this.closing;
  }
}
