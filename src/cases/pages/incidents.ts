import type { IncidentKind, Stage } from '@/core/pages/incident';
import type { Db } from '@/store/db/connection';
import type { ListPage } from '@/store/db/list-page';
import * as store from '@/store/pages/incidents';
import { saveByItself } from '@/store/pages/public-texts';
import { fetchOutage } from '@/store/history/outages';
import { orNotFound } from '@/cases/frame/find';
import { withoutReadOnly } from '@/cases/frame/read-only';
import { refused } from '@/cases/frame/refusal';
import { asks, changes, type Act } from '@/cases/frame/use-case';
import { validateBody } from '@/cases/frame/validate';
import { refuseChanged, versionOf, type Expected, type VersionedChange } from '@/cases/frame/version';
import { readMoment } from '@/cases/schemas/common';
import {
  correctionSchema,
  incidentChangeSchema,
  incidentSchema,
  pageIncidentSchema,
  updateSchema,
} from '@/cases/schemas/incidents';
import { refreshLetters, takeBack, tellFollowers } from '@/cases/followers/telling';
import { mayBeTold } from './told-inside';
import { foundPage, refuseUnknownWatches } from './pages';
import { deletes } from '@/cases/frame/deletes';

/** Clocks of two machines differ by a little. */
const TOLERANCE_MS = 60_000;

export async function foundIncident(db: Db, id: number): Promise<store.Incident> {
  return orNotFound(await store.fetchIncident(db, id), `incident ${id}`);
}

export function incidentVersion({ id: _id, ...incident }: store.Incident): string {
  return versionOf(Object.entries(incident).sort(([a], [b]) => (a < b ? -1 : 1)));
}

function touched({ about, afterwards, world }: Act, { id, title, pageIds }: store.Incident): void {
  about({ kind: 'incident', id, name: title });
  afterwards(async () => {
    for (const pageId of pageIds) await world.hub.emit('pages', pageId);
  });
}

export const listIncidents = asks(
  'listIncidents',
  'look',
  (
    { db },
    { open, words, page }: { open?: boolean; words?: string; page: ListPage },
  ): Promise<store.Incident[]> =>
    store.fetchIncidents(
      db,
      { ...(open !== undefined && { open }), ...(words !== undefined && { words }) },
      page,
    ),
);

export const listIncidentsOfPage = asks(
  'listIncidentsOfPage',
  'look',
  async ({ db }, { id, page }: { id: number; page: ListPage }): Promise<store.Incident[]> =>
    store.fetchIncidents(db, { pageId: (await foundPage(db, id)).id }, page),
);

export const getIncident = asks('getIncident', 'look', ({ db }, { id }: { id: number }) =>
  foundIncident(db, id),
);

interface IncidentBody {
  title: string;
  stage: Stage;
  body: string;
  kind: IncidentKind;
  beganAt: string | null;
  endedAt: string | null;
  affected: store.AffectedWatch[];
  outageId: number | null;
  pageIds: number[];
}

async function refuseUnknownPages(db: Db, ids: readonly number[]): Promise<void> {
  for (const id of ids) {
    if (!(await foundPage(db, id).catch(() => null))) {
      throw refused([{ field: 'pageIds', message: `Expected known pages, got ${id}.` }]);
    }
  }
}

/** An incident has begun by now, and ended by now where it is over; a notice may be dated ahead. */
function refuseAhead(kind: IncidentKind, began: number, ended: number | null, now: number): void {
  if (kind === 'notice') return;
  const ahead = (at: number | null) => at !== null && at > now + TOLERANCE_MS;
  if (ahead(began)) {
    const message = 'Expected a beginning that lies in the past, for an incident tells what is.';
    throw refused([{ field: 'beganAt', message }]);
  }
  if (ahead(ended)) {
    const message = 'Expected an end that lies in the past, for an incident tells what is.';
    throw refused([{ field: 'endedAt', message }]);
  }
}

async function make(act: Act, sent: IncidentBody): Promise<store.Incident> {
  const { trx, now } = act;
  const { title, stage, body, kind, affected, outageId, pageIds } = sent;
  const began = readMoment(sent.beganAt) ?? now;
  refuseAhead(kind, began, readMoment(sent.endedAt), now);
  await refuseUnknownPages(trx, pageIds);
  await refuseUnknownWatches(
    trx,
    affected.map(({ watchId }) => watchId),
    'affected',
  );
  if (outageId !== null && !(await fetchOutage(trx, outageId))) {
    throw refused([{ field: 'outageId', message: `Expected an outage there is, got ${outageId}.` }]);
  }
  const over = kind === 'incident' && stage === 'over';
  const ended = readMoment(sent.endedAt) ?? (over ? now : null);
  const id = await store.saveNewIncident(trx, {
    ...{ kind, pageIds, title, affected, outageId, began },
    ended: kind === 'incident' && !over ? null : ended,
    ...{ account: '', accountAt: null, update: { at: now, stage, body } },
  });
  const incident = await foundIncident(trx, id);
  await mayBeTold(act, incident, { stage, body });
  await tellFollowers(act, incident);
  touched(act, incident);
  return incident;
}

export const createIncident = changes(
  'createIncident',
  'write',
  ({ body }: { body: unknown }) => validateBody<IncidentBody>(incidentSchema, body),
  make,
);

export const createIncidentOnPage = changes(
  'createIncidentOnPage',
  'write',
  async ({ id, body }: { id: number; body: unknown }) => ({
    ...(await validateBody<Omit<IncidentBody, 'pageIds'>>(pageIncidentSchema, body)),
    pageIds: [id],
  }),
  async (act, sent): Promise<store.Incident> => {
    await foundPage(act.trx, sent.pageIds[0]!);
    return make(act, sent);
  },
);

