import { needsHand } from '@/core/lifecycle/wants-hand';
import type { State } from '@/core/lifecycle/state';
import type { Db } from '@/store/db/connection';
import { fetchLatestEvidence } from '@/store/history/evidence';
import { fetchOpenOutagesOf, fetchTold } from '@/store/history/outages';
import { fetchTakers } from '@/store/messages/telling';
import type { Wanting } from '@/store/watches/digests';
import { fetchNamed } from '@/store/watches/tied';
import { togetherOf } from '@/views/troubles/troubles-together';
import { troubleOf, type Trouble } from '@/views/troubles/trouble';
import type { AllWatches } from './all-watches';
import type { Place } from './lines';

/** So many troubles are told one by one, and so many of those that belong together. */
const MOST_CARDS = 20;
const MOST_IN_GROUP = 10;
/** So many troubles are looked at for what they have in common: those that were there first. */
const MOST_GROUPED = 500;

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

/** Those whose troubles may belong together. */
const MAY_BELONG: readonly State[] = ['down', 'doubtful'];

/** What wants a hand, one by one and together: of what cannot belong together, only what is shown is read. */
export async function fetchCards(db: Db, all: AllWatches, wanting: readonly Wanting[], { now, zone }: Place) {
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
