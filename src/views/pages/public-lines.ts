import { intersectSpans, subtractSpans, type Span } from '@/core/history/spans';
import { quantileOf } from '@/core/history/histogram';
import {
  combineLines,
  figureOf,
  publicLine,
  publicState,
  together,
  type PublicFigure,
  type PublicKind,
  type PublicStretch,
} from '@/core/pages/public-line';
import type { PageItem, Shows } from '@/core/pages/page';
import { asKnown } from '@/core/settings/known-state';
import { DAY_MS } from '@/core/time/units';
import { mergeHistograms } from '@/core/history/histogram';
import type { Db } from '@/store/db/connection';
import type { ShownSection } from '@/store/pages/shown';
import { fetchWatches, type WatchWithStatus } from '@/store/watches/watches';
import type { LeftOut } from '@/core/history/past';
import { fetchHistoryIn, type History } from '@/views/history/history';
import { fetchTimesIn } from '@/views/history/times';

/** What is usual is that of so many days at most. */
const USUAL_DAYS = 7;

/** What the public may see of a service: no address, no kind, no cause, no name of the desk. */
export interface PublicRow {
  /** Tells the lines of a page apart, and stays while the page's make-up does. */
  key: string;
  label: string;
  description: string;
  shows: Shows;
  state: PublicKind;
  /** Its history over the range; empty where only its present state is shown. */
  line: PublicStretch[];
  figure: PublicFigure;
  /** What is left out of the figure, and why. */
  leftOut: LeftOut[];
  /** Since when it has been watched, where that is later than the range begins; else null. */
  since: number | null;
  /** How fast it answers, ms; null where that is not shown, or nothing has answered. */
  times: { medianMs: number; mostMs: number } | null;
}

export interface PublicSection {
  title: string;
  rows: PublicRow[];
}

export interface PublicLines {
  sections: PublicSection[];
  /** When any of it was looked at or heard of last. */
  lookedAt: number | null;
  /** Which line of the page each watch belongs to. */
  labels: Map<number, string>;
}

function isTimed({ config }: WatchWithStatus): boolean {
  return config.type === 'probe' && config.slowAfter !== null;
}

function oneLine(history: History, watches: readonly WatchWithStatus[], { counting }: PageItem, range: Span) {
  return combineLines(
    watches.map((watch) => publicLine(history.get(watch.id)!.line(range), isTimed(watch))),
    counting,
  );
}

/** What is left out of the figure of a line: not where another of its watches was out, and that counts. */
function leftOutOf(history: History, watches: readonly WatchWithStatus[], range: Span): LeftOut[] {
  const counted = watches.flatMap(({ id }) => history.get(id)!.counted);
  const all = watches.flatMap(({ id }) => history.get(id)!.leftOut);
  return all.flatMap(({ reason, ...span }) =>
    intersectSpans([range], subtractSpans([span], counted)).map((part) => ({ ...part, reason })),
  );
}

async function fetchPublicTimes(db: Db, ids: readonly number[], span: Span): Promise<PublicRow['times']> {
  const all = mergeHistograms(await Promise.all(ids.map((id) => fetchTimesIn(db, id, span.from, span.to))));
  const medianMs = quantileOf(all, 0.5);
  return medianMs === null ? null : { medianMs, mostMs: all.max };
}

/** The lines of a page over a range; a line whose watches were all deleted is left out. */
export async function fetchPublicLines(
  db: Db,
  shown: readonly ShownSection[],
  range: Span,
  now: number,
): Promise<PublicLines> {
  const ids = [...new Set(shown.flatMap(({ items }) => items.flatMap(({ watchIds }) => watchIds)))];
  const watches = (await fetchWatches(db, ids)).map((watch) => asKnown(watch, now));
  const byId = new Map(watches.map((watch) => [watch.id, watch]));
  const history = await fetchHistoryIn(db, watches, range, now);
  const usual = { from: Math.max(range.from, range.to - USUAL_DAYS * DAY_MS), to: range.to };
  const labels = new Map<number, string>();
  const sections: PublicSection[] = [];
  for (const [i, { title, items }] of shown.entries()) {
    const rows: PublicRow[] = [];
    for (const [k, item] of items.entries()) {
      const members = item.watchIds.flatMap((id) => byId.get(id) ?? []);
      if (members.length === 0) continue;
      for (const { id } of members) labels.set(id, item.label);
      const line = item.shows === 'state' ? [] : oneLine(history, members, item, range);
      const without = item.shows === 'state' ? [] : leftOutOf(history, members, range);
      const begun = Math.min(...members.map((watch) => watch.createdAt));
      rows.push({
        key: `${i + 1}-${k + 1}`,
        label: item.label,
        description: item.description,
        shows: item.shows,
        state: together(
          members.map((watch) => publicState(watch.status)),
          item.counting,
        ),
        line,
        figure: figureOf(line, without),
        leftOut: without,
        since: begun > range.from ? begun : null,
        times:
          item.shows === 'times'
            ? await fetchPublicTimes(
                db,
                item.watchIds.filter((id) => byId.has(id)),
                usual,
              )
            : null,
      });
    }
    sections.push({ title, rows });
  }
  const looked = watches.flatMap((watch) => (watch.status.lastAt === null ? [] : [watch.status.lastAt]));
  return {
    sections: sections.filter((section) => section.rows.length > 0),
    lookedAt: looked.length > 0 ? Math.max(...looked) : null,
    labels,
  };
}
