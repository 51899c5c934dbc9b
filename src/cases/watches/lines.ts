import type { ListPage } from '@/store/db/list-page';
import { fetchMoreLines, type DeskLine, type LinesWish } from '@/views/overview/lines';
import { asks } from '@/cases/frame/use-case';

/** Watches as the desk shows them, a page at a time. */
export const listLines = asks(
  'listLines',
  'look',
  async ({ db, world, now }, { page, ...wish }: LinesWish & { page: ListPage }): Promise<DeskLine[]> =>
    fetchMoreLines(db, wish, page, {
      now,
      zone: world.place.zone,
      engineAnswers: await world.engine.isConnected(),
    }),
);
