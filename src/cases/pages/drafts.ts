import { draftAccount } from '@/core/pages/draft';
import type { IncidentDraft } from '@/core/pages/incident';
import { fetchOutage } from '@/store/history/outages';
import { fetchIncident } from '@/store/pages/incidents';
import { fetchIncidentDraft } from '@/views/pages/incident-draft';
import { orNotFound } from '@/cases/frame/find';
import { asks } from '@/cases/frame/use-case';

/** An incident as it would be told of an outage; nothing is kept, and nobody is told. */
export const draftIncidentOf = asks(
  'draftIncidentOf',
  'write',
  async ({ db, world }, { id }: { id: number }): Promise<IncidentDraft> => {
    return orNotFound(await fetchIncidentDraft(db, id, world.place.zone), `outage ${id}`);
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
