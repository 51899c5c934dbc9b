import { DAY_MS } from '@/core/time/units';
import type { Knex } from 'knex';
import { causeSentence, isOurOwnFault, type CauseDetail } from '@/core/causes/causes';
import { graceOf } from '@/core/lifecycle/decide-probe';
import { formatBytes, formatDuration } from '@/core/time/duration';
import type { Finding } from '@/core/causes/finding';
import { namesText, type OwnTroubleCode } from '@/core/causes/own-trouble';
import { fetchBrokenTexts } from '@/store/messages/texts';
import { fetchBrokenCopies } from '@/store/pages/copies';
import { fetchStuckChannels } from '@/store/messages/deliveries';
import { isDeskFailing } from '@/store/history/desk-failing';
import { fetchOpenOwnTroubles, saveOwnTrouble, saveOwnTroubleOver } from '@/store/history/own-troubles';
import { countLocked, isKeyLost, takeKeyAsRight, type Vault } from '@/store/db/vault';
import type { DiskSpace } from './disk-space';
import type { EngineNews } from '@/engine/link/protocol';
import type { RegisteredWatch, WatchRegistry } from '@/engine/state/watch-registry';

const CHECK_MS = 5_000;
/** So often it is counted how much no key opens, while there is any. */
const COUNT_MS = 20_000;
/** A look that fails for a reason of our own is told after so many intervals. */
const OWN_FAULT_INTERVALS = 10;
/** A message that waits for longer than this after a first try is a channel in trouble. */
const STUCK_CHANNEL_MS = 15 * 60_000;
/** A clock that was set by more than this is told, and not only noted. */
const TOLD_BACK_MS = 60_000;
const TOLD_FORWARD_MS = DAY_MS;
/** What carries on as usual for a while in between is not over yet. */
const SPARE_MS = 60_000;

export interface SelfMonitorOptions {
  db: Knex;
  registry: WatchRegistry;
  vault: Vault;
  room: DiskSpace | null;
  now: () => number;
  monotonic: () => number;
  isBlind: () => boolean;
  /** Rooms that are to be listened to and cannot. */
  deafRooms: () => Promise<{ id: number; name: string; reason: string }[]>;
  onNews: (news: EngineNews) => void;
  onMessage: () => void;
  onError: (error: unknown) => void;
}

interface Wanted {
  code: OwnTroubleCode;
  subject?: string;
  detail: CauseDetail;
}

/** Keeps an eye on Calm Lantern itself: whatever of it stands still becomes a trouble that is seen and told. */
export class SelfMonitor {
  private readonly faultSince = new Map<number, { at: number; reason: string }>();
  private readonly open = new Map<string, Wanted>();
  private checkedAt = -Infinity;
  private countedAt = -Infinity;
  private checking: Promise<void> | null = null;
  private readonly startedAt: number;

  constructor(private readonly options: SelfMonitorOptions) {
    this.startedAt = options.monotonic();
  }

  async load(): Promise<void> {
    for (const { code, subject, detail } of await fetchOpenOwnTroubles(this.options.db)) {
      this.open.set(`${code} ${subject}`, { code, subject, detail });
    }
  }

  /** Notes whether a look could be carried out. */
  noteFinding(id: number, finding: Finding): void {
    const { cause, detail } = finding;
    // Without its line the machine says so by itself; parts that nothing is known of say so where they are.
    const ours = isOurOwnFault(cause) && cause !== 'look.no-line' && cause !== 'look.no-parts';
    if (!ours || !cause) this.faultSince.delete(id);
    else if (!this.faultSince.has(id)) {
      this.faultSince.set(id, { at: this.options.monotonic(), reason: causeSentence(cause, detail ?? {}) });
    }
  }

  /** Once a second; looks closer every few seconds. */
  tick(): void {
    const { monotonic } = this.options;
    if (monotonic() - this.checkedAt < CHECK_MS || this.checking) return;
    this.checkedAt = monotonic();
    this.checking = this.check()
      .catch(this.options.onError)
      .finally(() => (this.checking = null));
  }

  /** Notes a jump of the clock; it is over as it is noted. */
  async noteJump(byMs: number): Promise<void> {
    const { db, now } = this.options;
    const by = `${formatDuration(Math.abs(byMs))} ${byMs < 0 ? 'back' : 'forward'}`;
    const at = now();
    const wanted = { code: 'clock.jumped' as const, detail: { by } };
    // A machine that slept wakes up again every morning; that is noted, and no news.
    const isNews = byMs < -TOLD_BACK_MS || byMs > TOLD_FORWARD_MS;
    if (await saveOwnTrouble(db, { ...wanted, at, ended: at, told: isNews })) this.tell();
  }

  async close(): Promise<void> {
    await this.checking;
  }

