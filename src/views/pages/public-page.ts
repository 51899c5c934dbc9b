import { DAY_MS } from '@/core/time/units';
import { formatUptime } from '@/core/history/availability';
import type { Stretch } from '@/core/history/availability';
import { sinceText } from '@/core/history/since-text';
import type { State, StretchKind } from '@/core/lifecycle/state';
import type { Status } from '@/core/lifecycle/status';
import { asKnown } from '@/core/settings/known-state';
import { publicSentence } from '@/core/history/count-text';
import type { Db } from '@/store/db/connection';
import { fetchIncidents, type Incident } from '@/store/pages/incidents';
import type { Page } from '@/store/pages/pages';
import { fetchWatches } from '@/store/watches/watches';
import { fetchWindows } from '@/store/pages/windows';
import {
  availabilityFor,
  drawnLine,
  fetchHistory,
  lastDays,
  lineOf,
  type DrawnLine,
} from '@/views/history/history';

const DAYS = 90;
const MOST_INCIDENTS = 10_000;

/** What the public may see of a watch: no address, no kind, no cause. */
export interface PublicRow extends DrawnLine {
  label: string;
  state: State;
  uptime: string;
  /** Since when it has been watched, when that is fewer than ninety days; else null. */
  since: string | null;
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

/**
 * Doubt is ours, not the public's: an unconfirmed look does not show before it is confirmed. Nor is it the public's
 * business that a certificate or a disk wants a hand.
 */
function publicState({ state, warned }: Status): State {
  return state === 'doubtful' || state === 'overdue' || (state === 'slow' && warned) ? 'up' : state;
}

/** `timed` where being slow may be for time; else only a limit of the watch's own was passed. */
function publicKind(kind: StretchKind, timed: boolean): StretchKind {
  if (kind === 'doubtful' || kind === 'overdue' || (kind === 'slow' && !timed)) return 'up';
  return kind === 'paused' || kind === 'waiting' ? 'unobserved' : kind;
}

/** Everything a public page shows, and nothing else. */
export async function fetchPublicPage(db: Db, page: Page, now: number, zone = 'UTC'): Promise<PublicPage> {
  const ids = new Set(page.sections.flatMap((section) => section.items.map((item) => item.watchId)));
  const watches = (await fetchWatches(db, [...ids])).map((watch) => asKnown(watch, now));
  const byId = new Map(watches.map((watch) => [watch.id, watch]));
  const history = await fetchHistory(db, watches, DAYS, now);
  const range = lastDays(now, DAYS);
  const sections = page.sections.map((section) => ({
    title: section.title,
    rows: section.items.flatMap((item): PublicRow[] => {
      const watch = byId.get(item.watchId);
      if (!watch) return [];
      const timed = watch.config.type === 'probe' && watch.config.slowAfter !== null;
      const line = joinKinds(lineOf(history, watch.id, range), timed);
      const begun = Math.max(range.from, watch.createdAt);
      const { uptime } = availabilityFor(history, watch.id, { from: begun, to: range.to });
      return [
        {
          label: item.label,
          state: publicState(watch.status),
          ...drawnLine(line, range),
          uptime: formatUptime(uptime),
          since: watch.createdAt > range.from ? sinceText(watch.createdAt, now, zone) : null,
        },
      ];
    }),
  }));
  const rows = sections.flatMap((section) => section.rows);
  const labelsIn = (state: State) => rows.filter((row) => row.state === state).map((row) => row.label);
  const incidents = await fetchIncidents(
    db,
    { pageId: page.id },
    { since: now - DAYS * DAY_MS, limit: MOST_INCIDENTS },
  );
  const labels = new Map(page.sections.flatMap((s) => s.items.map((item) => [item.watchId, item.label])));
  const windows = (await fetchWindows(db, now)).filter((window) => window.watchIds.some((id) => ids.has(id)));
  const looked = watches.flatMap((watch) => (watch.status.lastAt === null ? [] : [watch.status.lastAt]));
  return {
    now,
    title: page.title,
    intro: page.intro,
    sentence: publicSentence({
      down: labelsIn('down'),
      slow: labelsIn('slow'),
      maintenance: labelsIn('maintenance'),
      unknown: [...labelsIn('waiting'), ...labelsIn('paused')],
      running: labelsIn('up').length,
      openIncidents: incidents.filter((incident) => incident.ended === null).length,
    }),
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

function joinKinds(line: readonly Stretch[], timed: boolean): Stretch[] {
  const joined: Stretch[] = [];
  for (const stretch of line) {
    const kind = publicKind(stretch.kind, timed);
    const last = joined.at(-1);
    if (last && last.kind === kind && last.to === stretch.from) last.to = stretch.to;
    else joined.push({ ...stretch, kind });
  }
  return joined;
}
