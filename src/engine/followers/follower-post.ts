import type { Knex } from 'knex';
import { LONGEST_RETRY_MS, restMs } from '@/core/messages/routing';
import { DAY_MS, HOUR_MS, MINUTE_MS } from '@/core/time/units';
import type { SmtpSettings } from '@/channels/transport/smtp';
import { transaction } from '@/store/db/connection';
import { isSealed, openSecrets, type Vault } from '@/store/db/vault';
import { forgetUnsaid } from '@/store/followers/followers';
import * as store from '@/store/followers/letters';
import { fetchDueLetters, spreadLetter } from '@/store/followers/spreading';
import { fetchChannel } from '@/store/messages/channels';
import { fetchMailEndpoint } from '@/store/messages/mail-endpoint';
import { fetchPushKeys } from '@/store/messages/push-keys';
import { ensureTakeKey } from '@/store/messages/take-links';
import { fetchPages, type Page } from '@/store/pages/pages';
import { fetchLabels } from '@/store/pages/shown';
import { Rounds } from '@/engine/messages/rounds';
import { sendEvent, sendMail, sendPush, type PostPlace } from './letter-post';
import { noteOutcome } from './outcome';
import { saveWindowLetters } from './window-letters';

const BATCH = 50;
/** So many mail accounts and programs are spoken to at once. */
const AT_ONCE = 32;
const MOST_EVENTS = 500;
const LONGEST_SLEEP_MS = 60_000;
const SHORTEST_SLEEP_MS = 250;
const RETRY_ROUND_MS = 5_000;
/** Maintenance is looked at so often. */
const WINDOWS_EVERY_MS = 5_000;
const SWEEP_EVERY_MS = HOUR_MS;
/** Whoever was asked and said nothing is forgotten after this; letters after that. */
const KEEP_UNSAID_MS = 14 * DAY_MS;
const KEEP_LETTERS_MS = 400 * DAY_MS;

interface FollowerPostOptions {
  db: Knex;
  vault: Vault;
  now: () => number;
  monotonic: () => number;
  linkBase: string;
  zone: string;
  nearPushes: boolean;
  onError: (error: unknown) => void;
}

/**
 * Tells those who follow a page: gives each letter once to all who want it, and hands it over at least once. Each mail
 * account goes by itself, within what it takes an hour; programs that are slow hold up nobody but themselves.
 */
export class FollowerPost {
  /** Its works go by accounts, and by those who are told by themselves. */
  private readonly rounds = new Rounds<string>(() => this.round());
  /** Until when an account is left alone, by the monotonic clock, and how often it failed one after the other. */
  private readonly resting = new Map<string, { until: number; failures: number }>();
  private rounding = false;
  private again = false;
  private windowsAt = -Infinity;
  private sweptAt = -Infinity;

  constructor(private readonly options: FollowerPostOptions) {}

  async open(): Promise<void> {
    await store.pullLetters(this.options.db, this.options.now(), LONGEST_RETRY_MS);
    this.wake();
  }

  /** Once a second: what is told of maintenance goes by the clock. */
  tick(): void {
    const at = this.options.monotonic();
    if (this.rounds.closed || at - this.windowsAt < WINDOWS_EVERY_MS) return;
    this.windowsAt = at;
    saveWindowLetters(this.options.db, this.options.now())
      .then((any) => any && this.wake())
      .catch(this.options.onError);
  }

  async clockJumped(): Promise<void> {
    await store.pullLetters(this.options.db, this.options.now(), LONGEST_RETRY_MS);
    this.wake();
  }

  wake(): void {
    this.rounds.wake();
  }

  private async round(): Promise<void> {
    if (this.rounding) {
      this.again = true;
      return;
    }
    this.rounding = true;
    let sleepMs = RETRY_ROUND_MS;
    try {
      await this.sweep();
      await this.spreadDue();
      sleepMs = await this.start();
    } catch (error) {
      this.options.onError(error);
    } finally {
      this.rounding = false;
    }
    if (this.again) {
      this.again = false;
      this.wake();
    } else this.rounds.sleep(sleepMs);
  }

  private async sweep(): Promise<void> {
    const { db, now, monotonic } = this.options;
    if (monotonic() - this.sweptAt < SWEEP_EVERY_MS) return;
    this.sweptAt = monotonic();
    await transaction(db, (trx) => forgetUnsaid(trx, now() - KEEP_UNSAID_MS));
    await store.deleteLettersBefore(db, now() - KEEP_LETTERS_MS);
  }

  private async spreadDue(): Promise<void> {
    const { db, now } = this.options;
    const due = await fetchDueLetters(db, now());
    if (due.length === 0) return;
    const pages = new Map((await fetchPages(db)).map((page) => [page.id, page]));
    for (const letter of due) {
      const page = pages.get(letter.pageId);
      if (!page) continue;
      const shown = new Set((await fetchLabels(db, page)).values());
      await spreadLetter(db, letter, shown, now());
    }
    // There may be more than were taken at once.
    this.again = true;
  }

