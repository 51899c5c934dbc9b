import type { Knex } from 'knex';
import { pullTelling, shiftTelling } from '@/core/telling/shift';
import { nextTellingAt, tellAll } from '@/core/telling/tell';
import {
  NOTHING_TOLD,
  USUAL_FOLDING,
  type Setup,
  type Telling,
  type TellingInput,
  type Told,
} from '@/core/telling/telling';
import { withMonths } from './month';
import { onceAMinute } from '@/engine/state/once-a-minute';
import { fetchSetup } from '@/store/messages/setup';
import { fetchUntold, type UntoldInput } from '@/store/messages/happenings';
import { fetchTelling, saveTold } from '@/store/messages/telling';

/** So many happenings go through the routes in one transaction. */
const BATCH = 500;
const LONGEST_SLEEP_MS = 60_000;
const RETRY_MS = 2_000;

interface TellerOptions {
  db: Knex;
  now: () => number;
  /** The zone months are those of. */
  zone: string;
  /** Something is to be handed over. */
  onSaid: () => void;
  onError: (error: unknown) => void;
}

/**
 * Takes what happened through the routes, in the order it happened, and what falls due by itself at its time. What it
 * remembers is written in the same transaction as what it says: whenever the process dies, nothing is said twice and
 * nothing is left out.
 */
export class Teller {
  private telling: Telling = NOTHING_TOLD;
  /** Read anew before the next round: at the start, when routes change, and after a write that failed. */
  private stale: 'all' | 'setup' | null = 'all';
  private setup: Setup = { routes: [], channels: new Set(), folding: USUAL_FOLDING };
  private timer: NodeJS.Timeout | null = null;
  private working: Promise<void> | null = null;
  private again = false;
  private closed = false;
  private readonly complain: (error: unknown) => void;

  constructor(private readonly options: TellerOptions) {
    this.complain = onceAMinute(options.onError);
  }

  /** Something happened; it is told now. */
  wake(): void {
    void this.work();
  }

  /** Routes or channels are other than before. */
  changed(): Promise<void> {
    this.stale ??= 'setup';
    return this.work();
  }

  /** Tells all there is to tell; one round at a time. */
  work(): Promise<void> {
    if (this.working) {
      this.again = true;
      return this.working;
    }
    this.working = this.rounds().finally(() => {
      this.working = null;
    });
    return this.working;
  }

  private async rounds(): Promise<void> {
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    try {
      do {
        this.again = false;
        while (await this.round());
      } while (this.again && !this.closed);
      this.sleep();
    } catch (error) {
      // The database may be busy or full; what could not be written is told again from what was kept.
      this.stale = 'all';
      this.complain(error);
      this.sleep(RETRY_MS);
    }
  }

  /** One transaction; whether there may be more to tell. */
  private async round(): Promise<boolean> {
    const { db, now, zone, onSaid } = this.options;
    if (this.stale) await this.load();
    const untold = await fetchUntold(db, BATCH);
    const at = now();
    const told = this.tellAll(untold, at);
    const idle = told.changedThreads.size === 0 && told.changedRooms.size === 0 && untold.length === 0;
    const says = await withMonths(db, told.says, zone);
    if (!idle) await saveTold(db, { ...told, says }, { happenings: untold.map(({ id }) => id), at });
    this.telling = told.telling;
    if (told.says.length > 0) onSaid();
    return untold.length === BATCH && !this.closed;
  }

  /** What cannot be told must not hold up what can: it is left out, and said. */
  private tellAll(untold: readonly UntoldInput[], at: number): Told {
    const inputs = untold.flatMap(({ id, input }) => {
      if (input === null) this.options.onError(new Error(`left out of what is told: happening ${id}`));
      return input ?? [];
    });
    try {
      return tellAll(this.telling, inputs, at, this.setup);
    } catch {
      const good: TellingInput[] = [];
      for (const input of inputs) {
        try {
          tellAll(this.telling, [...good, input], at, this.setup);
          good.push(input);
        } catch (error) {
          this.options.onError(new Error('left out of what is told', { cause: error }));
        }
      }
      return tellAll(this.telling, good, at, this.setup);
    }
  }

  private async load(): Promise<void> {
    const { db } = this.options;
    this.setup = (await fetchSetup(db)).setup;
    if (this.stale === 'all') {
      this.telling = pullTelling(await fetchTelling(db), this.options.now(), this.setup.folding);
    }
    this.stale = null;
  }

  private sleep(ms?: number): void {
    if (this.closed) return;
    const next = nextTellingAt(this.telling, this.setup.folding);
    if (ms === undefined && next === null) return;
    const wait = ms ?? Math.min(LONGEST_SLEEP_MS, Math.max(10, next! - this.options.now()));
    this.timer = setTimeout(() => this.wake(), wait);
  }

  /** The clock was set by so much: what waits keeps waiting as long as it would have. */
  async clockJumped(byMs: number): Promise<void> {
    await this.work();
    const at = this.options.now();
    const told = shiftTelling(this.telling, byMs);
    await saveTold(this.options.db, told, { happenings: [], at });
    this.telling = told.telling;
    await this.work();
  }

  /** Tells what is there, and stops. */
  async close(): Promise<void> {
    await this.work();
    this.closed = true;
    if (this.timer) clearTimeout(this.timer);
  }
}