  private async check(): Promise<void> {
    const wanted = [
      ...this.disk(),
      ...(await this.key()),
      ...(await this.desk()),
      ...this.looks(),
      ...(await this.channels()),
      ...(await this.texts()),
      ...(await this.copies()),
      ...(await this.rooms()),
    ];
    const { db, now } = this.options;
    const found = new Map(wanted.map((one) => [`${one.code} ${one.subject ?? ''}`, one]));
    let told = false;
    for (const [key, one] of found) {
      const known = this.open.get(key);
      if (known && JSON.stringify(known.detail) === JSON.stringify(one.detail)) continue;
      const at = now();
      told = (await saveOwnTrouble(db, { ...one, at, told: true })) || told;
      this.open.set(key, one);
    }
    for (const [key, one] of this.open) {
      if (found.has(key)) continue;
      const at = now();
      told = (await saveOwnTroubleOver(db, { ...one, at })) || told;
      this.open.delete(key);
    }
    if (told) this.tell();
  }

  private tell(): void {
    this.options.onNews({ watches: [], deliveries: true });
    this.options.onMessage();
  }

  private disk(): Wanted[] {
    const { room } = this.options;
    if (!room) return [];
    room.keepReserve();
    const state = room.state();
    if (state === 'enough') return [];
    // Rounded: it is not told anew for every page that is written.
    const left = formatBytes(Math.round(room.freeBytes / 1_000_000) * 1_000_000);
    return [{ code: `disk.${state}`, detail: { left, folder: room.folder } }];
  }

  private async key(): Promise<Wanted[]> {
    const { db, vault, monotonic } = this.options;
    const lost = await isKeyLost(db, vault);
    if (lost && monotonic() - this.countedAt > COUNT_MS) {
      this.countedAt = monotonic();
      // Where every secret was entered again, the present key is the right one.
      if ((await countLocked(db, vault)) === 0) {
        await takeKeyAsRight(db, vault);
        return [];
      }
    }
    return lost ? [{ code: 'key.lost', detail: { file: 'secrets.key' } }] : [];
  }

  private async desk(): Promise<Wanted[]> {
    return (await isDeskFailing(this.options.db)) ? [{ code: 'desk.failing', detail: {} }] : [];
  }

  private looks(): Wanted[] {
    const { registry, monotonic } = this.options;
    const at = monotonic();
    const stuck: string[] = [];
    const missing: string[] = [];
    let reason = '';
    for (const [id, fault] of this.faultSince) {
      const registered = registry.get(id);
      if (registered?.rules.type !== 'probe' || registered.watch.paused) this.faultSince.delete(id);
      else if (at - fault.at > registered.rules.everyMs * OWN_FAULT_INTERVALS) {
        stuck.push(registered.watch.name);
        reason ||= fault.reason;
      }
    }
    if (!this.options.isBlind()) {
      for (const registered of registry.all())
        if (this.isMissing(registered)) missing.push(registered.watch.name);
    }
    return [
      ...(stuck.length > 0
        ? [{ code: 'look.stuck' as const, detail: { names: namesText(stuck), reason } }]
        : []),
      ...(missing.length > 0
        ? [{ code: 'look.missing' as const, detail: { names: namesText(missing) } }]
        : []),
    ];
  }

  /** No look has come to an end for longer than the schedule and the time a look may take say. */
  private isMissing({ watch, rules, status }: RegisteredWatch): boolean {
    if (rules.type !== 'probe' || watch.paused || rules.cron || this.faultSince.has(watch.id)) return false;
    const allowed = 2 * rules.everyMs + graceOf(rules) + SPARE_MS;
    if (this.options.monotonic() - this.startedAt < allowed) return false;
    return this.options.now() - (status.lastAt ?? status.since) > allowed;
  }

  private async texts(): Promise<Wanted[]> {
    const broken = await fetchBrokenTexts(this.options.db);
    return broken.map(({ id, happening, channel, trouble }) => ({
      code: 'text.broken' as const,
      subject: String(id),
      detail: { name: channel === null ? happening : `${happening}, ${channel}`, reason: trouble },
    }));
  }

  private async copies(): Promise<Wanted[]> {
    const broken = await fetchBrokenCopies(this.options.db);
    return broken.map(({ id, title, problem }) => ({
      code: 'copy.failed' as const,
      subject: String(id),
      detail: { name: title, reason: problem },
    }));
  }

  private async rooms(): Promise<Wanted[]> {
    const deaf = await this.options.deafRooms();
    return deaf.map(({ id, name, reason }) => ({
      code: 'room.deaf' as const,
      subject: String(id),
      detail: { name, reason },
    }));
  }

  private async channels(): Promise<Wanted[]> {
    const { db, now } = this.options;
    const stuck = await fetchStuckChannels(db, now() - STUCK_CHANNEL_MS);
    return stuck.map(({ id, name, said }) => ({
      code: 'channel.stuck' as const,
      subject: String(id),
      detail: { name, said: said === '' ? 'it does not answer' : said },
    }));
  }
}
