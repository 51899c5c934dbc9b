import { draftIncident } from '@/core/pages/draft';
import type { AffectedDraft, IncidentDraft } from '@/core/pages/incident';
import type { Db } from '@/store/db/connection';
import { fetchOutage, fetchOutages, type Outage } from '@/store/history/outages';
import { fetchPages } from '@/store/pages/pages';
import { fetchShown } from '@/store/pages/shown';

/** The lines of all pages that a watch stands in. */
async function fetchLinesOf(db: Db, watchId: number): Promise<{ label: string; pageId: number }[]> {
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

/** An incident as it would be told of an outage, in public words; null where there is no such outage. */
export async function fetchIncidentDraft(
  db: Db,
  outageId: number,
  zone: string,
): Promise<IncidentDraft | null> {
  const outage = await fetchOutage(db, outageId);
  if (!outage) return null;
  const lines = await fetchLinesOf(db, outage.watchId);
  return draftIncident(outage, lines, await fetchAffected(db, outage), zone);
}
