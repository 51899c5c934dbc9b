import { DAY_MS } from '@/core/time/units';
import type { Knex } from 'knex';
import { nextTickOf } from '@/core/lifecycle/decide-checkin';
import { isOutOfDate } from '@/core/lifecycle/decide-probe';
import { retentionTime } from '@/core/history/retention-clock';
import { fetchHeardUntil } from '@/store/history/intake-gaps';
import { deleteEvidenceBefore } from '@/store/history/evidence';
import { deleteFindingsBefore, fetchNewestFindingAt } from '@/store/history/findings';
import { saveFileSize } from '@/store/db/file-size';
import { deleteAnswersBefore, deleteMessagesBefore, giveBackSpace } from '@/store/db/retention';
import { clearOutputsBefore, deleteReportsBefore } from '@/store/history/reports';
import { REPORT_CURSOR } from '@/store/history/recorder';
import { deleteRollupsBefore, fetchRollupCursor, saveRollups } from '@/store/history/rollups';
import { KEEP_DELETED_MS, purgeWatches } from '@/store/watches/deleted-watches';
import { fetchSetting, saveSetting } from '@/store/db/settings';
import { drillEnds } from '@/core/telling/ahead/drill';
import { transaction } from '@/store/db/connection';
import { fetchOverdueDrills, saveDrillEnd } from '@/store/messages/drills';
import { saveHappening } from '@/store/messages/happenings';
import {
  fetchUntoldWindows,
  fetchWindows,
  saveWindowHappening,
  saveWindowTold,
  type MaintenanceWindow,
} from '@/store/maintenance/windows';
import { saveComing } from '@/store/maintenance/series';
import type { WatchRegistry } from './watch-registry';

/** A job that runs once a year leaves a history too; only its output is let go with the findings. */
const KEEP_REPORTS_MS = 400 * DAY_MS;
/** What was rolled up by the hour, and by the day. */
const KEEP_HOURS_MS = 400 * DAY_MS;
const KEEP_DAYS_MS = 5 * 366 * DAY_MS;
/** Findings may still arrive this long after their hour has ended. */
const LATE_FINDINGS_MS = 5 * 60_000;
/** So long nobody is judged after a jump of the clock: the front door notes meanwhile that it could not hear. */
const HOLD_AFTER_JUMP_MS = 3000;
/** The time by which things were let go of last. */
const LET_GO = 'let_go_at';

/** Messages and how they were delivered, losses of the line, troubles of our own. */
const KEEP_MESSAGES_MS = 400 * DAY_MS;

interface HousekeepingOptions {
  db: Knex;
  registry: WatchRegistry;
  now: () => number;
  monotonic: () => number;
  keepFindingsDays: number;
  /** While this machine cannot reach out, what did not arrive says nothing. */
  isBlind: () => boolean;
  /** Takes in what has arrived, and the times in which nothing could. */
  takeIn: () => Promise<void>;
  /** A window over a probe watch has closed: it wants a look. */
  onWindowClosed: (watchId: number) => void;
  /** Something is to be told that no watch has a part in. */
  onHappened: () => void;
  onError: (error: unknown) => void;
}

/** What has to be done by the clock: missed check-ins, maintenance windows, rollups, retention. */
export class Housekeeping {
  private windows: MaintenanceWindow[] = [];
  private sweptDayAt = -Infinity;
  private sweptAt: number | null = null;
  private holdUntil = -Infinity;
  private judging = false;

  constructor(private readonly options: HousekeepingOptions) {}

  async loadWindows(): Promise<void> {
    this.windows = await fetchWindows(this.options.db, this.options.now());
  }

  /** The clock was set, or the machine slept: nobody is judged until the front door has noted it. */
  clockJumped(): void {
    this.holdUntil = this.options.monotonic() + HOLD_AFTER_JUMP_MS;
    for (const { watch } of this.options.registry.all())
      this.options.registry.apply(watch.id, { type: 'clock' });
  }

