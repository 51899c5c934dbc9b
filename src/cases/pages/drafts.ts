import { draftAccount, draftIncident } from '@/core/pages/draft';
import type { AffectedDraft, IncidentDraft } from '@/core/pages/incident';
import type { Db } from '@/store/db/connection';
import { fetchOutage, fetchOutages, type Outage } from '@/store/history/outages';
import { fetchIncident } from '@/store/pages/incidents';
import { fetchPages } from '@/store/pages/pages';
import { fetchShown } from '@/store/pages/shown';
import { orNotFound } from '@/cases/frame/find';
import { asks } from '@/cases/frame/use-case';

/** The lines of all pages that a watch stands in. */
async function fetchPublicLines(db: Db, watchId: number): Promise<{ label: string; pageId: number }[]> {
  const lines: { label: string; pageId: number }[] = [];
  for (const page of await fetchPages(db)) {
    for (const { items } of await fetchShown(db, page.sections)) {
      for (const { watchIds, label } of items) {
        if (watchIds.includes(watchId)) lines.push({ label, pageId: page.id });
      }
    }
  }
  return lines;
}

/** What the outage is of, and what else is down because of it. */
async function fetchAffected(db: Db, outage: Outage): Promise<AffectedDraft[]> {
  const open = outage.ended === null ? await fetchOutages(db, { open: true }) : [];
  const ids = [
    outage.watchId,
    ...open.filter(({ follows }) => follows === outage.watchId).map((one) => one.watchId),
  ];
  return [...new Set(ids)].map((watchId) => ({ watchId, how: 'out' }));
}

/** An incident as it would be told of an outage; nothing is kept, and nobody is told. */
export const draftIncidentOf = asks(
  'draftIncidentOf',
  'write',
  async ({ db, world }, { id }: { id: number }): Promise<IncidentDraft> => {
    const outage = orNotFound(await fetchOutage(db, id), `outage ${id}`);
    const lines = await fetchPublicLines(db, outage.watchId);
    return draftIncident(outage, lines, await fetchAffected(db, outage), world.place.zone);
  },
);

/** What happened, as it would be told once an incident is over. */
export const draftAccountOf = asks(
  'draftAccountOf',
  'write',
  async ({ db, world }, { id }: { id: number }): Promise<{ account: string }> => {
    const incident = orNotFound(await fetchIncident(db, id), `incident ${id}`);
    const outage = incident.outageId === null ? null : await fetchOutage(db, incident.outageId);
    return { account: draftAccount(incident, outage, world.place.zone) };
  },
);
