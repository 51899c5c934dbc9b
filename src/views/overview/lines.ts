import { formatUptime } from '@/core/history/availability';
import type { WatchHistory } from '@/core/history/past';
import { observedText, wholeLabel } from '@/core/history/since-text';
import type { State } from '@/core/lifecycle/state';
import type { WatchFilter } from '@/core/settings/watch-filter';
import type { WatchSort } from '@/core/settings/watch-order';
import type { ListOrder } from '@/store/watches/digests';
import type { Db } from '@/store/db/connection';
import type { ListPage } from '@/store/db/list-page';
import { fetchLastRuns } from '@/store/history/reports';
import type { WatchWithStatus } from '@/store/watches/watches';
import { drawnLine, fetchHistory, lastDays, type DrawnLine } from '@/views/history/history';
import { listed, MOST_ROWS, type ListedWatch } from '@/views/settings/watch-list';
import { kindText, latestText } from '@/views/troubles/latest';
import { fetchAll, pageBehind, type AllWatches } from './all-watches';

export const RANGES = { '6h': 0.25, '24h': 1, '7d': 7, '30d': 30, '90d': 90 } as const;
export type RangeName = keyof typeof RANGES;

export interface OverviewRow extends DrawnLine {
  id: number;
  name: string;
  kind: string;
  state: State;
  latest: string;
  uptime: string;
  whole: boolean;
  /** What the figure stands on, where that is less than the range asked for; else empty. */
  stands: string;
  /** Over a limit of its own, and not slow. */
  warned: boolean;
  section: string;
}

/** All that the desk shows of a watch in a row. */
export type DeskLine = OverviewRow & ListedWatch;

/** Which lines are asked for, over which time, and in which order. */
export interface LinesWish {
  range: RangeName;
  worstFirst: boolean;
  filter: WatchFilter;
  sort?: WatchSort;
}

export interface Place {
  now: number;
  zone: string;
  engineAnswers?: boolean;
}

/** The lines of some watches, in their order. */
async function linesOf(
  db: Db,
  watches: readonly WatchWithStatus[],
  name: RangeName,
  { now, zone }: Place,
): Promise<OverviewRow[]> {
  const days = RANGES[name];
  const history = await fetchHistory(db, watches, days, now);
  const runs = await fetchLastRuns(
    db,
    watches.filter(({ config }) => config.type === 'checkin').map(({ id }) => id),
  );
  const range = lastDays(now, days);
  return watches.map((watch) =>
    rowOf(watch, history.get(watch.id)!, range, runs.get(watch.id) ?? null, { now, zone }),
  );
}

const orderOf = ({ range, worstFirst, sort }: LinesWish, now: number): ListOrder =>
  worstFirst ? { worstIn: lastDays(now, RANGES[range]) } : sort ? { sort } : {};

/** The first lines, and how many there are in all. */
export async function fetchFirstLines(db: Db, all: AllWatches, wish: LinesWish, place: Place) {
  const ids = await all.matching(wish.filter, orderOf(wish, place.now));
  const watches = await all.read(ids.slice(0, MOST_ROWS));
  return { shown: ids.length, rows: await linesOf(db, watches, wish.range, place) };
}

/** The lines behind those that are shown already. */
export async function fetchMoreLines(
  db: Db,
  wish: LinesWish,
  page: ListPage,
  place: Place,
): Promise<DeskLine[]> {
  const all = await fetchAll(db, place.now, place.engineAnswers ?? true);
  const ids = await all.matching(wish.filter, orderOf(wish, place.now));
  const watches = await all.read(pageBehind(ids, page));
  const lines = await linesOf(db, watches, wish.range, place);
  return lines.map((line, i) => ({ ...listed(watches[i]!), ...line }));
}

/** The lines of just these, as far as they are there. */
export async function fetchLinesOf(
  db: Db,
  ids: readonly number[],
  range: RangeName,
  place: Place,
): Promise<DeskLine[]> {
  const all = await fetchAll(db, place.now, place.engineAnswers ?? true);
  const watches = await all.read(ids);
  const lines = await linesOf(db, watches, range, place);
  return lines.map((line, i) => ({ ...listed(watches[i]!), ...line }));
}

function rowOf(
  watch: WatchWithStatus,
  history: WatchHistory,
  range: { from: number; to: number },
  lastRunMs: number | null,
  { now, zone }: Place,
): OverviewRow {
  const begun = Math.max(range.from, watch.createdAt);
  const { uptime, observedMs } = history.availability({ from: begun, to: range.to });
  const young = watch.createdAt > range.from;
  return {
    id: watch.id,
    name: watch.name,
    kind: kindText(watch),
    state: watch.status.state,
    ...drawnLine(history.line(range), range),
    latest: latestText(watch, lastRunMs, now),
    uptime: formatUptime(uptime),
    whole: uptime === null || uptime === 1,
    stands: young ? wholeLabel(begun, range.to, zone) : observedText(observedMs, range.to - range.from),
    warned: Boolean(watch.status.warned),
    section: watch.section ?? '',
  };
}
