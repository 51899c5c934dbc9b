import { standsAt, type Affected, type IncidentKind, type Stage } from '@/core/pages/incident';
import type { Db } from '@/store/db/connection';
import { announcedAt } from '@/core/maintenance/announced';
import { namesOn } from '@/store/pages/shown';
import type { ListPage } from '@/store/db/list-page';
import { fetchIncident, fetchIncidents, type Incident } from '@/store/pages/incidents';
import { fetchAnnounced, type MaintenanceWindow } from '@/store/maintenance/windows';

/** What the public reads of an incident or a notice: nothing of the outage behind it. */
export interface PublicIncident {
  id: number;
  kind: IncidentKind;
  title: string;
  began: number;
  ended: number | null;
  /** The newest first. */
  updates: { at: number; stage: Stage; body: string; correctedAt: number | null }[];
  account: string;
  /** What it does to which lines of this page. */
  affected: { label: string; how: Affected }[];
}

export interface PublicWindow {
  id: number;
  title: string;
  /** Markdown. */
  text: string;
  labels: string[];
  begins: number;
  ends: number;
  /** Since when the public may read of it. */
  announcedAt: number;
  seriesId: number | null;
}

/** More than anybody reads on one screen; the diary has them all. */
const MOST_OPEN = 50;

/** Labels of the lines of a page by the watches behind them. */
export type Labels = ReadonlyMap<number, string>;

export function publicIncident(incident: Incident, labels: Labels): PublicIncident {
  const affected = new Map<string, Affected>();
  for (const { watchId, how } of incident.affected) {
    const label = labels.get(watchId);
    if (label !== undefined && !affected.has(label)) affected.set(label, how);
  }
  const { id, kind, title, began, ended, account } = incident;
  return {
    id,
    kind,
    title,
    began,
    ended,
    account,
    updates: incident.updates.map(({ at, stage, body, correctedAt }) => ({ at, stage, body, correctedAt })),
    affected: [...affected].map(([label, how]) => ({ label, how })),
  };
}

/** What stands on a page at a moment: notices that have begun and not ended, and incidents that are not over. */
export async function fetchStanding(db: Db, pageId: number, now: number, labels: Labels) {
  const [open, notices] = await Promise.all([
    fetchIncidents(db, { pageId, open: true, kind: 'incident' }, { limit: MOST_OPEN }),
    fetchIncidents(db, { pageId, kind: 'notice' }, { since: now, limit: MOST_OPEN }),
  ]);
  return {
    open: open.map((incident) => publicIncident(incident, labels)),
    notices: notices.filter((one) => standsAt(one, now)).map((one) => publicIncident(one, labels)),
  };
}

/** Incidents of a page that are over, the newest first. */
export async function fetchOver(db: Db, pageId: number, page: ListPage, labels: Labels, words?: string) {
  const filter = { pageId, open: false, kind: 'incident' as const, ...(words !== undefined && { words }) };
  return (await fetchIncidents(db, filter, page)).map((incident) => publicIncident(incident, labels));
}

/** One incident or notice, if it stands on this page and has begun. */
export async function fetchPublicIncident(db: Db, pageId: number, id: number, now: number, labels: Labels) {
  const incident = await fetchIncident(db, id);
  const here = incident?.pageIds.includes(pageId) && incident.began <= now;
  return incident && here ? publicIncident(incident, labels) : null;
}

export function publicWindow(window: MaintenanceWindow, labels: Labels): PublicWindow {
  const { id, title, text, covers, begins, ends, seriesId } = window;
  return {
    ...{ id, title, text, begins, ends, seriesId },
    labels: namesOn(labels, covers),
    announcedAt: announcedAt(window),
  };
}

/** Announced maintenance of what a page shows that is not over at a moment, the earliest first. */
export async function fetchComing(
  db: Db,
  { since, now }: { since: number; now: number },
  labels: Labels,
): Promise<PublicWindow[]> {
  const windows = await fetchAnnounced(db, { since, now });
  return windows
    .filter(({ covers }) => covers.some((id) => labels.has(id)))
    .map((window) => publicWindow(window, labels));
}

/** Of what comes again, the next time stands for all; the calendar has the others. */
export function nextOfEach(windows: readonly PublicWindow[]): PublicWindow[] {
  const seen = new Set<number>();
  return windows.filter(({ seriesId }) => {
    if (seriesId === null) return true;
    if (seen.has(seriesId)) return false;
    seen.add(seriesId);
    return true;
  });
}
