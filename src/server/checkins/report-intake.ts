import type { Knex } from 'knex';
import { READABLE_PATH } from '@/core/reports/checkin-name';
import { RateLimiter } from '@/core/limits/rate-limiter';
import {
  fetchEndpointByKey,
  fetchEndpointByName,
  saveOldKeyUsed,
  type CheckinEndpoint,
  type OpenSection,
} from '@/store/watches/checkin-endpoints';
import type { Levels } from '@/core/settings/cascade';
import { fetchLevels } from '@/store/watches/cascade';
import { isFullError } from '@/store/db/connection';
import { saveReports, type NewReport } from '@/store/history/reports';

/** One job that reports more often than this in a row is slowed: no schedule asks for it. */
const REPORTS = { burst: 300, perSecond: 50, longestMs: 2000 };
/** Guessing at addresses and sending what cannot be read is slowed much sooner. */
const MISTAKES = { burst: 20, perSecond: 5, longestMs: 5000 };

/** A random key. */
const KEY = /^[\w-]{16,64}$/;
const MOST_DOORS = 20_000;
const OLD_KEY_NOTE_MS = 60_000;

export interface ReportIntakeOptions {
  db: Knex;
  now: () => number;
  onCommitted: () => void;
  /** Makes the check-in of a job that reports for the first time; null where there is no room for it. */
  makeFirstContact: (section: OpenSection, name: string, client: string) => Promise<number | null>;
}

interface Waiting {
  report: NewReport;
  resolve: () => void;
  reject: (error: unknown) => void;
}

/**
 * Where reports arrive, by whatever door they came. `keep` resolves only after the commit; all that gathered since the
 * last commit goes into the next one.
 */
export class ReportIntake {
  private doors = new Map<string, CheckinEndpoint>();
  /** What is set for many. */
  private levels: Promise<Levels> | null = null;
  private readonly reports = new RateLimiter(REPORTS);
  private readonly mistakes = new RateLimiter(MISTAKES);
  private readonly oldKeyNoted = new Map<number, number>();
  private waiting: Waiting[] = [];
  private committing: Promise<void> | null = null;
  /** Since when reports cannot be kept, ms since 1970; null while they can. */
  failingSince: number | null = null;

  constructor(private readonly options: ReportIntakeOptions) {}

  forgetKeys(): void {
    // Another one, not the same made empty: what is just being looked up may be of before, and is not to stay.
    this.doors = new Map();
    this.levels = null;
  }

  /** Where a key leads, or a section's secret and a readable name; null where it leads nowhere. */
  async doorOf(path: string, client: string): Promise<CheckinEndpoint | null> {
    const now = this.options.now();
    const { doors } = this;
    const known = doors.get(path);
    if (known && (known.oldUntil === null || known.oldUntil > now)) return known;
    const { db } = this.options;
    const [, secret, name] = READABLE_PATH.exec(path) ?? [];
    let door: CheckinEndpoint | null = null;
    if (secret !== undefined && name !== undefined) {
      const found = await fetchEndpointByName(db, secret, name, this.sharedLevels);
      if (found && 'mostNew' in found) {
        if (!(await this.firstContact(found, name, client))) return null;
        // What is set for its section and for all holds for the new one too.
        door = (await fetchEndpointByName(db, secret, name, this.sharedLevels)) as CheckinEndpoint | null;
      } else door = found;
    } else if (KEY.test(path)) door = await fetchEndpointByKey(db, path, now, this.sharedLevels);
    if (doors.size >= MOST_DOORS) doors.clear();
    if (door) doors.set(path, door);
    return door;
  }

  /** Read once, until something of it is said to have changed. */
  private readonly sharedLevels = (): Promise<Levels> => {
    if (this.levels) return this.levels;
    const reading = fetchLevels(this.options.db);
    this.levels = reading;
    reading.catch(() => {
      if (this.levels === reading) this.levels = null;
    });
    return reading;
  };

  /** Resolves once the report outlasts a crash. */
  async keep(door: CheckinEndpoint, report: Omit<NewReport, 'watchId' | 'at'>): Promise<void> {
    const { watchId } = door;
    const at = this.options.now();
    await this.commit({ ...report, watchId, at });
    if (door.oldUntil !== null) await this.noteOldKey(watchId, at);
  }

  /** Makes a sender wait who floods one watch with reports; others go on as before. */
  async slowReports(client: string, { watchId }: CheckinEndpoint): Promise<void> {
    await slowDown(this.reports, `${client} ${watchId}`);
  }

  /** Makes a sender wait who goes on guessing. */
  async slowMistakes(client: string): Promise<void> {
    await slowDown(this.mistakes, client);
  }

  /** An unknown, but well-formed name under a section that is open to new ones makes its own check-in. */
  private async firstContact(section: OpenSection, name: string, client: string): Promise<boolean> {
    return section.mostNew > 0 && (await this.options.makeFirstContact(section, name, client)) !== null;
  }

  /** Notes that somebody still uses the old key, at most once a minute. */
  private async noteOldKey(watchId: number, at: number): Promise<void> {
    if (at - (this.oldKeyNoted.get(watchId) ?? -Infinity) < OLD_KEY_NOTE_MS) return;
    this.oldKeyNoted.set(watchId, at);
    await saveOldKeyUsed(this.options.db, watchId, at);
  }

  private commit(report: NewReport): Promise<void> {
    return new Promise((resolve, reject) => {
      this.waiting.push({ report, resolve, reject });
      this.committing ??= new Promise<void>((next) => setImmediate(next))
        .then(() => this.commitWaiting())
        .finally(() => {
          this.committing = null;
        });
    });
  }

  private async commitWaiting(): Promise<void> {
    while (this.waiting.length > 0) {
      const batch = this.waiting;
      this.waiting = [];
      try {
        await saveReports(
          this.options.db,
          batch.map((w) => w.report),
        );
        for (const w of batch) w.resolve();
        this.options.onCommitted();
      } catch (error) {
        // What was done is worth more than what was printed.
        const lean = batch.filter((w) => w.report.output !== null);
        if (isFullError(error) && lean.length > 0) {
          this.waiting.unshift(...batch.map((w) => ({ ...w, report: { ...w.report, output: null } })));
          continue;
        }
        // Nobody is called missing for time in which knocking was in vain.
        this.failingSince ??= Math.min(...batch.map((w) => w.report.at));
        for (const w of batch) w.reject(error);
      }
    }
  }

  /** Resolves once everything accepted so far is committed. */
  async close(): Promise<void> {
    await this.committing;
  }
}

async function slowDown(gate: RateLimiter, sender: string): Promise<void> {
  const ms = gate.waitMs(sender, performance.now());
  if (ms > 0) await new Promise((resolve) => setTimeout(resolve, ms));
}
