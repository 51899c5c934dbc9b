import type { CauseCode, CauseDetail } from '@/core/causes/causes';
import type { Evidence } from '@/core/causes/finding';
import { inChunks } from '@/store/db/chunks';
import { withRawConnection, type Db } from '@/store/db/connection';
import { turnTo, type ListPage } from '@/store/db/list-page';
import type { OutageRow } from '@/store/db/tables';

export interface Outage {
  id: number;
  watchId: number;
  began: number;
  noticed: number;
  ended: number | null;
  cause: CauseCode;
  causes: CauseCode[];
  detail: CauseDetail;
  evidence: Evidence | null;
  /** The watch whose outage it follows from. */
  follows: number | null;
  /** Why it is left out of figures; null where it counts. */
  leftOut: string | null;
}

function outageOf(row: OutageRow): Outage {
  return {
    id: row.id,
    watchId: row.watch_id,
    began: row.began,
    noticed: row.noticed,
    ended: row.ended,
    cause: row.cause as CauseCode,
    causes: JSON.parse(row.causes) as CauseCode[],
    detail: JSON.parse(row.detail) as CauseDetail,
    evidence: row.evidence ? (JSON.parse(row.evidence) as Evidence) : null,
    follows: row.follows,
    leftOut: row.left_out,
  };
}

/** An outage as figures need it: all of them, however many there are. */
export interface OutageSpan {
  id: number;
  watchId: number;
  began: number;
  ended: number | null;
  leftOut: string | null;
}

type SpanRow = [id: number, watchId: number, began: number, ended: number | null, leftOut: string | null];

/** The outages of some watches that overlap the time from `since` on, or up to `until`, the newest first. */
export async function fetchOutageSpans(
  db: Db,
  watchIds: readonly number[],
  since: number,
  until = Number.MAX_SAFE_INTEGER,
): Promise<OutageSpan[]> {
  const spans: OutageSpan[] = [];
  for (const ids of inChunks(watchIds)) {
    const rows = await withRawConnection(db, (raw) =>
      raw
        .prepare<number[], SpanRow>(
          `SELECT id, watch_id, began, ended, left_out FROM outages
           WHERE watch_id IN (${ids.map(() => '?').join()}) AND began < ? AND (ended IS NULL OR ended > ?)
           ORDER BY began DESC`,
        )
        .raw()
        .all(...ids, until, since),
    );
    for (const [id, watchId, began, ended, leftOut] of rows)
      spans.push({ id, watchId, began, ended, leftOut });
  }
  // Each piece of the ids is in order by itself.
  return spans.sort((a, b) => b.began - a.began);
}

/** When the last outage since a time ended, of all watches there are; null where there was none. */
export async function fetchLastOutageEnd(db: Db, since: number): Promise<number | null> {
  const rows: { ended: number }[] = await db('outages')
    .join('watches', 'watches.id', 'outages.watch_id')
    .whereNull('watches.deleted_at')
    .where('outages.ended', '>', since)
    .orderBy('outages.ended', 'desc')
    .limit(1)
    .select('outages.ended as ended');
  return rows[0]?.ended ?? null;
}

export interface OutageFilter {
  watchId?: number;
  open?: boolean;
}

const MOST_OUTAGES = 10_000;

/** Outages of watches that are not deleted. */
export async function fetchOutages(
  db: Db,
  filter: OutageFilter,
  page: ListPage = { limit: MOST_OUTAGES },
): Promise<Outage[]> {
  const query = db('outages')
    .join('watches', 'watches.id', 'outages.watch_id')
    .whereNull('watches.deleted_at')
    .select<OutageRow[]>('outages.*');
  if (filter.watchId !== undefined) query.where('watch_id', filter.watchId);
  if (filter.open === true) query.whereNull('ended');
  if (filter.open === false) query.whereNotNull('ended');
  const rows = await turnTo(query, page, { at: 'outages.began', id: 'outages.id', end: 'outages.ended' });
  return rows.map(outageOf);
}

/** How many outages there are of watches that are not deleted, and how many of them are not over. */
export async function countOutages(db: Db, watchId?: number): Promise<{ all: number; open: number }> {
  const query = db('outages')
    .join('watches', 'watches.id', 'outages.watch_id')
    .whereNull('watches.deleted_at');
  if (watchId !== undefined) void query.where('watch_id', watchId);
  const [row] = await query.select<{ all: number; open: number }[]>(
    db.raw('COUNT(*) AS "all", COALESCE(SUM(outages.ended IS NULL), 0) AS "open"'),
  );
  return { all: row!.all, open: row!.open };
}

/** The outages of some watches that are not over. */
export async function fetchOpenOutagesOf(db: Db, watchIds: readonly number[]): Promise<Outage[]> {
  const open: Outage[] = [];
  for (const ids of inChunks(watchIds)) {
    const rows = await db('outages').whereIn('watch_id', ids).whereNull('ended').orderBy(['began', 'id']);
    open.push(...rows.map(outageOf));
  }
  return open;
}

export async function fetchOutage(db: Db, id: number): Promise<Outage | null> {
  const row = await db('outages')
    .join('watches', 'watches.id', 'outages.watch_id')
    .whereNull('watches.deleted_at')
    .where('outages.id', id)
    .first<OutageRow | undefined>('outages.*');
  return row ? outageOf(row) : null;
}

/** Leaves an outage out of figures for a reason, or lets it count again. */
export async function saveLeftOut(db: Db, id: number, reason: string | null, at: number): Promise<void> {
  await db('outages')
    .where({ id })
    .update({ left_out: reason, left_out_at: reason === null ? null : at });
}

/** Whose outages they are, and since when. */
export async function fetchOutageNames(
  db: Db,
  ids: readonly number[],
): Promise<Map<number, { watchId: number; watch: string; began: number }>> {
  const rows = await db('outages')
    .join('watches', 'watches.id', 'outages.watch_id')
    .whereIn('outages.id', ids)
    .select('outages.id as id', 'watches.id as watchId', 'watches.name as watch', 'outages.began as began');
  return new Map(rows.map(({ id, ...one }) => [id as number, one]));
}

/** Names of the channels that got a message about each outage. */
export async function fetchTold(db: Db, outageIds: number[]): Promise<Map<number, string[]>> {
  const rows = await db('message_outages')
    .join('deliveries', 'deliveries.message_id', 'message_outages.message_id')
    .join('channels', 'channels.id', 'deliveries.channel_id')
    .whereIn('message_outages.outage_id', outageIds)
    .andWhere('deliveries.state', 'delivered')
    .orderBy('channels.name')
    .distinct<{ outageId: number; name: string }[]>(
      'message_outages.outage_id as outageId',
      'channels.name as name',
    );
  const told = new Map<number, string[]>();
  for (const row of rows) told.set(row.outageId, [...(told.get(row.outageId) ?? []), row.name]);
  return told;
}
