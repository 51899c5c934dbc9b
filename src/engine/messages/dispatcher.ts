import { setTimeout as sleep } from 'node:timers/promises';
import type { Knex } from 'knex';
import { channelKind } from '@/channels/kinds/registry';
import { Pace } from '@/core/messages/pace';
import type { House } from '@/channels/frame/house';
import type { MessagePlace } from '@/core/messages/kept-message';
import { GIVE_UP_AFTER_MS, LONGEST_RETRY_MS, restMs, retryDelayMs, spread } from '@/core/messages/routing';
import {
  fetchChannel,
  fetchChannels,
  listensThere,
  restChannel,
  type Channel,
} from '@/store/messages/channels';
import { AttemptKeeper } from './attempt-keeper';
import { ChannelLines } from './channel-lines';
import { outgoingOf, sendThrough } from './hand-over';
import { OwnWords } from './own-words';
import { Rounds } from './rounds';
import { ensureTakeKey } from '@/store/messages/take-links';
import type { Vault } from '@/store/db/vault';
import * as store from '@/store/messages/deliveries';

/** So many of a channel are taken at once. */
const BATCH = 100;
/** A channel is read anew after so long, though nobody said that it was changed. */
const FRESH_MS = 1_000;
const LONGEST_SLEEP_MS = 60_000;
const RETRY_ROUND_MS = 2_000;
/** A channel whose answers cannot be noted is left alone for so long: else it would be sent the same again and again. */
const HOLD_MS = 15_000;
/** Of what another side calls a message, so much is kept. */
const MOST_REF = 300;

/** An attempt that was made, with what its answer asks for besides. */
interface Made extends store.Attempt {
  asked?: number;
  gone?: boolean;
}

/**
 * Delivers what waits, at least once: an attempt is noted after the answer, so a crash between the two sends
 * again. One slow channel does not hold up the others, and one message that cannot go not those of other conversations.
 */
export class Dispatcher {
  /** Its works go by the ids of channels. */
  private readonly rounds = new Rounds<number>(() => this.round());
  private key: Buffer | null = null;
  private readonly attempts: AttemptKeeper;
  /** Connections of channels that stay connected. */
  private readonly lines: ChannelLines;
  private readonly ownWords: OwnWords;
  /** Attempts that were made and could not be noted yet, by delivery. */
  private readonly unsaved = new Map<number, Made>();
  /** Until when channels are left alone, by the monotonic clock. */
  private readonly heldUntil = new Map<number, number>();
  /** How often channels were said to be changed. */
  private changes = 0;
  private readonly paces = new Map<number, Pace>();
  /** Channels that failed of late: how often one after the other, and until when they are left alone. */
  private readonly resting = new Map<number, { failures: number; until: number }>();

  constructor(
    private readonly options: MessagePlace & {
      db: Knex;
      vault: Vault;
      now: () => number;
      onDelivered: () => void;
      house: House;
      onError: (error: unknown) => void;
      /** Connections of channels that stay connected; its own, where nobody else uses them. */
      lines?: ChannelLines;
    },
  ) {
    this.lines = options.lines ?? new ChannelLines(options.onError);
    this.ownWords = new OwnWords(options.db);
    this.attempts = new AttemptKeeper((attempts) => store.saveAttempts(options.db, attempts));
  }

  /** Looks for due deliveries now. */
  wake(): void {
    this.rounds.wake();
  }

  /** Channels, or what is said in them, were changed: what those that rest or are gone keep open goes with them. */
  async channelsChanged(): Promise<void> {
    this.ownWords.changed();
    this.changes += 1;
    const channels = await fetchChannels(this.options.db);
    this.lines.keepOnly(new Set(channels.filter(({ enabled }) => enabled).map(({ id }) => id)));
    this.wake();
  }

  /** The clock was set by so much: what waits keeps waiting as long as it would have. */
  async clockJumped(byMs: number): Promise<void> {
    for (const rest of this.resting.values()) rest.until += byMs;
    await store.shiftDeliveries(this.options.db, byMs);
    this.wake();
  }

  /** What an earlier run planned by a clock that was wrong is planned anew. */
  async open(): Promise<void> {
    await store.pullDeliveries(this.options.db, this.options.now(), LONGEST_RETRY_MS);
    this.wake();
  }

  private async round(): Promise<void> {
    try {
      await this.startChannels();
    } catch (error) {
      // The database may be busy or full; what waits is looked for again.
      this.options.onError(error);
      this.rounds.sleep(RETRY_ROUND_MS);
    }
  }

  /** Every channel goes by itself: neither how slow another is nor how much waits there has a say. */
  private async startChannels(): Promise<void> {
    const { db, now, onError } = this.options;
    for (const channelId of await store.fetchWaitingChannels(db)) {
      if (this.isLeftAlone(channelId) || this.rounds.closed) continue;
      const deliveries = await store.fetchDueDeliveries(db, channelId, now(), BATCH);
      if (deliveries.length === 0) continue;
      this.rounds.begin(channelId, () =>
        this.deliverInOrder(channelId, deliveries)
          .catch((error: unknown) => {
            this.heldUntil.set(channelId, performance.now() + HOLD_MS);
            onError(error);
          })
          .finally(() => this.wake()),
      );
    }
    const known = [...this.rounds.busy.keys(), ...this.heldUntil.keys(), ...this.resting.keys()];
    const left = known.filter((id) => this.isLeftAlone(id));
    const rests = [...this.resting].filter(([id, { until }]) => until > now() && !this.rounds.busy.has(id));
    const dues = [await store.fetchNextDeliveryAt(db, left), ...rests.map(([, { until }]) => until)];
    const next = dues.reduce(
      (least, at) => (least === null || (at !== null && at < least) ? at : least),
      null,
    );
    if (next !== null) this.rounds.sleep(Math.min(LONGEST_SLEEP_MS, Math.max(250, next - now())));
    else if (this.heldUntil.size > 0) this.rounds.sleep(HOLD_MS);
  }

