import type { Knex } from 'knex';
import type { Affected, IncidentKind, Stage } from '@/core/pages/incident';
import { transaction, type Db } from '@/store/db/connection';
import { turnTo, type ListPage } from '@/store/db/list-page';
import type { IncidentRow } from '@/store/db/public-tables';

export interface IncidentUpdate {
  id: number;
  at: number;
  stage: Stage;
  /** Markdown (CommonMark). */
  body: string;
  correctedAt: number | null;
}

export interface AffectedWatch {
  watchId: number;
  how: Affected;
}

/** What is set of an incident, apart from its updates. */
export interface IncidentFacts {
  kind: IncidentKind;
  /** The pages it stands on. */
  pageIds: number[];
  title: string;
  began: number;
  ended: number | null;
  affected: AffectedWatch[];
  /** What happened and what will change, in Markdown; empty where nobody has written it. */
  account: string;
  accountAt: number | null;
  /** The outage it tells of. */
  outageId: number | null;
}

export interface Incident extends IncidentFacts {
  id: number;
  /** The newest first. */
  updates: IncidentUpdate[];
}

export interface IncidentFilter {
  pageId?: number;
  open?: boolean;
  kind?: IncidentKind;
  outageId?: number;
  /** Words that title, updates or account hold. */
  words?: string;
}

/** Incidents and notices with their updates, of one page or of all. */
export async function fetchIncidents(db: Db, filter: IncidentFilter, page: ListPage): Promise<Incident[]> {
  const query = db('incidents');
  const { pageId, open, kind, outageId, words } = filter;
  if (pageId !== undefined) {
    query.whereIn('incidents.id', db('incident_pages').where({ page_id: pageId }).select('incident_id'));
  }
  if (open === true) query.whereNull('ended');
  if (open === false) query.whereNotNull('ended');
  if (kind !== undefined) query.where({ kind });
  if (outageId !== undefined) query.where({ outage_id: outageId });
  if (words !== undefined) {
    const like = `%${words.replace(/[\\%_]/g, '\\$&')}%`;
    const holding = db('incident_updates').whereRaw(String.raw`body LIKE ? ESCAPE '\'`, [like]);
    query.where(
      (q) =>
        void q
          .whereRaw(String.raw`title LIKE ? ESCAPE '\'`, [like])
          .orWhereRaw(String.raw`account LIKE ? ESCAPE '\'`, [like])
          .orWhereIn('incidents.id', holding.select('incident_id')),
    );
  }
  return withParts(db, await turnTo(query, page, { at: 'began', id: 'id', end: 'ended' }));
}

export async function fetchIncident(db: Db, id: number): Promise<Incident | null> {
  return (await withParts(db, await db('incidents').where({ id })))[0] ?? null;
}

/** What the public was told of each of these outages, the newest where there are several. */
export async function fetchIncidentsOfOutages(
  db: Db,
  outageIds: readonly number[],
): Promise<Map<number, { id: number; title: string }>> {
  const rows = await db('incidents')
    .whereIn('outage_id', outageIds)
    .orderBy('id')
    .select('id', 'title', 'outage_id');
  return new Map(rows.map(({ id, title, outage_id }) => [outage_id!, { id, title }]));
}

/** When the incidents of a page began, the newest first. */
export function fetchIncidentBegins(db: Db, pageId: number): Promise<number[]> {
  return db('incidents')
    .whereIn('id', db('incident_pages').where({ page_id: pageId }).select('incident_id'))
    .where({ kind: 'incident' })
    .orderBy('began', 'desc')
    .pluck('began');
}

function byIncident<T extends { incident_id: number }>(rows: readonly T[]): Map<number, T[]> {
  const by = new Map<number, T[]>();
  for (const row of rows) by.set(row.incident_id, [...(by.get(row.incident_id) ?? []), row]);
  return by;
}

async function withParts(db: Db, rows: IncidentRow[]): Promise<Incident[]> {
  const ids = rows.map((row) => row.id);
  const updates = byIncident(
    await db('incident_updates').whereIn('incident_id', ids).orderBy('at', 'desc').orderBy('id', 'desc'),
  );
  const pages = byIncident(await db('incident_pages').whereIn('incident_id', ids).orderBy('page_id'));
  const watches = byIncident(await db('incident_watches').whereIn('incident_id', ids).orderBy('watch_id'));
  return rows.map((row) => ({
    id: row.id,
    kind: row.kind,
    pageIds: (pages.get(row.id) ?? []).map((one) => one.page_id),
    title: row.title,
    began: row.began,
    ended: row.ended,
    affected: (watches.get(row.id) ?? []).map(({ watch_id, how }) => ({ watchId: watch_id, how })),
    account: row.account,
    accountAt: row.account_at,
    outageId: row.outage_id,
    updates: (updates.get(row.id) ?? []).map((u) => ({
      id: u.id,
      at: u.at,
      stage: u.stage,
      body: u.body,
      correctedAt: u.corrected_at,
    })),
  }));
}

