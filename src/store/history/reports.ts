import type { Knex } from 'knex';
import type { ReportKind } from '@/core/lifecycle/status';
import type { RunReport } from '@/core/reports/runs';
import { inChunks } from '@/store/db/chunks';
import { prepared, withRawConnection, type Db } from '@/store/db/connection';
import { writeWhenFree } from '@/store/db/when-free';
import { turnTo, type ListPage } from '@/store/db/list-page';
import { untilNothing } from '@/store/db/steps';
import type { ReportRow } from '@/store/db/tables';

/** A report as it arrived at the check-in address. */
export interface NewReport {
  watchId: number;
  at: number;
  kind: ReportKind;
  code: number | null;
  run: string | null;
  method: string;
  address: string;
  output: string | null;
  /** How far a run is, as it says itself. */
  progress?: number | null;
  /** How long the run took by its own clock, in ms. */
  took?: number | null;
  /** Which program spoke. */
  agent?: string | null;
}

export interface KeptReport extends Required<NewReport> {
  id: number;
  runMs: number | null;
}

const INSERT = `INSERT INTO reports (watch_id, at, kind, code, run, method, address, output, progress, took, agent)
  VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`;

/**
 * Writes reports in one transaction, without the thread waiting while somebody else writes; once this resolves they
 * outlast a crash.
 */
export async function saveReports(db: Knex, reports: readonly NewReport[]): Promise<void> {
  await writeWhenFree(db, (raw) => {
    const insert = prepared(raw, INSERT);
    for (const r of reports) {
      const { progress = null, took = null, agent = null } = r;
      const said = [r.kind, r.code, r.run, r.method, r.address, r.output, progress, took, agent];
      insert.run(r.watchId, r.at, ...said);
    }
  });
}

function reportOf(row: ReportRow): KeptReport {
  return {
    id: row.id,
    watchId: row.watch_id,
    at: row.at,
    kind: row.kind as ReportKind,
    code: row.code,
    run: row.run,
    method: row.method,
    address: row.address,
    output: row.output,
    runMs: row.run_ms,
    progress: row.progress,
    took: row.took,
    agent: row.agent,
  };
}

/** Reports after a cursor, in the order in which they arrived. */
export async function fetchReportsAfter(db: Db, cursor: number, limit: number): Promise<KeptReport[]> {
  return (await db('reports').where('id', '>', cursor).orderBy('id').limit(limit)).map(reportOf);
}

/** One watch's reports. */
export async function fetchReports(db: Db, watchId: number, page: ListPage): Promise<KeptReport[]> {
  const query = turnTo(db('reports').where('watch_id', watchId), page, { at: 'at', id: 'id' });
  return (await query).map(reportOf);
}

/**
 * Where the last report stands that a run failed with, of those before a place and so many behind it; null where there
 * is none.
 */
export async function fetchLastFailed(
  db: Db,
  watchId: number,
  place: readonly [at: number, id: number] | undefined,
  behind: number,
): Promise<[at: number, id: number] | null> {
  type Place = [at: number, id: number];
  return withRawConnection(db, (raw) => {
    const until =
      place &&
      raw
        .prepare<[number, number, number, number], Place>(
          `SELECT at, id FROM reports WHERE watch_id = ? AND (at, id) > (?, ?) ORDER BY at, id LIMIT 1 OFFSET ?`,
        )
        .raw()
        .get(watchId, ...place, behind);
    const found = raw
      .prepare<[number, number, number], Place>(
        `SELECT at, id FROM reports
         WHERE watch_id = ? AND (at, id) < (?, ?) AND (kind = 'failed' OR (kind = 'done' AND code <> 0))
         ORDER BY at DESC, id DESC LIMIT 1`,
      )
      .raw()
      .get(watchId, ...(until ?? ([Number.MAX_SAFE_INTEGER, 0] as const)));
    return found ?? null;
  });
}

const ROWS_AT_ONCE = 500;

/** Lets go of reports before a time, up to the cursor the engine has reached, in small steps. */
export async function deleteReportsBefore(db: Knex, before: number, cursor: number): Promise<void> {
  await untilNothing(
    db,
    `DELETE FROM reports WHERE at < ? AND id <= ?
       AND id IN (SELECT id FROM reports ORDER BY id LIMIT ${ROWS_AT_ONCE})`,
    [before, cursor],
  );
}

/** Lets go of the output of runs before a time, in small steps; the runs themselves stay. */
export async function clearOutputsBefore(db: Knex, before: number): Promise<void> {
  await untilNothing(
    db,
    `UPDATE reports SET output = NULL WHERE id IN
       (SELECT id FROM reports WHERE output IS NOT NULL AND at < ? ORDER BY at LIMIT ${ROWS_AT_ONCE})`,
    [before],
  );
}

/** How long the last measured run of each watch took, in milliseconds. */
export async function fetchLastRuns(db: Db, watchIds: readonly number[]): Promise<Map<number, number>> {
  const runs = new Map<number, number>();
  for (const ids of inChunks(watchIds)) {
    const last = db('reports')
      .whereRaw('reports.watch_id = watches.id')
      .whereNotNull('run_ms')
      .orderBy([
        { column: 'at', order: 'desc' },
        { column: 'id', order: 'desc' },
      ])
      .limit(1)
      .select('run_ms')
      .as('ms') as unknown as Knex.Raw;
    const rows: { id: number; ms: number | null }[] = await db('watches')
      .whereIn('id', ids)
      .select('id', last);
    for (const { id, ms } of rows) if (ms !== null) runs.set(id, ms);
  }
  return runs;
}

type TimeRow = [
  id: number,
  at: number,
  kind: ReportKind,
  code: number | null,
  run: string | null,
  progress: number | null,
  took: number | null,
];

/** One watch's newest reports since a time, in the order of arrival, without what they said and who spoke. */
export async function fetchReportTimes(
  db: Db,
  watchId: number,
  since: number,
  limit: number,
): Promise<RunReport[]> {
  // A job that talks all the time has tens of thousands: read as they lie.
  const rows = await withRawConnection(db, (raw) =>
    raw
      .prepare<[number, number, number], TimeRow>(
        `SELECT id, at, kind, code, run, progress, took FROM reports
         WHERE watch_id = ? AND at >= ? ORDER BY at DESC, id DESC LIMIT ?`,
      )
      .raw()
      .all(watchId, since, limit),
  );
  const unsaid = { output: null, address: '', agent: null };
  return rows.reverse().map(([id, at, kind, code, run, progress, took]) => ({
    id,
    at,
    kind,
    code,
    run,
    progress,
    took,
    ...unsaid,
  }));
}
