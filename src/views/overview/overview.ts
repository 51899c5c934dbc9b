import { ownTroubleText } from '@/core/causes/own-trouble';
import { deskSentences } from '@/core/history/count-text';
import { SEVERITY, type State } from '@/core/lifecycle/state';
import { formatDuration } from '@/core/time/duration';
import type { Db } from '@/store/db/connection';
import { fetchLastOutageEnd } from '@/store/history/outages';
import { fetchOpenOwnTroubles } from '@/store/history/own-troubles';
import { fetchOpenUplinkLoss } from '@/store/history/uplink';
import { lastDays } from '@/views/history/history';
import { fetchUnheardOfAll, type Some } from '@/views/messages/who-hears';
import { fetchFilterView, type FilterView } from '@/views/settings/watch-list';
import { fetchAll, type AllWatches } from './all-watches';
import { fetchCards, type OverviewCard } from './cards';
import { fetchFirstLines, RANGES, type LinesWish, type OverviewRow, type Place } from './lines';

/** Calm is counted as far back as this. */
const CALM_DAYS = 30;

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

/** What stands above the lines. */
export interface OverviewHead {
  /** How many watches there are, filtered or not. */
  all: number;
  now: number;
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
  /** Those that would tell nobody. */
  unheard: Some;
}

export interface Overview extends FilterView, OverviewHead {
  /** How many the filter lets through; not all of them may have a row. */
  shown: number;
  range: { from: number; to: number };
  rows: OverviewRow[];
}

async function headOf(
  db: Db,
  all: AllWatches,
  { now, zone, engineAnswers = true }: Place,
): Promise<OverviewHead> {
  const wanting = [...all.wanting].sort((a, b) => SEVERITY[b.state] - SEVERITY[a.state] || a.since - b.since);
  const count = [...all.states.values()].reduce((sum, n) => sum + n, 0);
  return {
    all: count,
    now,
    ...sentences(all, await calmSince(db, count, wanting.length, now)),
    ...(await fetchCards(db, all, wanting, { now, zone })),
    own: await fetchOwnTroubleCards(db, engineAnswers),
    lineLostSince: (await fetchOpenUplinkLoss(db))?.began ?? null,
    unheard: await fetchUnheardOfAll(db),
  };
}

/** What stands above the lines, by itself: what an open desk asks for when something has changed. */
export async function fetchOverviewHead(db: Db, place: Place): Promise<OverviewHead> {
  return headOf(db, await fetchAll(db, place.now, place.engineAnswers ?? true), place);
}

/** Everything the overview shows, for the range and the order asked for; of the lines, the first. */
export async function fetchOverview(db: Db, wish: LinesWish, place: Place): Promise<Overview> {
  const all = await fetchAll(db, place.now, place.engineAnswers ?? true);
  return {
    ...(await fetchFilterView(db, all)),
    ...(await fetchFirstLines(db, all, wish, place)),
    range: lastDays(place.now, RANGES[wish.range]),
    ...(await headOf(db, all, place)),
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
