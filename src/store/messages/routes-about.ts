import { concerns } from '@/core/telling/route';
import type { Db } from '@/store/db/connection';
import { fetchFactsOf } from '@/store/watches/watch-facts';
import { fetchSetup } from './setup';

/** The routes that are about any of some watches: what concerns these goes by no other. */
export async function fetchRoutesAbout(db: Db, watchIds: readonly number[]): Promise<number[]> {
  const { setup } = await fetchSetup(db);
  const watches = await fetchFactsOf(db, watchIds);
  return setup.routes.filter((route) => concerns(route, watches)).map(({ id }) => id);
}