async function saveTies(trx: Db, id: number, { pageIds, affected }: IncidentFacts): Promise<void> {
  await trx('incident_pages').where({ incident_id: id }).delete();
  await trx('incident_watches').where({ incident_id: id }).delete();
  if (pageIds.length > 0) {
    await trx('incident_pages').insert(
      [...new Set(pageIds)].map((page_id) => ({ incident_id: id, page_id })),
    );
  }
  if (affected.length > 0) {
    // Of one that is named twice the last counts.
    const each = new Map(affected.map(({ watchId, how }) => [watchId, how]));
    const rows = [...each].map(([watch_id, how]) => ({ incident_id: id, watch_id, how }));
    await trx('incident_watches').insert(rows);
  }
}

function rowOf({ kind, title, began, ended, account, accountAt, outageId }: IncidentFacts) {
  return { kind, title, began, ended, account, account_at: accountAt, outage_id: outageId };
}

export async function saveNewIncident(
  db: Knex,
  { update, ...facts }: IncidentFacts & { update: { at: number; stage: Stage; body: string } },
): Promise<number> {
  return transaction(db, async (trx) => {
    const [id] = await trx('incidents').insert(rowOf(facts));
    await saveTies(trx, id!, facts);
    await trx('incident_updates').insert({ incident_id: id!, ...update });
    return id!;
  });
}

export async function saveIncident(db: Knex, id: number, facts: IncidentFacts): Promise<void> {
  await transaction(db, async (trx) => {
    await trx('incidents').where({ id }).update(rowOf(facts));
    await saveTies(trx, id, facts);
  });
}

/** Adds an update; "over" closes the incident, and one that is over stays so from when it was. */
export async function saveIncidentUpdate(
  db: Knex,
  incidentId: number,
  { ended, ...update }: { at: number; stage: Stage; body: string; ended: number },
): Promise<void> {
  await transaction(db, async (trx) => {
    await trx('incident_updates').insert({ incident_id: incidentId, ...update });
    await trx('incidents')
      .where({ id: incidentId })
      .update({ ended: update.stage === 'over' ? trx.raw('coalesce(ended, ?)', [ended]) : null });
  });
}

/** Adds an update to a notice, which begins and ends by its dates. */
export async function saveNoticeUpdate(
  db: Db,
  incidentId: number,
  update: { at: number; stage: Stage; body: string },
): Promise<void> {
  await db('incident_updates').insert({ incident_id: incidentId, ...update });
}

/** Corrects what an update says; what it said before is kept for the desk. */
export async function saveCorrection(
  db: Knex,
  { id, body }: IncidentUpdate,
  corrected: string,
  at: number,
): Promise<void> {
  await transaction(db, async (trx) => {
    await trx('incident_update_texts').insert({ update_id: id, at, body }).onConflict().ignore();
    await trx('incident_updates').where({ id }).update({ body: corrected, corrected_at: at });
  });
}

export interface EarlierText {
  updateId: number;
  /** Until when it stood. */
  at: number;
  body: string;
}

/** What the updates of an incident said before they were corrected, the latest first. */
export async function fetchEarlierTexts(db: Db, incidentId: number): Promise<EarlierText[]> {
  return db('incident_update_texts')
    .join('incident_updates', 'incident_updates.id', 'incident_update_texts.update_id')
    .where({ incident_id: incidentId })
    .orderBy('incident_update_texts.at', 'desc')
    .select(
      'incident_update_texts.update_id as updateId',
      'incident_update_texts.at as at',
      'incident_update_texts.body as body',
    );
}

export async function deleteIncident(db: Db, id: number): Promise<boolean> {
  return (await db('incidents').where({ id }).delete()) > 0;
}

/** Incidents that stand on no page but this one go with it. */
export async function deleteIncidentsOnlyOn(db: Db, pageId: number): Promise<void> {
  const elsewhere = db('incident_pages').whereNot({ page_id: pageId }).select('incident_id');
  const here = db('incident_pages').where({ page_id: pageId }).select('incident_id');
  await db('incidents').whereIn('id', here).whereNotIn('id', elsewhere).delete();
}
