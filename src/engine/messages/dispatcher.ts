import type { Knex } from 'knex';
import type { Answer } from '@/channels/kind';
import { channelKind } from '@/channels/registry';
import { messageInWords, type MessagePlace } from '@/core/messages/kept-message';
import type { MessageText } from '@/core/messages/message';
import { GIVE_UP_AFTER_MS, LONGEST_RETRY_MS, retryDelayMs } from '@/core/messages/routing';
import { limitTime } from '@/outside/limit';
import { fetchChannel, type Channel } from '@/store/messages/channels';
import { openSecrets, type Vault } from '@/store/db/vault';
import {
  fetchDueDeliveries,
  fetchNextDeliveryAt,
  fetchWaitingChannels,
  pullDeliveries,
  saveAttempt,
  shiftDeliveries,
  type Attempt,
  type DueDelivery,
} from '@/store/messages/deliveries';

/** So many of a channel are taken at once. */
const BATCH = 20;
const LONGEST_SLEEP_MS = 60_000;
const RETRY_ROUND_MS = 2_000;
/** A channel whose answers cannot be noted is left alone for so long: else it would be sent the same again and again. */
const HOLD_MS = 15_000;
/** However a kind of channel limits itself, no hand-over takes longer. */
const HAND_OVER_LIMIT_MS = 60_000;

/** Hands a message over through a kind of channel; an unknown kind is an answer, not an error. */
export async function sendThrough(
  kind: string,
  sealed: object,
  text: MessageText,
  signal: AbortSignal,
  vault: Vault,
): Promise<Answer> {
  const channel = channelKind(kind);
  if (!channel) return { ok: false, retry: false, said: `There is no kind of channel called "${kind}".` };
  let settings: object;
  try {
    settings = openSecrets(vault, sealed);
  } catch (error) {
    return { ok: false, retry: true, ours: true, said: `Not sent: ${(error as Error).message}.` };
  }
  const limit = limitTime(HAND_OVER_LIMIT_MS, signal);
  const tooLong = new Promise<Answer>((resolve) =>
    limit.signal.addEventListener('abort', () =>
      resolve({ ok: false, retry: true, said: `No answer within ${HAND_OVER_LIMIT_MS / 1000} s` }),
    ),
  );
  try {
    return await Promise.race([channel.send(settings, text, limit.signal), tooLong]);
  } finally {
    limit.release();
  }
}

/**
 * Delivers what waits, at least once: an attempt is noted after the answer, so a crash between the two sends
 * again. One slow channel does not hold up the others.
 */
export class Dispatcher {
  private timer: NodeJS.Timeout | null = null;
  private readonly busy = new Map<number, Promise<void>>();
  private readonly abort = new AbortController();
  private closed = false;
  /** Attempts that were made and could not be noted yet, by delivery. */
  private readonly unsaved = new Map<number, Attempt>();
  /** Until when channels are left alone, by the monotonic clock. */
  private readonly heldUntil = new Map<number, number>();

  constructor(
    private readonly options: MessagePlace & {
      db: Knex;
      vault: Vault;
      now: () => number;
      onDelivered: () => void;
      onError: (error: unknown) => void;
    },
  ) {}

  /** Looks for due deliveries now. */
  wake(): void {
    if (this.closed) return;
    if (this.timer) clearTimeout(this.timer);
    this.timer = setTimeout(() => {
      this.timer = null;
      void this.round();
    }, 0);
  }

  /** The clock was set by so much: what waits keeps waiting as long as it would have. */
  async clockJumped(byMs: number): Promise<void> {
    await shiftDeliveries(this.options.db, byMs);
    this.wake();
  }

  /** What an earlier run planned by a clock that was wrong is planned anew. */
  async open(): Promise<void> {
    await pullDeliveries(this.options.db, this.options.now(), LONGEST_RETRY_MS);
    this.wake();
  }

