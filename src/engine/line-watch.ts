import type { Knex } from 'knex';
import type { LookupFunction } from 'node:net';
import { composeMessage } from '../core/message';
import { fetchLineAddresses, fetchOpenLineLoss, saveLineBack, saveLineLost } from '../store/line';
import { OwnLine } from './own-line';
import type { EngineNews } from './protocol';
import type { WatchBook } from './watch-book';

const REGULAR_MS = 30_000;

export interface LineWatchOptions {
  db: Knex;
  book: WatchBook;
  now: () => number;
  monotonic: () => number;
  lookup: LookupFunction;
  signal: AbortSignal;
  zone: string;
  linkBase: string;
  onNews: (news: EngineNews) => void;
  onMessage: () => void;
  lookAgain: (watchId: number) => void;
  onError: (error: unknown) => void;
}

/** Keeps an eye on this machine's own line: notes its losses, says so once, and has watches looked at again after. */
export class LineWatch {
  private readonly line: OwnLine;
  private askedAt = -Infinity;

  constructor(private readonly options: LineWatchOptions) {
    this.line = new OwnLine({ ...options, onChange: (change) => this.take(change) });
  }

  get out(): boolean {
    return this.line.out;
  }

  async load(): Promise<void> {
    this.line.set(await fetchLineAddresses(this.options.db));
    this.line.resume((await fetchOpenLineLoss(this.options.db))?.began ?? null);
  }

  isOut(anew = false): Promise<boolean> {
    return this.line.isOut(anew);
  }

  /** Once a second: asks now and then by itself, and often while the line is lost. */
  tick(): void {
    const now = this.options.monotonic();
    if (!this.line.out && now - this.askedAt < REGULAR_MS) return;
    this.askedAt = now;
    void this.line.isOut().catch(this.options.onError);
  }

  private async take({ out, began, at }: { out: boolean; began: number; at: number }): Promise<void> {
    const { db, book, zone, linkBase, onNews, onMessage, lookAgain } = this.options;
    const text = composeMessage(
      { kind: 'line', began, ended: out ? null : at },
      { watchName: '', link: linkBase, zone },
    );
    if (out) await saveLineLost(db, began, text);
    else {
      await saveLineBack(db, at, text);
      // What should have arrived in between could not; nobody is blamed for it.
      for (const { watch, rules } of book.all()) {
        if (rules.type === 'checkin') book.apply(watch.id, { type: 'gap', from: began, to: at });
        else if (!watch.paused) lookAgain(watch.id);
      }
    }
    onNews({ watches: [], deliveries: true });
    onMessage();
  }
}
