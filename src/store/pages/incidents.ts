import type { Knex } from 'knex';
import type { Stage } from '@/core/pages/incident';
import { transaction, type Db } from '@/store/db/connection';
import { turnTo, type ListPage } from '@/store/db/list-page';
import type { IncidentRow } from '@/store/db/tables';

export interface IncidentUpdate {
  id: number;
  at: number;
  stage: Stage;
  /** Markdown (CommonMark). */
  body: string;
}

export interface Incident {
  id: number;
  pageId: number;
  title: string;
  began: number;
  ended: number | null;
  /** The newest first. */
  updates: IncidentUpdate[];
}

/** Incidents with their updates, of one page or of all. */
export async function fetchIncidents(
  db: Db,
  filter: { pageId?: number; open?: boolean },
  page: ListPage,
): Promise<Incident[]> {
  const query = db('incidents');
  if (filter.pageId !== undefined) query.where({ page_id: filter.pageId });
  if (filter.open === true) query.whereNull('ended');
  if (filter.open === false) query.whereNotNull('ended');
  return withUpdates(db, await turnTo(query, page, { at: 'began', id: 'id', end: 'ended' }));
}

export async function fetchIncident(db: Db, id: number): Promise<Incident | null> {
  return (await withUpdates(db, await db('incidents').where({ id })))[0] ?? null;
}

async function withUpdates(db: Db, rows: IncidentRow[]): Promise<Incident[]> {
  const updates = await db('incident_updates')
    .whereIn(
      'incident_id',
      rows.map((row) => row.id),
    )
    .orderBy('at', 'desc')
    .orderBy('id', 'desc');
  return rows.map((row) => ({
    id: row.id,
    pageId: row.page_id,
    title: row.title,
    began: row.began,
    ended: row.ended,
    updates: updates
      .filter((u) => u.incident_id === row.id)
      .map((u) => ({ id: u.id, at: u.at, stage: u.stage, body: u.body })),
  }));
}

export async function saveNewIncident(
  db: Knex,
  incident: { pageId: number; title: string; stage: Stage; body: string; at: number },
): Promise<number> {
  return transaction(db, async (trx) => {
    const [id] = await trx('incidents').insert({
      page_id: incident.pageId,
      title: incident.title,
      began: incident.at,
      ended: incident.stage === 'over' ? incident.at : null,
    });
    await trx('incident_updates').insert({
      incident_id: id,
      at: incident.at,
      stage: incident.stage,
      body: incident.body,
    });
    return id!;
  });
}

/** Adds an update; "over" closes the incident, and one that is over stays so from when it was. */
export async function saveIncidentUpdate(
  db: Knex,
  incidentId: number,
  update: { at: number; stage: Stage; body: string },
): Promise<void> {
  await transaction(db, async (trx) => {
    await trx('incident_updates').insert({ incident_id: incidentId, ...update });
    await trx('incidents')
      .where({ id: incidentId })
      .update({
        ended: update.stage === 'over' ? trx.raw('coalesce(ended, ?)', [update.at]) : null,
      });
  });
}

export async function saveIncidentTitle(db: Db, id: number, title: string): Promise<void> {
  await db('incidents').where({ id }).update({ title });
}

export async function deleteIncident(db: Db, id: number): Promise<boolean> {
  return (await db('incidents').where({ id }).delete()) > 0;
}
