import { formatUptime } from '../core/availability';
import type { Stretch } from '../core/availability';
import { SEVERITY, type State } from '../core/state';
import { capitalise, numberWord, overviewSentence } from '../core/state-text';
import { formatDuration } from '../core/duration';
import { passes, type WatchFilter } from '../core/watch-filter';
import { filterable } from '../probes/watch-target';
import { fetchChannels } from '../store/channels';
import type { Db } from '../store/connection';
import { fetchLatestEvidence } from '../store/evidence';
import { fetchOpenLineLoss } from '../store/line';
import { fetchTold } from '../store/outages';
import { fetchLastRuns } from '../store/reports';
import { fetchWatches, type WatchWithStatus } from '../store/watches';
import { availabilityFor, fetchHistory, lastDays, lineOf, type History } from './history';
import { kindText, latestText } from './latest';
import { fetchFilterView, type FilterView } from './watch-list';
import { togetherOf } from './together';
import { needsHand, troubleOf, type Trouble } from './trouble';

export const RANGES = { '6h': 0.25, '24h': 1, '7d': 7, '30d': 30, '90d': 90 } as const;
export type RangeName = keyof typeof RANGES;

export interface OverviewRow {
  id: number;
  name: string;
  kind: string;
  state: State;
  line: Stretch[];
  latest: string;
  uptime: string;
  whole: boolean;
}

export interface OverviewCard extends Omit<Trouble, 'evidence'> {
  id: number;
  name: string;
  state: State;
  since: number;
  probe: boolean;
  told: string[];
  /** Up, but over a limit of its own. */
  warned: boolean;
  /** The watch it follows from. */
  follows: { id: number; name: string } | null;
}

export interface Overview extends FilterView {
  /** How many watches there are, filtered or not. */
  all: number;
  now: number;
  range: { from: number; to: number };
  sentence: string;
  below: string;
  /** What wants a hand by itself. */
  cards: OverviewCard[];
  /** Troubles that belong together, with their likely cause. */
  together: { sentence: string; advice: string; cards: OverviewCard[] }[];
  /** Since when this machine cannot reach out. */
  lineLostSince: number | null;
  sections: { title: string; rows: OverviewRow[] }[];
  /** Nobody would be told of trouble. */
  unreached: boolean;
}

/** Everything the overview shows, for the range and the order asked for. */
export async function fetchOverview(
  db: Db,
  options: { range: RangeName; worstFirst: boolean; filter: WatchFilter; now: number; zone: string },
): Promise<Overview> {
  const { now, zone } = options;
  const days = RANGES[options.range];
  const watches = await fetchWatches(db);
  const history = await fetchHistory(db, watches, Math.max(days, 30), now);
  const channels = await fetchChannels(db);
  const runs = await fetchLastRuns(db);
  const range = lastDays(now, days);
  const needing = watches
    .filter((watch) => needsHand(watch, now))
    .sort((a, b) => SEVERITY[b.status.state] - SEVERITY[a.status.state] || a.status.since - b.status.since);
  const open = history.outages.filter((outage) => outage.ended === null);
  const told = await fetchTold(
    db,
    open.map((outage) => outage.id),
  );
  const kept = await fetchLatestEvidence(
    db,
    needing.map((watch) => watch.id),
  );
  const outages = new Map(open.map((outage) => [outage.watchId, outage]));
  const groups = togetherOf(watches, needing, outages, kept);
  const cards = new Map(
    needing.map((watch) => {
      const outage = outages.get(watch.id);
      const { evidence: _, ...trouble } = troubleOf(watch, outage, kept.get(watch.id), zone);
      const below = watches.find((other) => other.id === outage?.follows);
      const card: OverviewCard = {
        id: watch.id,
        name: watch.name,
        state: watch.status.state,
        since: outage?.began ?? watch.status.since,
        probe: watch.config.type === 'probe',
        told: outage ? (told.get(outage.id) ?? []) : [],
        warned: watch.status.state === 'slow' && Boolean(watch.status.warned),
        follows: below ? { id: below.id, name: below.name } : null,
        ...trouble,
      };
      return [watch.id, card];
    }),
  );
  const together = groups.map(({ sentence, advice, watchIds }) => ({
    sentence,
    advice,
    cards: watchIds.map((id) => cards.get(id)).filter((card) => card !== undefined),
  }));
  const grouped = new Set(groups.flatMap((group) => group.watchIds));
  const shown = watches.filter((watch) => passes(options.filter, filterable(watch)));
  const rows = shown.map((watch) => rowOf(watch, history, range, runs.get(watch.id) ?? null));
  return {
    ...(await fetchFilterView(db, watches)),
    all: watches.length,
    now,
    range,
    sentence: overviewSentence(watches.length, needing.length),
    below: belowSentence(watches, needing.length, history),
    cards: [...cards.values()].filter((card) => !grouped.has(card.id)),
    together,
    lineLostSince: (await fetchOpenLineLoss(db))?.began ?? null,
    sections: options.worstFirst ? worstFirst(rows) : bySection(shown, rows),
    unreached: watches.length > 0 && !channels.some((channel) => channel.enabled),
  };
}

function rowOf(
  watch: WatchWithStatus,
  history: History,
  range: { from: number; to: number },
  lastRunMs: number | null,
): OverviewRow {
  const { uptime } = availabilityFor(history, watch.id, range);
  return {
    id: watch.id,
    name: watch.name,
    kind: kindText(watch),
    state: watch.status.state,
    line: lineOf(history, watch.id, range),
    latest: latestText(watch, lastRunMs, history.now),
    uptime: formatUptime(uptime),
    whole: uptime === null || uptime === 1,
  };
}

function worstFirst(rows: OverviewRow[]) {
  const badness = (row: OverviewRow) =>
    SEVERITY[row.state] * 1e15 +
    row.line.reduce((sum, s) => sum + (SEVERITY[s.kind] >= 3 ? (s.to - s.from) * SEVERITY[s.kind] : 0), 0);
  return [{ title: '', rows: [...rows].sort((a, b) => badness(b) - badness(a)) }];
}

function bySection(watches: readonly WatchWithStatus[], rows: OverviewRow[]) {
  const sections: { title: string; rows: OverviewRow[] }[] = [];
  for (const [i, watch] of watches.entries()) {
    const title = watch.section ?? '';
    const section = sections.find((s) => s.title === title);
    if (section) section.rows.push(rows[i]!);
    else sections.push({ title, rows: [rows[i]!] });
  }
  return sections;
}

function belowSentence(watches: readonly WatchWithStatus[], needing: number, history: History): string {
  if (watches.length === 0) return '';
  const count = (state: State) => watches.filter((watch) => watch.status.state === state).length;
  const parts: string[] = [];
  const up = count('up');
  if (needing > 0) {
    parts.push(`${up === 1 ? 'One other is' : up === 0 ? 'None is' : `The other ${numberWord(up)} are`} up.`);
  }
  for (const [state, words] of [
    ['slow', 'slow'],
    ['waiting', 'waiting for first news'],
    ['maintenance', 'in maintenance'],
    ['paused', 'paused'],
  ] as const) {
    const n = count(state);
    if (n > 0) parts.push(`${capitalise(numberWord(n))} ${n === 1 ? 'is' : 'are'} ${words}.`);
  }
  const lastEnd = Math.max(0, ...history.outages.map((outage) => outage.ended ?? history.now));
  if (needing === 0 && lastEnd > 0) parts.push(`Calm for ${formatDuration(history.now - lastEnd)}.`);
  return parts.join(' ');
}
