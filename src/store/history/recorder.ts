import type Database from 'better-sqlite3';
import type { Knex } from 'knex';
import type { Evidence, FailedFinding, Finding } from '@/core/causes/finding';
import type { Status, StatusEvent } from '@/core/lifecycle/status';
import { withRawConnection } from '@/store/db/connection';
import type { WatchDigest } from '@/core/settings/watch-digest';
import type { Happening } from '@/core/telling/telling';
import { writeHappening } from '@/store/messages/happenings';
import { writeDigests } from '@/store/watches/digests';

/** Everything one look, report or tick brought about; written together or not at all. */
export interface Outcome {
  watchId: number;
  status: Status;
  events: StatusEvent[];
  /** The newest finding of a probe, kept whole until the next one. */
  finding?: Finding;
  /** The run time of a check-in's run, where it is known, and whether it went well. */
  run?: { at: number; fine: boolean; ms: number | null };
  /** The report this came from. */
  reportId?: number;
  /** A first failing look, or one with a new cause: its evidence is kept by itself. */
  keepEvidence?: FailedFinding;
  /** The evidence an outage that begins here is kept with. */
  outageEvidence?: Evidence;
  /** What lists and counts ask of the watch, where that has changed. */
  digest?: WatchDigest;
  /** What may be told, when there is something. */
  happenings?: { at: number; all: Happening[] };
}

/** How verdicts are kept: by their place in here. */
export const VERDICTS = ['fine', 'failed', 'slow'] as const;

/** Prepared statements of the hot path, on Knex's own connection. */
class Statements {
  readonly finding;
  readonly status;
  readonly closeStretch;
  readonly dropStretch;
  readonly openStretch;
  readonly closedStretch;
  readonly openOutage;
  readonly changeOutage;
  readonly currentOutage;
  readonly lastOutage;
  readonly closeOutage;
  readonly followOutage;
  readonly evidence;
  readonly runMs;
  readonly setting;
  readonly digest;

  constructor(readonly raw: Database.Database) {
    this.finding = raw.prepare(
      `INSERT OR REPLACE INTO findings (watch_id, at, verdict, us, cause, detail, value)
       VALUES (?, ?, ?, ?, ?, ?, ?)`,
    );
    this.status = raw.prepare(
      `UPDATE watch_status SET state = ?, since = ?, status = ?, last_finding = COALESCE(?, last_finding)
       WHERE watch_id = ?`,
    );
    this.closeStretch = raw.prepare(
      `UPDATE stretches SET ended = ? WHERE watch_id = ? AND began = ? AND kind = ?`,
    );
    this.dropStretch = raw.prepare(`DELETE FROM stretches WHERE watch_id = ? AND began = ? AND kind = ?`);
    this.openStretch = raw.prepare(
      `INSERT OR REPLACE INTO stretches (watch_id, began, kind, ended) VALUES (?, ?, ?, NULL)`,
    );
    this.closedStretch = raw.prepare(
      `INSERT OR REPLACE INTO stretches (watch_id, began, kind, ended) VALUES (?, ?, 'unobserved', ?)`,
    );
    this.openOutage = raw.prepare(
      `INSERT INTO outages (watch_id, began, noticed, ended, cause, causes, detail, evidence, follows)
       VALUES (?, ?, ?, NULL, ?, ?, ?, ?, ?)`,
    );
    this.currentOutage = raw.prepare<[number], { id: number; causes: string }>(
      `SELECT id, causes FROM outages WHERE watch_id = ? AND ended IS NULL ORDER BY began DESC LIMIT 1`,
    );
    this.lastOutage = raw.prepare<[number], { id: number }>(
      `SELECT id FROM outages WHERE watch_id = ? ORDER BY began DESC LIMIT 1`,
    );
    this.changeOutage = raw.prepare(`UPDATE outages SET causes = ? WHERE id = ?`);
    this.closeOutage = raw.prepare(`UPDATE outages SET ended = ? WHERE watch_id = ? AND ended IS NULL`);
    this.followOutage = raw.prepare(`UPDATE outages SET follows = ? WHERE watch_id = ? AND ended IS NULL`);
    this.evidence = raw.prepare(
      `INSERT OR REPLACE INTO evidence (watch_id, at, cause, detail, evidence) VALUES (?, ?, ?, ?, ?)`,
    );
    this.digest = writeDigests(raw);
    this.runMs = raw.prepare(`UPDATE reports SET run_ms = ? WHERE id = ?`);
    this.setting = raw.prepare(
      `INSERT INTO settings (key, value) VALUES (?, ?) ON CONFLICT (key) DO UPDATE SET value = excluded.value`,
    );
  }
}

/** The setting that says up to which report the engine has taken the inbox in. */
export const REPORT_CURSOR = 'report_cursor';

/** Writes outcomes in batches, each batch one transaction: findings, status, history, outages, messages. */
export class Recorder {
  private statements: Statements | null = null;

  constructor(private readonly db: Knex) {}

