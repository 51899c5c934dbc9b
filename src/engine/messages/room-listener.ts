import { MINUTE_MS } from '@/core/time/units';
import type { Knex } from 'knex';
import type { Heard } from '@/channels/frame/kind';
import { channelKind } from '@/channels/kinds/registry';
import { speechOf } from '@/core/languages/speech';
import { readAnswer, type HeardAnswer } from '@/core/messages/answers';
import { oneLine } from '@/core/messages/safe-text';
import { fetchChannel, fetchChannels, listensThere, type Channel } from '@/store/messages/channels';
import { openSecrets, type Vault } from '@/store/db/vault';
import { limitTime } from '@/outside/limit';
import type { ChannelLines } from './channel-lines';

/** So many answers of one channel are taken within a minute; more is somebody who plays. */
const MOST_A_MINUTE = 10;
const LONGEST_NAME = 60;
const REPLY_LIMIT_MS = 30_000;
/** A room that is away for less is come back to without a word. */
const DEAF_MS = 5 * MINUTE_MS;

interface RoomListenerOptions {
  db: Knex;
  vault: Vault;
  monotonic: () => number;
  lines: Pick<ChannelLines, 'of'>;
  /** Passes an answer on; whether there was anybody to take it. */
  onAnswer: (answer: HeardAnswer) => boolean;
  signal: AbortSignal;
  onError: (error: unknown) => void;
}

/** Hears in rooms who says that they have a trouble; what else is said there goes no further than here. */
export class RoomListener {
  private readonly heardAt = new Map<number, number[]>();
  /** Rooms that cannot be listened to: since when, by the monotonic clock, and why. */
  private readonly deafSince = new Map<number, { at: number; why: string }>();

  constructor(private readonly options: RoomListenerOptions) {}

  /** Goes where it is to listen; at the start, and when channels were changed. */
  async load(): Promise<void> {
    const wanted = new Set<number>();
    for (const channel of await fetchChannels(this.options.db)) {
      if (!channel.enabled || !listensThere(channel)) continue;
      wanted.add(channel.id);
      this.lineOf(channel)?.listen?.();
    }
    for (const id of this.deafSince.keys()) if (!wanted.has(id)) this.deafSince.delete(id);
  }

  private lineOf({ id, kind: name, settings }: Channel) {
    const kind = channelKind(name);
    if (!kind?.listens) return null;
    try {
      return this.options.lines.of(id, kind, openSecrets(this.options.vault, settings));
    } catch (error) {
      this.options.onError(error);
      return null;
    }
  }

  heard(channelId: number, { by, text, to }: Heard): void {
    const answer = readAnswer(text);
    if (!answer || !this.hasRoom(channelId)) return;
    const name = oneLine(by).slice(0, LONGEST_NAME).trim();
    if (this.options.onAnswer({ ...answer, channelId, by: name === '' ? '?' : name, to })) return;
    this.sayNotTaken(channelId, { by, text: '', to }).catch((error: unknown) => this.options.onError(error));
  }

  /** The desk is away: whoever answered is not left to believe that they have it. */
  private async sayNotTaken(channelId: number, to: Heard): Promise<void> {
    const channel = await fetchChannel(this.options.db, channelId);
    if (channel) await this.reply(channelId, speechOf(channel.language).say('answer.failed'), to);
  }

  /** A room that cannot be listened to; it is tried again. */
  deaf(channelId: number, why: string): void {
    const known = this.deafSince.get(channelId);
    this.deafSince.set(channelId, known ?? { at: this.options.monotonic(), why: oneLine(why) });
  }

  /** The line of a channel was opened: it is listened to again. */
  opened(channelId: number): void {
    this.deafSince.delete(channelId);
  }

  /** Rooms that could not be listened to for a while though they are to be, with why. */
  async deafRooms(): Promise<{ id: number; name: string; reason: string }[]> {
    const before = this.options.monotonic() - DEAF_MS;
    const deaf = [...this.deafSince].filter(([, { at }]) => at <= before);
    const rooms = await Promise.all(
      deaf.map(async ([id, { why }]) => {
        const channel = await fetchChannel(this.options.db, id);
        return channel?.enabled && listensThere(channel) ? { id, name: channel.name, reason: why } : null;
      }),
    );
    return rooms.filter((room) => room !== null);
  }

  private hasRoom(channelId: number): boolean {
    const now = this.options.monotonic();
    const times = (this.heardAt.get(channelId) ?? []).filter((at) => now - at < MINUTE_MS);
    this.heardAt.set(channelId, times);
    return times.length < MOST_A_MINUTE && times.push(now) > 0;
  }

  /** Says in a room why an answer could not be taken. */
  async reply(channelId: number, text: string, to: Heard): Promise<void> {
    const channel = await fetchChannel(this.options.db, channelId);
    const line = channel?.enabled ? this.lineOf(channel) : null;
    const limit = limitTime(REPLY_LIMIT_MS, this.options.signal);
    try {
      await line?.reply?.(text, to, limit.signal);
    } finally {
      limit.release();
    }
  }
}
