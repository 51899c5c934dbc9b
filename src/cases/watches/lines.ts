import type { ListPage } from '@/store/db/list-page';
import { pageBehind } from '@/views/overview/all-watches';
import {
  fetchLinesOf,
  fetchMoreLines,
  type DeskLine,
  type LinesWish,
  type Place,
} from '@/views/overview/lines';
import { fetchOverviewHead, type OverviewHead } from '@/views/overview/overview';
import { NextAnswer } from '@/cases/frame/next-answer';
import { asks, type Asking } from '@/cases/frame/use-case';
import type { World } from '@/cases/frame/world';

const placeOf = async ({ world, now }: Pick<Asking, 'world' | 'now'>): Promise<Place> => ({
  now,
  zone: world.place.zone,
  engineAnswers: await world.engine.isConnected(),
});

interface LinesAsk extends LinesWish {
  page: ListPage;
  /** Just these. */
  ids?: number[];
}

/** Watches as the desk shows them, a page at a time, or some of them by their ids. */
export const listLines = asks(
  'listLines',
  'look',
  async (asking, { page, ids, ...wish }: LinesAsk): Promise<DeskLine[]> => {
    const place = await placeOf(asking);
    if (ids) return fetchLinesOf(asking.db, pageBehind(ids, page), wish.range, place);
    return fetchMoreLines(asking.db, wish, page, place);
  },
);

const heads = new WeakMap<World, NextAnswer<OverviewHead>>();

function headsOf(world: World): NextAnswer<OverviewHead> {
  const known = heads.get(world);
  if (known) return known;
  const made = new NextAnswer(async () => {
    const asking = { world, now: world.now() };
    return fetchOverviewHead(world.db, await placeOf(asking));
  });
  heads.set(world, made);
  return made;
}

/** What stands above the lines; worked out once for all open desks that ask at the same time. */
export const getOverview = asks('getOverview', 'look', ({ world }): Promise<OverviewHead> =>
  headsOf(world).ask(),
);
