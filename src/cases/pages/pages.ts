import type { Db } from '@/store/db/connection';
import {
  deletePage as deleteKept,
  fetchPage,
  fetchPageBySlug,
  fetchPages,
  saveNewPage,
  savePageChange,
  type Page,
  type PageContent,
} from '@/store/pages/pages';
import { fetchKnownIds } from '@/store/watches/watches';
import { orNotFound } from '@/cases/frame/find';
import { withoutReadOnly } from '@/cases/frame/read-only';
import { refused } from '@/cases/frame/refusal';
import { asIs, asks, changes, type Act } from '@/cases/frame/use-case';
import { validateBody } from '@/cases/frame/validate';
import { refuseChanged, versionOf, type VersionedChange } from '@/cases/frame/version';
import { pageSchema } from '@/cases/schemas/pages';
import { deletes } from '@/cases/frame/deletes';

export async function foundPage(db: Db, id: number): Promise<Page> {
  return orNotFound(await fetchPage(db, id), `page ${id}`);
}

export function pageVersion({ slug, title, intro, sections }: Page): string {
  return versionOf([slug, title, intro, sections]);
}

/** Refuses ids that are no watches. */
export async function refuseUnknownWatches(db: Db, ids: readonly number[], field: string): Promise<void> {
  const known = await fetchKnownIds(db, ids);
  const unknown = ids.find((id) => !known.has(id));
  if (unknown !== undefined) throw refused([{ field, message: `Expected known watches, got ${unknown}.` }]);
}

async function validPage(db: Db, given: unknown, ownId: number | null): Promise<PageContent> {
  const page = await validateBody<PageContent>(pageSchema, given);
  const taken = await fetchPageBySlug(db, page.slug);
  if (taken && taken.id !== ownId) {
    const message = `Expected an address name of its own, but "${page.slug}" belongs to “${taken.title}”.`;
    throw refused([{ field: 'slug', message }]);
  }
  const ids = page.sections.flatMap((section) => section.items.map((item) => item.watchId));
  await refuseUnknownWatches(db, ids, 'sections');
  return page;
}

function touched({ about, afterwards, world }: Act, id: number, title: string): void {
  about({ kind: 'page', id, name: title });
  afterwards(() => world.hub.emit('pages', id));
}

export const listPages = asks('listPages', 'look', ({ db }): Promise<Page[]> => fetchPages(db));

export const getPage = asks('getPage', 'look', ({ db }, { id }: { id: number }) => foundPage(db, id));

export const createPage = changes(
  'createPage',
  'write',
  asIs<{ body: unknown }>,
  async (act, { body }): Promise<Page> => {
    const valid = await validPage(act.trx, body, null);
    const id = await saveNewPage(act.trx, { ...valid, createdAt: act.now });
    touched(act, id, valid.title);
    return foundPage(act.trx, id);
  },
);

export const changePage = changes(
  'changePage',
  'write',
  asIs<VersionedChange>,
  async (act, { id, body, expected }): Promise<Page> => {
    const page = await foundPage(act.trx, id);
    refuseChanged(expected, pageVersion(page), `“${page.title}”`);
    const { slug, title, intro, sections } = page;
    const sent = withoutReadOnly(body, ['createdAt', 'address']);
    const valid = await validPage(act.trx, { slug, title, intro, sections, ...sent }, id);
    await savePageChange(act.trx, id, valid);
    touched(act, id, valid.title);
    return foundPage(act.trx, id);
  },
);

export const deletePage = deletes('deletePage', 'write', {
  find: foundPage,
  version: pageVersion,
  called: ({ title }) => `“${title}”`,
  remove: deleteKept,
  touched: (act, { id, title }) => touched(act, id, title),
});
