import { renamedLines } from '@/core/followers/renamed';
import type { Db } from '@/store/db/connection';
import { renameChosen } from '@/store/followers/followers';
import { fetchPages, type Page } from '@/store/pages/pages';
import { fetchLabels } from '@/store/pages/shown';

type Labels = ReadonlyMap<number, string>;

/** Whoever chose a line of a page goes on hearing of it where it is called something else by now. */
export async function carryChoices(db: Db, page: Page, before: Labels): Promise<void> {
  const renamed = renamedLines(before, await fetchLabels(db, page));
  if (renamed.size > 0) await renameChosen(db, page.id, renamed);
}

/** The same around a change of what watches are called: pages show some under the names they have on the desk. */
export async function withChoicesCarried(db: Db, change: () => Promise<void>): Promise<void> {
  const pages = (await fetchPages(db)).filter(({ sections }) => sections.some(({ follows }) => follows));
  const before = await Promise.all(pages.map((page) => fetchLabels(db, page)));
  await change();
  for (const [i, page] of pages.entries()) await carryChoices(db, page, before[i]!);
}
