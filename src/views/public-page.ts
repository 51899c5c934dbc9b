import { formatUptime } from '../core/availability';
import type { Stretch } from '../core/availability';
import type { State, StretchKind } from '../core/state';
import { publicSentence } from '../core/state-text';
import type { Db } from '../store/connection';
import { fetchIncidents, type Incident } from '../store/incidents';
import type { Page } from '../store/pages';
import { fetchWatches } from '../store/watches';
import { fetchWindows } from '../store/windows';
import { availabilityFor, drawnLine, fetchHistory, lastDays, lineOf, type DrawnLine } from './history';

const DAYS = 90;

/** What the public may see of a watch: no address, no kind, no cause. */
export interface PublicRow extends DrawnLine {
  label: string;
  state: State;
  uptime: string;
  /** Days of history, when there are fewer than ninety. */
  days: number;
}

export interface PublicPage {
  now: number;
  title: string;
  intro: string;
  sentence: string;
  checkedAt: number | null;
  range: { from: number; to: number };
  sections: { title: string; rows: PublicRow[] }[];
  open: Incident[];
  past: Incident[];
  coming: { id: number; title: string; labels: string[]; begins: number; ends: number }[];
}

/** Doubt is ours, not the public's: an unconfirmed look does not show before it is confirmed. */
function publicState(state: State): State {
  return state === 'doubtful' || state === 'overdue' ? 'up' : state;
}

function publicKind(kind: StretchKind): StretchKind {
  if (kind === 'doubtful' || kind === 'overdue') return 'up';
  return kind === 'paused' || kind === 'waiting' ? 'unobserved' : kind;
}

/** Everything a public page shows, and nothing else. */
export async function fetchPublicPage(db: Db, page: Page, now: number): Promise<PublicPage> {
  const ids = new Set(page.sections.flatMap((section) => section.items.map((item) => item.watchId)));
  const watches = await fetchWatches(db, [...ids]);
  const byId = new Map(watches.map((watch) => [watch.id, watch]));
  const history = await fetchHistory(db, watches, DAYS, now);
  const range = lastDays(now, DAYS);
  const sections = page.sections.map((section) => ({
    title: section.title,
    rows: section.items.flatMap((item): PublicRow[] => {
      const watch = byId.get(item.watchId);
      if (!watch) return [];
      const line = joinKinds(lineOf(history, watch.id, range));
      return [
        {
          label: item.label,
          state: publicState(watch.status.state),
          ...drawnLine(line, range),
          uptime: formatUptime(availabilityFor(history, watch.id, range).uptime),
          days: Math.min(DAYS, Math.max(0, (now - watch.createdAt) / 86_400_000)),
        },
      ];
    }),
  }));
  const rows = sections.flatMap((section) => section.rows);
  const incidents = await fetchIncidents(db, page.id, now - DAYS * 86_400_000);
  const labels = new Map(page.sections.flatMap((s) => s.items.map((item) => [item.watchId, item.label])));
  const windows = (await fetchWindows(db, now)).filter((window) => window.watchIds.some((id) => ids.has(id)));
  const looked = watches.flatMap((watch) => (watch.status.lastAt === null ? [] : [watch.status.lastAt]));
  return {
    now,
    title: page.title,
    intro: page.intro,
    sentence: publicSentence(
      rows.filter((row) => row.state === 'down').map((row) => row.label),
      rows.filter((row) => row.state === 'slow').map((row) => row.label),
      rows.length,
    ),
    checkedAt: looked.length > 0 ? Math.max(...looked) : null,
    range,
    sections: sections.filter((section) => section.rows.length > 0),
    open: incidents.filter((incident) => incident.ended === null),
    past: incidents.filter((incident) => incident.ended !== null),
    coming: windows.map(({ id, title, watchIds, begins, ends }) => ({
      id,
      title,
      labels: watchIds.flatMap((watchId) => labels.get(watchId) ?? []),
      begins,
      ends,
    })),
  };
}

function joinKinds(line: readonly Stretch[]): Stretch[] {
  const joined: Stretch[] = [];
  for (const stretch of line) {
    const kind = publicKind(stretch.kind);
    const last = joined.at(-1);
    if (last && last.kind === kind && last.to === stretch.from) last.to = stretch.to;
    else joined.push({ ...stretch, kind });
  }
  return joined;
}
