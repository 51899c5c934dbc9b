import { formatUptime } from '@/core/history/availability';
import type { Span } from '@/core/history/spans';
import { SEVERITY, type State } from '@/core/lifecycle/state';
import { formatDuration } from '@/core/time/duration';
import { ownTroubleText } from '@/core/causes/own-trouble';
import { deskSentences } from '@/core/history/count-text';
import { observedText, wholeLabel } from '@/core/history/since-text';
import { passes, type WatchFilter } from '@/core/settings/watch-filter';
import { filterable } from '@/probes/diagnosis/watch-target';
import { factsOf } from '@/core/telling/happen';
import { fetchUnheard } from '@/views/messages/who-hears';
import type { Db } from '@/store/db/connection';
import { fetchLatestEvidence } from '@/store/history/evidence';
import { fetchOpenUplinkLoss } from '@/store/history/uplink';
import { fetchTakers } from '@/store/messages/telling';
import { fetchLastOutageEnd, fetchOutages, fetchTold } from '@/store/history/outages';
import { fetchOpenOwnTroubles } from '@/store/history/own-troubles';
import { fetchLastRuns } from '@/store/history/reports';
import type { WatchWithStatus } from '@/store/watches/watches';
import { fetchKnownWatches } from '@/views/watches-once';
import {
  availabilityFor,
  drawnLine,
  fetchHistory,
  lastDays,
  lineOf,
  type DrawnLine,
  type History,
} from '@/views/history/history';
import { kindText, latestText } from '@/views/troubles/latest';
import { fetchFilterView, MOST_ROWS, type FilterView } from '@/views/settings/watch-list';
import { togetherOf } from '@/views/troubles/troubles-together';
import { needsHand, troubleOf, type Trouble } from '@/views/troubles/trouble';

export const RANGES = { '6h': 0.25, '24h': 1, '7d': 7, '30d': 30, '90d': 90 } as const;
export type RangeName = keyof typeof RANGES;

/** Calm is counted as far back as this. */
const CALM_DAYS = 30;

/** So many troubles are told one by one, and so many of those that belong together. */
const MOST_CARDS = 20;
const MOST_IN_GROUP = 10;

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
}

export interface OverviewCard extends Omit<Trouble, 'evidence'> {
  id: number;
  name: string;
  state: State;
  since: number;
  probe: boolean;
  told: string[];
  /** Who has it. */
  takenBy: string | null;
  /** Up, but over a limit of its own. */
  warned: boolean;
  /** The watch it follows from. */
  follows: { id: number; name: string } | null;
}

export interface OwnTroubleCard {
  key: string;
  sentence: string;
  advice: string;
  /** Null where it is not known since when. */
  began: number | null;
}

/** What is wrong with Calm Lantern itself, the oldest first. */
export async function fetchOwnTroubleCards(db: Db, engineAnswers: boolean): Promise<OwnTroubleCard[]> {
  const away: OwnTroubleCard = {
    key: 'engine',
    sentence: 'The engine is not running: nothing is looked at, and nobody is told.',
    advice: 'It is being started again. If this stays, look into the log of Calm Lantern.',
    began: null,
  };
  const kept = (await fetchOpenOwnTroubles(db)).map(({ id, code, detail, began }) => {
    const { sentence, advice } = ownTroubleText(code, detail);
    return { key: String(id), sentence, advice, began };
  });
  return [...(engineAnswers ? [] : [away]), ...kept];
}

export interface Overview extends FilterView {
  /** How many watches there are, filtered or not. */
  all: number;
  /** How many the filter lets through; not all of them may have a row. */
  shown: number;
  now: number;
  range: { from: number; to: number };
  sentence: string;
  below: string;
  /** What wants a hand by itself. */
  cards: OverviewCard[];
  /** How many more want one; only the first are shown. */
  moreCards: number;
  /** Troubles that belong together, with their likely cause. */
  together: { sentence: string; advice: string; cards: OverviewCard[]; more: number }[];
  /** What is wrong with Calm Lantern itself. */
  own: OwnTroubleCard[];
  /** Since when this machine cannot reach out. */
  lineLostSince: number | null;
  sections: { title: string; rows: OverviewRow[] }[];
  /** Nobody would be told of trouble. */
  /** How many there are, paused ones too. */
  watches: number;
  /** Those that would tell nobody. */
  unheard: { id: number; name: string }[];
}

