import { formatUptime } from '@/core/history/availability';
import { needsHand } from '@/core/lifecycle/wants-hand';
import { SEVERITY, type State } from '@/core/lifecycle/state';
import { formatDuration } from '@/core/time/duration';
import { ownTroubleText } from '@/core/causes/own-trouble';
import { deskSentences } from '@/core/history/count-text';
import { observedText, wholeLabel } from '@/core/history/since-text';
import type { WatchFilter } from '@/core/settings/watch-filter';
import { fetchUnheardOfAll, type Unheard } from '@/views/messages/who-hears';
import type { Db } from '@/store/db/connection';
import { fetchLatestEvidence } from '@/store/history/evidence';
import { fetchOpenUplinkLoss } from '@/store/history/uplink';
import { fetchTakers } from '@/store/messages/telling';
import { fetchLastOutageEnd, fetchOpenOutagesOf, fetchTold } from '@/store/history/outages';
import { fetchOpenOwnTroubles } from '@/store/history/own-troubles';
import { fetchLastRuns } from '@/store/history/reports';
import type { WatchWithStatus } from '@/store/watches/watches';
import { fetchNamed } from '@/store/watches/tied';
import type { ListPage } from '@/store/db/list-page';
import type { Wanting } from '@/store/watches/digests';
import { fetchAll, pageBehind, type AllWatches } from './all-watches';
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
import {
  fetchFilterView,
  listed,
  MOST_ROWS,
  type FilterView,
  type ListedWatch,
} from '@/views/settings/watch-list';
import { togetherOf } from '@/views/troubles/troubles-together';
import { troubleOf, type Trouble } from '@/views/troubles/trouble';

export const RANGES = { '6h': 0.25, '24h': 1, '7d': 7, '30d': 30, '90d': 90 } as const;
export type RangeName = keyof typeof RANGES;

/** Calm is counted as far back as this. */
const CALM_DAYS = 30;

/** So many troubles are told one by one, and so many of those that belong together. */
const MOST_CARDS = 20;
const MOST_IN_GROUP = 10;
/** So many troubles are looked at for what they have in common: those that were there first. */
const MOST_GROUPED = 500;

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
  rows: OverviewRow[];
  /** Those that would tell nobody. */
  unheard: Unheard;
}

/** Which lines are asked for, over which time, and in which order. */
export interface LinesWish {
  range: RangeName;
  worstFirst: boolean;
  filter: WatchFilter;
}

interface Place {
  now: number;
  zone: string;
  engineAnswers?: boolean;
}

/** Everything the overview shows, for the range and the order asked for; of the lines, the first. */
export async function fetchOverview(
  db: Db,
  wish: LinesWish,
  { now, zone, ...place }: Place,
): Promise<Overview> {
  const { engineAnswers = true } = place;
  const all = await fetchAll(db, now, engineAnswers);
  const wanting = [...all.wanting].sort((a, b) => SEVERITY[b.state] - SEVERITY[a.state] || a.since - b.since);
  const count = [...all.states.values()].reduce((sum, n) => sum + n, 0);
  return {
    ...(await fetchFilterView(db, all)),
    ...(await fetchFirstLines(db, all, wish, { now, zone })),
    all: count,
    now,
    range: lastDays(now, RANGES[wish.range]),
    ...sentences(all, await calmSince(db, count, wanting.length, now)),
    ...(await fetchCards(db, all, wanting, { now, zone })),
    own: await fetchOwnTroubleCards(db, engineAnswers),
    lineLostSince: (await fetchOpenUplinkLoss(db))?.began ?? null,
    unheard: await fetchUnheardOfAll(db),
  };
}

/** Those whose troubles may belong together. */
const MAY_BELONG: readonly State[] = ['down', 'doubtful'];