  private async round(): Promise<void> {
    try {
      await this.startChannels();
    } catch (error) {
      // The database may be busy or full; what waits is looked for again.
      this.options.onError(error);
      this.sleep(RETRY_ROUND_MS);
    }
  }

  /** Every channel goes by itself: neither how slow another is nor how much waits there has a say. */
  private async startChannels(): Promise<void> {
    const { db, now, onError } = this.options;
    for (const channelId of await fetchWaitingChannels(db)) {
      if (this.isLeftAlone(channelId) || this.closed) continue;
      const deliveries = await fetchDueDeliveries(db, channelId, now(), BATCH);
      if (deliveries.length === 0) continue;
      const work = this.deliverInOrder(channelId, deliveries)
        .catch((error: unknown) => {
          this.heldUntil.set(channelId, performance.now() + HOLD_MS);
          onError(error);
        })
        .finally(() => {
          this.busy.delete(channelId);
          this.wake();
        });
      this.busy.set(channelId, work);
    }
    const left = [...this.busy.keys(), ...this.heldUntil.keys()].filter((id) => this.isLeftAlone(id));
    const next = await fetchNextDeliveryAt(db, left);
    if (next !== null) this.sleep(Math.min(LONGEST_SLEEP_MS, Math.max(250, next - now())));
    else if (this.heldUntil.size > 0) this.sleep(HOLD_MS);
  }

  private isLeftAlone(channelId: number): boolean {
    const until = this.heldUntil.get(channelId) ?? 0;
    if (until <= performance.now()) this.heldUntil.delete(channelId);
    return this.busy.has(channelId) || this.heldUntil.has(channelId);
  }

  private sleep(ms: number): void {
    if (this.closed || this.timer) return;
    this.timer = setTimeout(() => {
      this.timer = null;
      void this.round();
    }, ms);
  }

  /** A channel's messages go out one after the other, so that "up again" never overtakes "down". */
  private async deliverInOrder(channelId: number, deliveries: DueDelivery[]): Promise<void> {
    const { db } = this.options;
    for (const delivery of deliveries) {
      if (this.closed) return;
      const channel = await fetchChannel(db, channelId);
      // It may have been disconnected, or sent to rest, while others of the batch went out.
      if (!channel?.enabled) return;
      const attempt = this.unsaved.get(delivery.id) ?? (await this.attempt(channel, delivery));
      if (!attempt) return;
      this.unsaved.set(delivery.id, attempt);
      await saveAttempt(db, attempt);
      this.unsaved.delete(delivery.id);
      this.options.onDelivered();
      if (attempt.state === 'waiting') return;
    }
  }

  /** Hands one message over; null where that was called off. */
  private async attempt({ kind, settings }: Channel, delivery: DueDelivery): Promise<Attempt | null> {
    const { now, vault } = this.options;
    const text = delivery.message
      ? messageInWords(delivery.message, delivery.watchId, this.options)
      : delivery.text!;
    const answer = await sendThrough(kind, settings, text, this.abort.signal, vault);
    if (this.abort.signal.aborted) return null;
    const at = now();
    const old = at - delivery.createdAt > GIVE_UP_AFTER_MS && !answer.ours;
    const lasting = !answer.ok && (!answer.retry || old);
    return {
      deliveryId: delivery.id,
      at,
      ok: answer.ok,
      said: answer.said,
      state: answer.ok ? 'delivered' : lasting ? 'given-up' : 'waiting',
      nextAt: answer.ok ? at : at + retryDelayMs(delivery.attempts + 1),
    };
  }

  /** Waits a little for what is under way; what is cut short is sent again after the next start. */
  async close(graceMs: number): Promise<void> {
    this.closed = true;
    if (this.timer) clearTimeout(this.timer);
    const grace = setTimeout(() => this.abort.abort(), graceMs);
    await Promise.allSettled(this.busy.values());
    clearTimeout(grace);
  }
}
