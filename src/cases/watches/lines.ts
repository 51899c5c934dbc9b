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
import { asks, type Asking } from '@/cases/frame/use-case';

const placeOf = async ({ world, now }: Asking): Promise<Place> => ({
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

/** What stands above the lines. */
export const getOverview = asks('getOverview', 'look', async (asking): Promise<OverviewHead> =>
  fetchOverviewHead(asking.db, await placeOf(asking)),
);