  /** Begins what is due and not begun; answers how long there is nothing else to do, in ms. */
  private async start(): Promise<number> {
    const { db, now, monotonic } = this.options;
    const nextAt = await store.fetchNextLetterAt(db);
    if (nextAt === null) return LONGEST_SLEEP_MS;
    if (nextAt > now()) return Math.min(LONGEST_SLEEP_MS, Math.max(SHORTEST_SLEEP_MS, nextAt - now()));
    const pages = await fetchPages(db);
    const accounts = new Map<number, Page[]>();
    for (const page of pages) {
      if (page.follow)
        accounts.set(page.follow.channelId, [...(accounts.get(page.follow.channelId) ?? []), page]);
    }
    for (const [channelId, theirs] of accounts) {
      this.begin(`mail ${channelId}`, () => this.sendMails(channelId, theirs));
    }
    await this.beginEach('webhook', pages);
    await this.beginEach('push', pages);
    const waits = [...this.resting.values()].map(({ until }) => until - monotonic()).filter((ms) => ms > 0);
    return Math.min(
      LONGEST_SLEEP_MS,
      Math.max(SHORTEST_SLEEP_MS, ...(waits.length > 0 ? [Math.min(...waits)] : [RETRY_ROUND_MS])),
    );
  }

  private begin(name: string, work: () => Promise<boolean>): void {
    if (this.rounds.closed || this.rounds.busy.has(name)) return;
    if ((this.resting.get(name)?.until ?? 0) > this.options.monotonic()) return;
    this.rounds.begin(name, () =>
      work()
        .then((more) => more && this.wake())
        .catch((error: unknown) => {
          // What cannot be noted would be sent again and again.
          this.rest(name, RETRY_ROUND_MS * 3);
          this.options.onError(error);
        }),
    );
  }

  private rest(name: string, ms: number): void {
    const failures = (this.resting.get(name)?.failures ?? 0) + 1;
    this.resting.set(name, { failures, until: this.options.monotonic() + ms });
  }

  private async place(): Promise<PostPlace> {
    const { db, vault, linkBase, zone, nearPushes } = this.options;
    const key = await ensureTakeKey(db, vault);
    return { linkBase, zone, nearPushes, key, signal: this.rounds.signal };
  }

  /** One mail account, one letter after the other; whether there may be more. */
  private async sendMails(channelId: number, pages: Page[]): Promise<boolean> {
    const { db, now, vault } = this.options;
    const name = `mail ${channelId}`;
    const channel = await fetchChannel(db, channelId);
    if (!channel?.enabled || channel.kind !== 'mail') {
      this.rest(name, MINUTE_MS);
      return false;
    }
    const settings = openSecrets(vault, channel.settings) as SmtpSettings;
    // An account that serves several pages takes what the most careful of them says.
    const perHour = Math.min(...pages.map(({ follow }) => follow!.perHour));
    const sent = await store.countSentBy(db, channelId, now() - HOUR_MS);
    const budget = perHour - sent.number;
    if (budget <= 0) {
      this.rest(name, Math.max(SHORTEST_SLEEP_MS, (sent.firstAt ?? now()) + HOUR_MS - now()));
      return false;
    }
    const byId = new Map(pages.map((page) => [page.id, page]));
    const due = await store.fetchDueLetterDeliveries(db, {
      ...{ kind: 'mail', pageIds: [...byId.keys()], now: now(), limit: Math.min(BATCH, budget) },
    });
    const place = await this.place();
    const door = await fetchMailEndpoint(db);
    const back = (page: Page) => (page.follow?.bounced && door.open ? door.domain : null);
    let went = false;
    for (const delivery of due) {
      if (this.rounds.closed) return false;
      const page = byId.get(delivery.letter.pageId)!;
      const answer = await sendMail(delivery, page, settings, { ...place, back: back(page) });
      if (this.rounds.signal.aborted) return false;
      await noteOutcome(this.options.db, this.options.now(), delivery, answer, channelId);
      // Where one has just gone, it is this one that cannot, and the next is tried.
      if (!answer.ok && answer.retry && !went) {
        this.rest(name, restMs((this.resting.get(name)?.failures ?? 0) + 1));
        return false;
      }
      went = answer.ok;
      if (answer.ok) this.resting.delete(name);
    }
    return due.length > 0;
  }

  /** Begins telling those something is due for: each by itself, and what is told to one in order. */
  private async beginEach(kind: 'webhook' | 'push', pages: Page[]): Promise<void> {
    const { db, now } = this.options;
    const byId = new Map(pages.map((page) => [page.id, page]));
    const due = await store.fetchDueLetterDeliveries(db, {
      ...{ kind, pageIds: [...byId.keys()], now: now(), limit: MOST_EVENTS },
    });
    const each = new Map<number, store.LetterDelivery[]>();
    for (const delivery of due) {
      each.set(delivery.follower.id, [...(each.get(delivery.follower.id) ?? []), delivery]);
    }
    for (const [id, line] of each) {
      if (this.rounds.busy.size >= AT_ONCE) return;
      this.begin(`to ${id}`, () => this.sendEach(line, byId));
    }
  }

  private async sendEach(line: store.LetterDelivery[], pages: ReadonlyMap<number, Page>): Promise<boolean> {
    const { db, vault } = this.options;
    const place = await this.place();
    for (const delivery of line) {
      if (this.rounds.closed) return false;
      const { secret } = delivery.follower;
      const opened = isSealed(secret) ? vault.open(secret) : (secret ?? '');
      const page = pages.get(delivery.letter.pageId)!;
      const answer =
        delivery.follower.kind === 'push'
          ? await sendPush(delivery, page, opened, place, await fetchPushKeys(db, vault))
          : await sendEvent(delivery, page, opened, place);
      if (this.rounds.signal.aborted) return false;
      await noteOutcome(this.options.db, this.options.now(), delivery, answer, null);
      if (!answer.ok) return false;
    }
    return true;
  }

  /** Waits a little for what is under way; what is cut short is sent again after the next start. */
  close(graceMs: number): Promise<void> {
    return this.rounds.close(graceMs);
  }
}
