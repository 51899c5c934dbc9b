import type { Db } from '@/store/db/connection';
import { countFollowers } from '@/store/followers/followers';
import { fetchPublicTexts } from '@/store/pages/public-texts';
import { fetchPages } from '@/store/pages/pages';
import { fetchLabels } from '@/store/pages/shown';

/** What whoever tells the public chooses from: pages, and services by what visitors read of them. */
export async function fetchTellChoices(db: Db) {
  const pages = await fetchPages(db);
  const labels = new Map<number, string>();
  for (const page of pages) {
    for (const [id, label] of await fetchLabels(db, page)) if (!labels.has(id)) labels.set(id, label);
  }
  const counts = await countFollowers(
    db,
    pages.map(({ id }) => id),
  );
  return {
    pages: pages.map(({ id, title }) => ({ id, title, followers: counts.get(id)!.follows })),
    texts: (await fetchPublicTexts(db)).map(({ id, name }) => ({ id, name })),
    watches: [...labels].map(([id, name]) => ({ id, name })),
  };
}