  /**
   * Writes outcomes, all in one transaction. Where one of them cannot be written each is tried by itself, and those
   * that still cannot are left out and answered: one bad row must not stop all writing. Throws, and has written
   * nothing, while it is the database itself that refuses.
   */
  async save(outcomes: readonly Outcome[]): Promise<LeftOut[]> {
    if (outcomes.length === 0) return [];
    return withRawConnection(this.db, (raw) => {
      this.statements ??= new Statements(raw);
      const s = this.statements;
      const write = raw.transaction((some: readonly Outcome[]) => {
        for (const outcome of some) saveOutcome(s, outcome);
        for (const [watchId, latest] of latestOf(some)) saveStatus(s, watchId, latest);
      });
      try {
        write.immediate(outcomes);
        return [];
      } catch (error) {
        if (!isOfOneRow(error)) throw error;
      }
      const left: LeftOut[] = [];
      for (const outcome of outcomes) {
        try {
          write.immediate([outcome]);
        } catch (error) {
          if (!isOfOneRow(error)) throw error;
          left.push({ outcome, error });
        }
      }
      return left;
    });
  }
}

/** What could not be written, and why. */
export interface LeftOut {
  outcome: Outcome;
  error: unknown;
}

/** Whether an error comes of what was to be written, and not of a database that is busy, full or broken. */
function isOfOneRow(error: unknown): boolean {
  const { code = '' } = (error ?? {}) as { code?: string };
  return (
    error instanceof TypeError ||
    error instanceof RangeError ||
    /^SQLITE_(CONSTRAINT|MISMATCH|TOOBIG)/.test(code)
  );
}

interface Latest {
  status: Status;
  finding: Finding | null;
  digest: WatchDigest | null;
}

/** Where each watch stands after a batch; what it passed through in between need not be written. */
function latestOf(outcomes: readonly Outcome[]): Map<number, Latest> {
  const latest = new Map<number, Latest>();
  for (const { watchId, status, finding, digest } of outcomes) {
    const before = latest.get(watchId);
    latest.set(watchId, {
      status,
      finding: finding ?? before?.finding ?? null,
      digest: digest ?? before?.digest ?? null,
    });
  }
  return latest;
}

function saveStatus(s: Statements, watchId: number, { status, finding, digest }: Latest): void {
  if (digest) s.digest(digest);
  s.status.run(
    status.state,
    status.since,
    JSON.stringify(status),
    finding ? JSON.stringify(finding) : null,
    watchId,
  );
}

function saveOutcome(s: Statements, outcome: Outcome): void {
  const { watchId, finding, run } = outcome;
  if (finding) {
    s.finding.run(
      watchId,
      finding.at,
      VERDICTS.indexOf(finding.verdict),
      Math.round(finding.ms * 1000),
      finding.cause ?? null,
      finding.detail ? JSON.stringify(finding.detail) : null,
      finding.evidence?.reading?.value ?? null,
    );
  }
  if (run) {
    const us = run.ms === null ? null : Math.round(run.ms * 1000);
    s.finding.run(watchId, run.at, run.fine ? 0 : 1, us, null, null, null);
  }
  if (outcome.keepEvidence) {
    const { at, cause, detail, evidence } = outcome.keepEvidence;
    s.evidence.run(watchId, at, cause, JSON.stringify(detail), JSON.stringify(evidence ?? {}));
  }
  for (const event of outcome.events) saveEvent(s, outcome, event);
  if (outcome.reportId !== undefined) s.setting.run(REPORT_CURSOR, String(outcome.reportId));
  if (outcome.happenings) {
    const outageId = s.lastOutage.get(watchId)?.id ?? null;
    for (const happening of outcome.happenings.all) {
      writeHappening(s.raw, { ...happening, outageId }, outcome.happenings.at);
    }
  }
}

function evidenceText({ outageEvidence, finding }: Outcome): string | null {
  const evidence = outageEvidence ?? finding?.evidence;
  return evidence ? JSON.stringify(evidence) : null;
}

function saveEvent(s: Statements, outcome: Outcome, event: StatusEvent): void {
  const { watchId } = outcome;
  switch (event.type) {
    case 'state':
      if (event.at > event.since) s.closeStretch.run(event.at, watchId, event.since, event.from);
      else s.dropStretch.run(watchId, event.since, event.from);
      s.openStretch.run(watchId, event.at, event.to);
      break;
    case 'unobserved':
      if (event.to > event.from) s.closedStretch.run(watchId, event.from, event.to);
      break;
    case 'outage-began':
      s.openOutage.run(
        watchId,
        event.began,
        event.noticed,
        event.cause,
        JSON.stringify([event.cause]),
        JSON.stringify(event.detail),
        evidenceText(outcome),
        event.withheld?.follows ?? null,
      );
      break;
    case 'outage-follows':
      s.followOutage.run(event.of, watchId);
      break;
    case 'outage-announced':
      s.followOutage.run(null, watchId);
      break;
    case 'warned':
      break;
    case 'outage-cause': {
      const open = s.currentOutage.get(watchId);
      if (!open) break;
      const causes = [...(JSON.parse(open.causes) as string[]), event.cause].slice(-20);
      s.changeOutage.run(JSON.stringify(causes), open.id);
      break;
    }
    case 'outage-ended':
      s.closeOutage.run(event.ended, watchId);
      break;
    case 'run-ended':
      if (outcome.reportId !== undefined) s.runMs.run(Math.round(event.ms), outcome.reportId);
      break;
  }
}