  private isLeftAlone(channelId: number): boolean {
    const until = this.heldUntil.get(channelId) ?? 0;
    if (until <= performance.now()) this.heldUntil.delete(channelId);
    const rests = (this.resting.get(channelId)?.until ?? 0) > this.options.now();
    return this.rounds.busy.has(channelId) || this.heldUntil.has(channelId) || rests;
  }

  /** One after the other; which may go is up to their conversations, so that "up again" never overtakes "down". */
  private async deliverInOrder(channelId: number, deliveries: store.DueDelivery[]): Promise<void> {
    const { db } = this.options;
    let went = false;
    let channel: Channel | null = null;
    let [readAt, changes] = [-Infinity, this.changes];
    for (const delivery of deliveries) {
      if (this.rounds.closed) return;
      // It may have been disconnected, or sent to rest, while others of the batch went out.
      if (performance.now() - readAt > FRESH_MS || changes !== this.changes) {
        [readAt, changes] = [performance.now(), this.changes];
        channel = await fetchChannel(db, channelId);
      }
      if (!channel?.enabled) return;
      if (!this.unsaved.has(delivery.id) && (await this.keepPace(channel))) {
        // While it waited, the channel may have been changed.
        readAt = performance.now();
        channel = await fetchChannel(db, channelId);
        if (this.rounds.closed || !channel?.enabled) return;
      }
      const attempt = this.unsaved.get(delivery.id) ?? (await this.attempt(channel, delivery));
      if (!attempt) return;
      this.unsaved.set(delivery.id, attempt);
      await this.attempts.keep(attempt);
      this.unsaved.delete(delivery.id);
      if (attempt.gone) {
        await restChannel(db, channelId, attempt.at);
        this.changes += 1;
      }
      this.options.onDelivered();
      if (attempt.state === 'delivered') this.resting.delete(channelId);
      // Where one has just gone, it is the message that cannot, and the next is tried.
      if (attempt.state === 'waiting' && !went) return this.leaveAlone(channelId, attempt);
      went = attempt.state === 'delivered';
    }
  }

  /** Waits where a room of this kind would find the next message too soon; answers whether it did. */
  private async keepPace({ id, kind }: Channel): Promise<boolean> {
    const limit = channelKind(kind)?.pace;
    if (!limit) return false;
    const pace = this.paces.get(id) ?? new Pace(limit, () => performance.now());
    this.paces.set(id, pace);
    const waitMs = pace.take();
    if (waitMs > 0) await sleep(waitMs, null, { signal: this.rounds.signal }).catch(() => undefined);
    return waitMs > 0;
  }

  /** It may be that the message cannot go, or that nothing can: the channel is tried with another one a little later. */
  private leaveAlone(channelId: number, { at, nextAt, asked }: Made): void {
    const failures = (this.resting.get(channelId)?.failures ?? 0) + 1;
    const until = Math.min(nextAt, at + Math.max(restMs(failures), asked ?? 0));
    this.resting.set(channelId, { failures, until });
  }

  /** Hands one message over; null where that was called off. */
  private async attempt(channel: Channel, delivery: store.DueDelivery): Promise<Made | null> {
    const { now, linkBase, zone } = this.options;
    const { id, kind, settings, language } = channel;
    const own = delivery.message ? await this.ownWords.of(id, delivery.message.event.kind) : null;
    const place = { linkBase, zone, language };
    const { outgoing, words, trouble } = outgoingOf(delivery, {
      ...{ place, own, takeKey: await this.takeKey() },
      listens: listensThere(channel),
    });
    if (own) await this.ownWords.note(own.id, trouble);
    const answer = await sendThrough(
      { kind, settings, lineOf: (of, open) => this.lines.of(id, of, open) },
      outgoing,
      this.rounds.signal,
      this.options,
    );
    if (this.rounds.signal.aborted) return null;
    const at = now();
    const old = at - delivery.createdAt > GIVE_UP_AFTER_MS && !answer.ours;
    const lasting = !answer.ok && (!answer.retry || old);
    return {
      deliveryId: delivery.id,
      at,
      ok: answer.ok,
      said: answer.said,
      state: answer.ok ? 'delivered' : lasting ? 'given-up' : 'waiting',
      nextAt: answer.ok
        ? at
        : at + Math.max(answer.retryAfterMs ?? 0, spread(retryDelayMs(delivery.attempts + 1), Math.random())),
      ...(answer.retryAfterMs !== undefined && { asked: answer.retryAfterMs }),
      ...(answer.gone && { gone: true }),
      ...(answer.ref !== undefined && { ref: answer.ref.slice(0, MOST_REF) }),
      ...(words && { words }),
    };
  }

  /** The key links are signed with; without it a message goes without one. */
  private async takeKey(): Promise<Buffer | null> {
    try {
      this.key ??= await ensureTakeKey(this.options.db, this.options.vault);
      return this.key;
    } catch (error) {
      this.options.onError(error);
      return null;
    }
  }

  /** Waits a little for what is under way; what is cut short is sent again after the next start. */
  async close(graceMs: number): Promise<void> {
    await this.rounds.close(graceMs);
    await this.lines.close();
  }
}
