import type { Knex } from 'knex';
import { nextTickOf } from '../core/decide-checkin';
import { JUMP_MS } from '../store/ears';
import { deleteEvidenceBefore } from '../store/evidence';
import { deleteFindingsBefore } from '../store/findings';
import { clearOutputsBefore, deleteReportsBefore } from '../store/reports';
import { REPORT_CURSOR } from '../store/recorder';
import { deleteRollupsBefore, fetchRollupCursor, HOUR_MS, saveRollups } from '../store/rollups';
import { KEEP_DELETED_MS, purgeWatches } from '../store/deleted-watches';
import { fetchSetting } from '../store/settings';
import { fetchWindows, type MaintenanceWindow } from '../store/windows';
import type { WatchBook } from './watch-book';

const DAY_MS = 24 * HOUR_MS;
/** A job that runs once a year leaves a history too; only its output is let go with the findings. */
const KEEP_REPORTS_MS = 400 * DAY_MS;
const KEEP_ROLLUPS_MS = 5 * 366 * DAY_MS;
/** Findings may still arrive this long after their hour has ended. */
const LATE_FINDINGS_MS = 5 * 60_000;
/** So long nobody is judged after that: the front door notes meanwhile that it could not hear. */
const HOLD_AFTER_JUMP_MS = 3000;

/** What has to be done by the clock: missed check-ins, maintenance windows, rollups, retention. */
export class Keeper {
  private windows: MaintenanceWindow[] = [];
  private sweptDayAt = 0;
  private tickedAt: number | null = null;
  private holdUntil = 0;

  constructor(
    private readonly options: {
      db: Knex;
      book: WatchBook;
      now: () => number;
      keepFindingsDays: number;
      /** While this machine cannot reach out, what did not arrive says nothing. */
      isBlind: () => boolean;
      /** A window over a probe watch has closed: it wants a look. */
      onWindowClosed: (watchId: number) => void;
    },
  ) {}

  async loadWindows(): Promise<void> {
    this.windows = await fetchWindows(this.options.db, this.options.now());
  }

  /** Once a second. */
  tick(): void {
    const { book, now } = this.options;
    const at = now();
    // A clock that is set back holds no longer either: the hold is counted anew from where it stands then.
    if (this.tickedAt !== null && Math.abs(at - this.tickedAt) > JUMP_MS)
      this.holdUntil = at + HOLD_AFTER_JUMP_MS;
    this.tickedAt = at;
    const blind = this.options.isBlind() || at < this.holdUntil;
    const covered = new Set(
      this.windows.filter((w) => w.begins <= at && at < w.ends).flatMap((w) => w.watchIds),
    );
    for (const { watch, rules, status } of book.all()) {
      const open = covered.has(watch.id);
      if (open && status.state !== 'maintenance' && status.state !== 'paused') {
        book.apply(watch.id, { type: 'window', open: true });
      } else if (!open && status.state === 'maintenance') {
        book.apply(watch.id, { type: 'window', open: false });
        this.options.onWindowClosed(watch.id);
      } else if (rules.type === 'checkin' && !blind) {
        if (status.outage?.withheld) book.apply(watch.id, { type: 'tick' });
        const tickAt = nextTickOf({ status }, rules);
        if (tickAt !== null && tickAt <= at) book.apply(watch.id, { type: 'tick' });
      }
    }
  }

  /** Every few minutes: rolls whole hours up, then lets go of what is kept for a limited time only. */
  async sweep(): Promise<void> {
    const { db, book, now, keepFindingsDays } = this.options;
    await book.flush();
    await saveRollups(db, now() - LATE_FINDINGS_MS);
    const before = Math.min(now() - keepFindingsDays * DAY_MS, await fetchRollupCursor(db));
    const watchIds = book.all().map(({ watch }) => watch.id);
    await deleteFindingsBefore(db, watchIds, before);
    await deleteEvidenceBefore(db, before);
    if (now() - this.sweptDayAt > DAY_MS) {
      this.sweptDayAt = now();
      await deleteRollupsBefore(db, now() - KEEP_ROLLUPS_MS);
      await purgeWatches(db, now() - KEEP_DELETED_MS);
    }
    const cursor = Number((await fetchSetting(db, REPORT_CURSOR)) ?? 0);
    await clearOutputsBefore(db, before);
    await deleteReportsBefore(db, now() - KEEP_REPORTS_MS, cursor);
    await this.loadWindows();
  }
}