const READ_ONLY = ['kind', 'accountAt', 'outageId', 'updates'];

/** Changes what is set of an incident; what was told in updates is corrected there. */
export const changeIncident = changes(
  'changeIncident',
  'write',
  ({ id, body, expected }: VersionedChange) => ({ id, expected, sent: withoutReadOnly(body, READ_ONLY) }),
  async (act, { id, sent, expected }): Promise<store.Incident> => {
    const before = await foundIncident(act.trx, id);
    refuseChanged(expected, incidentVersion(before), 'this incident');
    interface ChangeBody {
      title: string;
      beganAt: string;
      endedAt: string | null;
      affected: store.AffectedWatch[];
      pageIds: number[];
      account: string;
    }
    const { title, affected, pageIds, account } = before;
    const valid = await validateBody<ChangeBody>(incidentChangeSchema, {
      ...{ title, affected, pageIds, account },
      beganAt: new Date(before.began).toISOString(),
      endedAt: before.ended === null ? null : new Date(before.ended).toISOString(),
      ...sent,
    });
    const [began, ended] = [readMoment(valid.beganAt)!, readMoment(valid.endedAt)];
    refuseAhead(before.kind, began, ended, act.now);
    if (before.kind === 'incident' && (ended === null) !== (before.ended === null)) {
      const message =
        ended === null
          ? 'Expected the end of an incident that is over; it opens again by an update with another stage.'
          : 'Expected no end, for this incident is open; it is closed by an update with the stage “over”.';
      throw refused([{ field: 'endedAt', message }]);
    }
    await refuseUnknownPages(act.trx, valid.pageIds);
    await refuseUnknownWatches(
      act.trx,
      valid.affected.map(({ watchId }) => watchId),
      'affected',
      before.affected.map(({ watchId }) => watchId),
    );
    await store.saveIncident(act.trx, id, {
      ...before,
      ...valid,
      began,
      ended,
      accountAt: valid.account === before.account ? before.accountAt : act.now,
    });
    const incident = await foundIncident(act.trx, id);
    await refreshLetters(act, incident);
    touched(act, { ...incident, pageIds: [...new Set([...before.pageIds, ...incident.pageIds])] });
    return incident;
  },
);

export const deleteIncident = deletes('deleteIncident', 'write', {
  find: foundIncident,
  version: incidentVersion,
  called: () => 'this incident',
  remove: async (trx, id) => {
    await takeBack(trx, id);
    await store.deleteIncident(trx, id);
  },
  touched,
});

/** Adds an update; "over" closes the incident. Where no stage is named it stays in the one it is in. */
export const addIncidentUpdate = changes(
  'addIncidentUpdate',
  'write',
  async ({ id, body, expected }: VersionedChange) => ({
    id,
    expected,
    ...(await validateBody<{ stage?: Stage; body: string; endedAt: string | null }>(
      updateSchema,
      withoutReadOnly(body, []),
    )),
  }),
  async (act, { id, stage, body, endedAt, expected }): Promise<store.Incident> => {
    const before = await foundIncident(act.trx, id);
    refuseChanged(expected, incidentVersion(before), 'this incident');
    const next = stage ?? before.updates[0]?.stage ?? 'looking';
    const ended = readMoment(endedAt);
    if (ended !== null && (ended <= before.began || ended > act.now + TOLERANCE_MS)) {
      const message = 'Expected an end after the beginning, and not ahead of now.';
      throw refused([{ field: 'endedAt', message }]);
    }
    // A notice has dates of its own, whatever its updates say.
    const told = { stage: next, body, at: act.now };
    if (before.kind === 'notice') await store.saveNoticeUpdate(act.trx, id, told);
    else await store.saveIncidentUpdate(act.trx, id, { ...told, ended: ended ?? act.now });
    // Whoever says how it goes on has it: it is not closed by itself any more.
    await saveByItself(act.trx, id, null);
    const incident = await foundIncident(act.trx, id);
    await mayBeTold(act, incident, { stage: next, body });
    await tellFollowers(act, incident);
    touched(act, incident);
    return incident;
  },
);

interface Correction {
  id: number;
  updateId: number;
  body: unknown;
  expected: Expected;
}

/** Corrects what an update says; it is marked as corrected, and what it said before is kept for the desk. */
export const correctIncidentUpdate = changes(
  'correctIncidentUpdate',
  'write',
  async ({ id, updateId, body, expected }: Correction) => ({
    ...{ id, updateId, expected },
    ...(await validateBody<{ body: string }>(correctionSchema, body)),
  }),
  async (act, { id, updateId, body, expected }): Promise<store.Incident> => {
    const before = await foundIncident(act.trx, id);
    refuseChanged(expected, incidentVersion(before), 'this incident');
    const update = orNotFound(
      before.updates.find((one) => one.id === updateId),
      `update ${updateId} of incident ${id}`,
    );
    if (update.body !== body) await store.saveCorrection(act.trx, update, body, act.now);
    const incident = await foundIncident(act.trx, id);
    await refreshLetters(act, incident);
    touched(act, incident);
    return incident;
  },
);

/** What the updates of an incident said before they were corrected. */
export const listEarlierTexts = asks(
  'listEarlierTexts',
  'look',
  async ({ db }, { id }: { id: number }): Promise<store.EarlierText[]> =>
    store.fetchEarlierTexts(db, (await foundIncident(db, id)).id),
);
