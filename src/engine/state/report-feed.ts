import type { Knex } from 'knex';
import { fetchReportsAfter } from '@/store/history/reports';
import { REPORT_CURSOR } from '@/store/history/recorder';
import { fetchSetting } from '@/store/db/settings';
import { clearIntakeGaps, readIntakeGaps, type IntakeGap } from '@/store/history/intake-gaps';
import type { WatchRegistry } from './watch-registry';

const BATCH = 500;

/**
 * Takes committed reports into the life of their watches, each once and in the order of arrival. How far it
 * came is written in the same transaction as what the reports brought about.
 */
export class ReportFeed {
  private cursor = 0;
  private draining: Promise<void> | null = null;
  private again = false;

  constructor(
    private readonly db: Knex,
    private readonly registry: WatchRegistry,
  ) {}

  async open(): Promise<void> {
    this.cursor = Number((await fetchSetting(this.db, REPORT_CURSOR)) ?? 0);
  }

  /** Takes in whatever has arrived. Calls while one is under way are joined to it. */
  drain(): Promise<void> {
    if (this.draining) {
      this.again = true;
      return this.draining;
    }
    this.draining = this.drainAll().finally(() => {
      this.draining = null;
    });
    return this.draining;
  }

  private async drainAll(): Promise<void> {
    do {
      this.again = false;
      // Time in which nobody could report comes into each life at its place among the reports.
      const noted = await readIntakeGaps(this.db);
      const gaps = [...noted];
      for (;;) {
        const reports = await fetchReportsAfter(this.db, this.cursor, BATCH);
        if (reports.length === 0) break;
        for (const report of reports) {
          this.passGaps(gaps, report.at);
          const { at, kind, code, run, took } = report;
          this.registry.apply(
            report.watchId,
            { type: 'report', report: { at, is: kind, code, run, took } },
            { reportId: report.id },
          );
          this.cursor = report.id;
        }
        await this.registry.flush();
      }
      this.passGaps(gaps, Infinity);
      await this.registry.flush();
      await clearIntakeGaps(this.db, noted);
    } while (this.again);
  }

  private passGaps(gaps: IntakeGap[], before: number): void {
    while (gaps.length > 0 && gaps[0]!.to <= before) {
      const { from, to } = gaps.shift()!;
      for (const { watch } of this.registry.all()) this.registry.apply(watch.id, { type: 'gap', from, to });
    }
  }
}