/** Everything the overview shows, for the range and the order asked for. */
export async function fetchOverview(
  db: Db,
  options: {
    range: RangeName;
    worstFirst: boolean;
    filter: WatchFilter;
    /** Every row, however many there are. */
    whole: boolean;
    now: number;
    zone: string;
    engineAnswers?: boolean;
  },
): Promise<Overview> {
  const { now, zone } = options;
  const days = RANGES[options.range];
  const watches = await fetchKnownWatches(db, now);
  const shown = watches.filter((watch) => passes(options.filter, filterable(watch)));
  // Of those that are drawn; only an order by history needs that of all.
  const read = options.worstFirst ? shown : shown.slice(0, options.whole ? undefined : MOST_ROWS);
  const history = await fetchHistory(db, read, days, now);
  const runs = await fetchLastRuns(db);
  const range = lastDays(now, days);
  const needing = watches
    .filter((watch) => needsHand(watch, now))
    .sort((a, b) => SEVERITY[b.status.state] - SEVERITY[a.status.state] || a.status.since - b.status.since);
  const open = await fetchOutages(db, { open: true });
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
        takenBy: null,
        warned: watch.status.state === 'slow' && Boolean(watch.status.warned),
        follows: below ? { id: below.id, name: below.name } : null,
        ...trouble,
      };
      return [watch.id, card];
    }),
  );
  const together = groups.slice(0, MOST_CARDS).map(({ sentence, advice, watchIds }) => ({
    sentence,
    advice,
    cards: watchIds.slice(0, MOST_IN_GROUP).flatMap((id) => cards.get(id) ?? []),
    more: Math.max(0, watchIds.length - MOST_IN_GROUP),
  }));
  const grouped = new Set(groups.flatMap((group) => group.watchIds));
  const alone = [...cards.values()].filter((card) => !grouped.has(card.id));
  const seen = [...alone.slice(0, MOST_CARDS), ...together.flatMap((group) => group.cards)];
  const takers = await fetchTakers(
    db,
    seen.map((card) => card.id),
  );
  for (const card of seen) card.takenBy = takers.get(card.id) ?? null;
  const untold = groups.slice(MOST_CARDS).reduce((sum, group) => sum + group.watchIds.length, 0);
  const ordered = options.worstFirst ? worstFirst(shown, history, range) : shown;
  const drawn = ordered.slice(0, options.whole ? undefined : MOST_ROWS);
  const rows = drawn.map((watch) => rowOf(watch, history, range, runs.get(watch.id) ?? null, zone));
  return {
    ...(await fetchFilterView(db, watches)),
    all: watches.length,
    shown: shown.length,
    now,
    range,
    ...sentences(watches, needing, await calmSince(db, watches, needing.length, now)),
    cards: alone.slice(0, MOST_CARDS),
    moreCards: Math.max(0, alone.length - MOST_CARDS) + untold,
    together,
    own: await fetchOwnTroubleCards(db, options.engineAnswers ?? true),
    lineLostSince: (await fetchOpenUplinkLoss(db))?.began ?? null,
    sections: options.worstFirst ? [{ title: '', rows }] : bySection(drawn, rows),
    watches: watches.length,
    unheard: await fetchUnheard(db, watches.filter(({ paused }) => !paused).map(factsOf)),
  };
}

function rowOf(
  watch: WatchWithStatus,
  history: History,
  range: { from: number; to: number },
  lastRunMs: number | null,
  zone: string,
): OverviewRow {
  const begun = Math.max(range.from, watch.createdAt);
  const { uptime, observedMs } = availabilityFor(history, watch.id, { from: begun, to: range.to });
  const young = watch.createdAt > range.from;
  return {
    id: watch.id,
    name: watch.name,
    kind: kindText(watch),
    state: watch.status.state,
    ...drawnLine(lineOf(history, watch.id, range), range),
    latest: latestText(watch, lastRunMs, history.now),
    uptime: formatUptime(uptime),
    whole: uptime === null || uptime === 1,
    stands: young ? wholeLabel(begun, range.to, zone) : observedText(observedMs, range.to - range.from),
    warned: Boolean(watch.status.warned),
  };
}

function worstFirst(watches: readonly WatchWithStatus[], history: History, range: Span): WatchWithStatus[] {
  const badness = new Map(
    watches.map((watch) => [
      watch.id,
      SEVERITY[watch.status.state] * 1e15 +
        lineOf(history, watch.id, range).reduce(
          (sum, { kind, from, to }) => sum + (SEVERITY[kind] >= 3 ? (to - from) * SEVERITY[kind] : 0),
          0,
        ),
    ]),
  );
  return [...watches].sort((a, b) => badness.get(b.id)! - badness.get(a.id)!);
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

/** The two sentences that lead the desk, counted by one function from every watch there is. */
function sentences(
  watches: readonly WatchWithStatus[],
  needing: readonly WatchWithStatus[],
  calmFor: string,
): { sentence: string; below: string } {
  const wanting = new Set(needing);
  const others: Partial<Record<State, number>> = {};
  for (const watch of watches) {
    if (!wanting.has(watch)) others[watch.status.state] = (others[watch.status.state] ?? 0) + 1;
  }
  const { lead, below } = deskSentences(needing.length, others);
  return { sentence: lead, below: [below, calmFor].filter(Boolean).join(' ') };
}

/** Since when nothing has been down, in words; empty where something wants a hand, or nothing was for a month. */
async function calmSince(
  db: Db,
  watches: readonly WatchWithStatus[],
  needing: number,
  now: number,
): Promise<string> {
  if (needing > 0 || watches.length === 0) return '';
  const lastEnd = await fetchLastOutageEnd(db, lastDays(now, CALM_DAYS).from);
  return lastEnd === null ? '' : `Calm for ${formatDuration(now - lastEnd)}.`;
}