/** What wants a hand, one by one and together: of what cannot belong together, only what is shown is read. */
async function fetchCards(db: Db, all: AllWatches, wanting: readonly Wanting[], { now, zone }: Place) {
  const alike = (may: boolean) => wanting.filter(({ state }) => MAY_BELONG.includes(state) === may);
  const cut = alike(true).length > MOST_GROUPED;
  const told = new Set([...alike(true).slice(0, MOST_GROUPED), ...alike(false).slice(0, MOST_CARDS)]);
  const ids = wanting.filter((one) => told.has(one)).map(({ id }) => id);
  const needing = (await all.read(ids)).filter((watch) => needsHand(watch, now));
  const open = await fetchOpenOutagesOf(db, ids);
  const heard = await fetchTold(
    db,
    open.map((outage) => outage.id),
  );
  const kept = await fetchLatestEvidence(db, ids);
  const outages = new Map(open.map((outage) => [outage.watchId, outage]));
  const groups = await togetherOf(all, needing, outages, kept);
  const below = new Map(
    (
      await fetchNamed(
        db,
        open.flatMap(({ follows }) => follows ?? []),
      )
    ).map(({ id, name }) => [id, name]),
  );
  const cards = new Map(
    needing.map((watch) => {
      const outage = outages.get(watch.id);
      const { evidence: _, ...trouble } = troubleOf(watch, outage, kept.get(watch.id), zone);
      const follows = outage?.follows ?? null;
      const followed = follows === null ? undefined : below.get(follows);
      const card: OverviewCard = {
        id: watch.id,
        name: watch.name,
        state: watch.status.state,
        since: outage?.began ?? watch.status.since,
        probe: watch.config.type === 'probe',
        told: outage ? (heard.get(outage.id) ?? []) : [],
        takenBy: null,
        warned: watch.status.state === 'slow' && Boolean(watch.status.warned),
        follows: follows === null || followed === undefined ? null : { id: follows, name: followed },
        ...trouble,
      };
      return [watch.id, card];
    }),
  );
  const together = groups.slice(0, MOST_CARDS).map(({ sentence, advice, watchIds }) => ({
    // It counts those that were looked at, which then are not all.
    sentence: cut ? `Of the ${MOST_GROUPED} that failed first: ${sentence}` : sentence,
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
  const cardsAlone = alone.slice(0, MOST_CARDS);
  const togetherTold = together.reduce((sum, group) => sum + group.cards.length + group.more, 0);
  return {
    cards: cardsAlone,
    moreCards: wanting.length - cardsAlone.length - togetherTold,
    together,
  };
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
  return watches.map((watch) => rowOf(watch, history, range, runs.get(watch.id) ?? null, zone));
}

const spanOf = ({ range, worstFirst }: LinesWish, now: number) =>
  worstFirst ? lastDays(now, RANGES[range]) : undefined;

async function fetchFirstLines(db: Db, all: AllWatches, wish: LinesWish, place: Place) {
  const ids = await all.matching(wish.filter, spanOf(wish, place.now));
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
  const ids = await all.matching(wish.filter, spanOf(wish, place.now));
  const watches = await all.read(pageBehind(ids, page));
  const lines = await linesOf(db, watches, wish.range, place);
  return lines.map((line, i) => ({ ...listed(watches[i]!), ...line }));
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
    section: watch.section ?? '',
  };
}

/** The two sentences that lead the desk: each watch counts once. */
function sentences({ states, wanting }: AllWatches, calmFor: string): { sentence: string; below: string } {
  const others: Partial<Record<State, number>> = Object.fromEntries(states);
  for (const { state } of wanting) {
    others[state] = Math.max(0, (others[state] ?? 0) - 1);
  }
  const { lead, below } = deskSentences(wanting.length, others);
  return { sentence: lead, below: [below, calmFor].filter(Boolean).join(' ') };
}

/** Since when nothing has been down, in words; empty where something wants a hand, or nothing was for a month. */
async function calmSince(db: Db, watches: number, needing: number, now: number): Promise<string> {
  if (needing > 0 || watches === 0) return '';
  const lastEnd = await fetchLastOutageEnd(db, lastDays(now, CALM_DAYS).from);
  return lastEnd === null ? '' : `Calm for ${formatDuration(now - lastEnd)}.`;
}
