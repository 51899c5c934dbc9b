import type { Knex } from 'knex';
import type { Answer } from '../channels/kind';
import { channelKind } from '../channels/registry';
import type { MessageText } from '../core/message';
import { GIVE_UP_AFTER_MS, retryDelayMs } from '../core/routing';
import { fetchChannel } from '../store/channels';
import { openSecrets, type Vault } from '../store/vault';
import { fetchDueDeliveries, fetchNextDeliveryAt, saveAttempt, type DueDelivery } from '../store/outbox';

const BATCH = 50;
const LONGEST_SLEEP_MS = 60_000;

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
    return { ok: false, retry: false, said: `Not sent: ${(error as Error).message}.` };
  }
  return channel.send(settings, text, signal);
}

/**
 * Delivers what waits, at least once: an attempt is noted after the answer, so a crash between the two sends
 * again. One slow channel does not hold up the others.
 */
export class Outbox {
  private timer: NodeJS.Timeout | null = null;
  private readonly busy = new Map<number, Promise<void>>();
  private readonly abort = new AbortController();
  private closed = false;

  constructor(
    private readonly options: {
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
      this.round().catch(this.options.onError);
    }, 0);
  }

  private async round(): Promise<void> {
    const { db, now } = this.options;
    const due = await fetchDueDeliveries(db, now(), BATCH);
    const byChannel = new Map<number, DueDelivery[]>();
    for (const delivery of due) {
      byChannel.set(delivery.channelId, [...(byChannel.get(delivery.channelId) ?? []), delivery]);
    }
    for (const [channelId, deliveries] of byChannel) {
      if (this.busy.has(channelId)) continue;
      const work = this.deliverInOrder(channelId, deliveries)
        .catch(this.options.onError)
        .finally(() => {
          this.busy.delete(channelId);
          this.wake();
        });
      this.busy.set(channelId, work);
    }
    if (this.closed || this.timer || byChannel.size > 0) return;
    const next = await fetchNextDeliveryAt(db);
    if (next === null || this.closed || this.timer) return;
    const wait = Math.min(LONGEST_SLEEP_MS, Math.max(250, next - now()));
    this.timer = setTimeout(() => {
      this.timer = null;
      this.round().catch(this.options.onError);
    }, wait);
  }

  /** A channel's messages go out one after the other, so that "up again" never overtakes "down". */
  private async deliverInOrder(channelId: number, deliveries: DueDelivery[]): Promise<void> {
    const { db, now } = this.options;
    for (const delivery of deliveries) {
      if (this.closed) return;
      const channel = await fetchChannel(db, channelId);
      if (!channel) return;
      const answer = await sendThrough(
        channel.kind,
        channel.settings,
        delivery.text,
        this.abort.signal,
        this.options.vault,
      );
      if (this.abort.signal.aborted) return;
      const at = now();
      const lasting = !answer.ok && (!answer.retry || at - delivery.createdAt > GIVE_UP_AFTER_MS);
      await saveAttempt(db, {
        deliveryId: delivery.id,
        at,
        ok: answer.ok,
        said: answer.said,
        state: answer.ok ? 'delivered' : lasting ? 'given-up' : 'waiting',
        nextAt: answer.ok ? at : at + retryDelayMs(delivery.attempts + 1),
      });
      this.options.onDelivered();
      if (!answer.ok && answer.retry) return;
    }
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
