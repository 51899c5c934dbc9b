import type { Stage } from '@/core/pages/incident';
import type { Db } from '@/store/db/connection';
import type { ListPage } from '@/store/db/list-page';
import * as store from '@/store/pages/incidents';
import { orNotFound } from '@/cases/frame/find';
import { withoutReadOnly } from '@/cases/frame/read-only';
import { asks, changes, type Act } from '@/cases/frame/use-case';
import { validateBody } from '@/cases/frame/validate';
import { refuseChanged, versionOf, type VersionedChange } from '@/cases/frame/version';
import { incidentSchema, incidentTitleSchema, updateSchema } from '@/cases/schemas/pages';
import { saveHappening } from '@/store/messages/happenings';
import { foundPage } from './pages';
import { deletes } from '@/cases/frame/deletes';
import { fetchRoutesAbout } from '@/store/messages/routes-about';

async function found(db: Db, id: number): Promise<store.Incident> {
  return orNotFound(await store.fetchIncident(db, id), `incident ${id}`);
}

export function incidentVersion({ title, ended, updates }: store.Incident): string {
  return versionOf([title, ended, updates]);
}

function touched({ about, afterwards, world }: Act, { id, title, pageId }: store.Incident): void {
  about({ kind: 'incident', id, name: title });
  afterwards(() => world.hub.emit('pages', pageId));
}

/** Those inside who asked for it hear what the public was told. */
async function mayBeTold(
  { trx, now, afterwards, world }: Act,
  { id, title, pageId }: store.Incident,
  { stage, body }: { stage: Stage; body: string },
): Promise<void> {
  const { title: page, sections } = await foundPage(trx, pageId);
  const shown = sections.flatMap(({ items }) => items.map(({ watchId }) => watchId));
  const routes = await fetchRoutesAbout(trx, shown);
  const event = { kind: 'incident' as const, page, title, stage, body };
  await saveHappening(trx, { thread: `i${id}`, watch: null, phase: 'once', event, routes }, now);
  afterwards(() => world.engine.call('routesChanged', {}).catch(() => undefined));
}

export const listIncidents = asks(
  'listIncidents',
  'look',
  ({ db }, { open, page }: { open?: boolean; page: ListPage }): Promise<store.Incident[]> =>
    store.fetchIncidents(db, { ...(open !== undefined && { open }) }, page),
);

export const listIncidentsOfPage = asks(
  'listIncidentsOfPage',
  'look',
  async ({ db }, { id, page }: { id: number; page: ListPage }): Promise<store.Incident[]> =>
    store.fetchIncidents(db, { pageId: (await foundPage(db, id)).id }, page),
);

export const getIncident = asks('getIncident', 'look', ({ db }, { id }: { id: number }) => found(db, id));

export const createIncident = changes(
  'createIncident',
  'write',
  async ({ id, body }: { id: number; body: unknown }) => ({
    id,
    ...(await validateBody<{ title: string; stage: Stage; body: string }>(incidentSchema, body)),
  }),
  async (act, { id: pageId, title, stage, body }): Promise<store.Incident> => {
    await foundPage(act.trx, pageId);
    const id = await store.saveNewIncident(act.trx, { title, stage, body, pageId, at: act.now });
    const incident = await found(act.trx, id);
    await mayBeTold(act, incident, { stage, body });
    touched(act, incident);
    return incident;
  },
);

export const changeIncident = changes(
  'changeIncident',
  'write',
  async ({ id, body, expected }: VersionedChange) => {
    const sent = withoutReadOnly(body, ['pageId', 'beganAt', 'endedAt', 'updates']);
    return { id, expected, ...(await validateBody<{ title: string }>(incidentTitleSchema, sent)) };
  },
  async (act, { id, title, expected }): Promise<store.Incident> => {
    refuseChanged(expected, incidentVersion(await found(act.trx, id)), 'this incident');
    await store.saveIncidentTitle(act.trx, id, title);
    const incident = await found(act.trx, id);
    touched(act, incident);
    return incident;
  },
);

export const deleteIncident = deletes('deleteIncident', 'write', {
  find: found,
  version: incidentVersion,
  called: () => 'this incident',
  remove: store.deleteIncident,
  touched,
});

/** Adds an update; "over" closes the incident. Where no stage is named it stays in the one it is in. */
export const addIncidentUpdate = changes(
  'addIncidentUpdate',
  'write',
  async ({ id, body, expected }: VersionedChange) => ({
    id,
    expected,
    ...(await validateBody<{ stage?: Stage; body: string }>(updateSchema, withoutReadOnly(body, []))),
  }),
  async (act, { id, stage, body, expected }): Promise<store.Incident> => {
    const before = await found(act.trx, id);
    refuseChanged(expected, incidentVersion(before), 'this incident');
    const next = stage ?? before.updates[0]?.stage ?? 'looking';
    await store.saveIncidentUpdate(act.trx, id, { stage: next, body, at: act.now });
    const incident = await found(act.trx, id);
    await mayBeTold(act, incident, { stage: next, body });
    touched(act, incident);
    return incident;
  },
);