  /** Once a second. */
  tick(): void {
    const { registry, now } = this.options;
    const at = now();
    const covered = new Set(
      this.windows.filter((w) => w.begins <= at && at < w.ends).flatMap((w) => w.covers),
    );
    for (const { watch, rules, status } of registry.all()) {
      const open = covered.has(watch.id);
      if (open && status.state !== 'maintenance' && status.state !== 'paused') {
        registry.apply(watch.id, { type: 'window', open: true });
      } else if (!open && status.state === 'maintenance') {
        registry.apply(watch.id, { type: 'window', open: false });
        this.options.onWindowClosed(watch.id);
      } else if (rules.type === 'probe' && isOutOfDate(status, rules, at)) {
        registry.apply(watch.id, { type: 'tick' });
      }
    }
    void this.judge()
      .then(() => this.tellByTheClock(at))
      .catch(this.options.onError);
  }

  /** Windows that begin and end are told, and rehearsals whose time is over end by themselves. */
  private async tellByTheClock(at: number): Promise<void> {
    const { db, onHappened } = this.options;
    const untold = await fetchUntoldWindows(db, at);
    for (const { window, stage } of untold) {
      await transaction(db, async (trx) => {
        // Two rounds may have found it.
        if (await saveWindowTold(trx, window.id, stage)) await saveWindowHappening(trx, window, stage, at);
      });
    }
    const overdue = await fetchOverdueDrills(db, at);
    for (const drill of overdue) {
      await transaction(db, async (trx) => {
        if (!(await saveDrillEnd(trx, drill.id, at))) return;
        for (const happening of drillEnds(drill, at)) await saveHappening(trx, happening, at);
      });
    }
    if (untold.length + overdue.length > 0) onHappened();
  }

  /**
   * Judges check-ins for the time in which the front door is known to have heard and kept them, and for none after it:
   * what may have come since lies before a closed door.
   */
  private async judge(): Promise<void> {
    if (this.judging) return;
    this.judging = true;
    try {
      const { db, registry, now, monotonic } = this.options;
      const heard = await fetchHeardUntil(db);
      // Whatever arrived by then is taken in before anybody is called missing.
      await this.options.takeIn();
      if (this.options.isBlind() || monotonic() < this.holdUntil) return;
      const at = Math.min(now(), heard ?? Infinity);
      for (const { watch, rules, status } of registry.all()) {
        if (rules.type !== 'checkin' || status.state === 'maintenance') continue;
        const tickAt = nextTickOf({ status }, rules);
        if (status.outage?.withheld || (tickAt !== null && tickAt <= at)) {
          registry.apply(watch.id, { type: 'tick', at });
        }
      }
    } finally {
      this.judging = false;
    }
  }

  /** The time by which things are let go of; a clock that jumped does not lead it. */
  private async letGoTime(): Promise<number> {
    const { db, now, monotonic } = this.options;
    const passedMs = this.sweptAt === null ? 0 : monotonic() - this.sweptAt;
    this.sweptAt = monotonic();
    const kept = await fetchSetting(db, LET_GO);
    const last = kept === null ? null : Number(kept);
    const newest = last === null ? await fetchNewestFindingAt(db) : null;
    const at = Math.round(retentionTime(now(), { last, newest, passedMs }));
    await saveSetting(db, LET_GO, String(at));
    return at;
  }

  /** Every few minutes: rolls whole hours up, then lets go of what is kept for a limited time only. */
  async sweep(): Promise<void> {
    const { db, registry, now, monotonic, keepFindingsDays } = this.options;
    await registry.flush();
    await saveRollups(db, now() - LATE_FINDINGS_MS);
    const at = await this.letGoTime();
    const before = Math.min(at - keepFindingsDays * DAY_MS, await fetchRollupCursor(db));
    const watchIds = registry.all().map(({ watch }) => watch.id);
    await deleteFindingsBefore(db, watchIds, before);
    await deleteEvidenceBefore(db, watchIds, before);
    if (monotonic() - this.sweptDayAt > DAY_MS) {
      this.sweptDayAt = monotonic();
      await deleteRollupsBefore(db, { hours: at - KEEP_HOURS_MS, days: at - KEEP_DAYS_MS });
      await purgeWatches(db, at - KEEP_DELETED_MS);
      await deleteMessagesBefore(db, at - KEEP_MESSAGES_MS);
      await deleteAnswersBefore(db, at - DAY_MS);
      await giveBackSpace(db);
    }
    await saveFileSize(db, now());
    const cursor = Number((await fetchSetting(db, REPORT_CURSOR)) ?? 0);
    await clearOutputsBefore(db, before);
    await deleteReportsBefore(db, at - KEEP_REPORTS_MS, cursor);
    await transaction(db, (trx) => saveComing(trx, now()));
    await this.loadWindows();
  }
}
