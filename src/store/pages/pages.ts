import type { Db } from '@/store/db/connection';
import type { PageRow } from '@/store/db/tables';

export interface PageItem {
  watchId: number;
  /** What the public reads instead of the watch's own name. */
  label: string;
}

export interface PageSection {
  title: string;
  items: PageItem[];
}

export interface Page {
  id: number;
  slug: string;
  title: string;
  intro: string;
  sections: PageSection[];
  createdAt: number;
}

export type PageContent = Omit<Page, 'id' | 'createdAt'>;

function pageOf(row: PageRow): Page {
  return {
    id: row.id,
    slug: row.slug,
    title: row.title,
    intro: row.intro,
    sections: JSON.parse(row.sections) as PageSection[],
    createdAt: row.created_at,
  };
}

export async function fetchPages(db: Db): Promise<Page[]> {
  return (await db('pages').orderBy('id')).map(pageOf);
}

export async function fetchPage(db: Db, id: number): Promise<Page | null> {
  const row = await db('pages').where({ id }).first();
  return row ? pageOf(row) : null;
}

export async function fetchPageBySlug(db: Db, slug: string): Promise<Page | null> {
  const row = await db('pages').where({ slug }).first();
  return row ? pageOf(row) : null;
}

function rowOf(page: PageContent) {
  return { slug: page.slug, title: page.title, intro: page.intro, sections: JSON.stringify(page.sections) };
}

export async function saveNewPage(db: Db, page: PageContent & { createdAt: number }): Promise<number> {
  const [id] = await db('pages').insert({ ...rowOf(page), created_at: page.createdAt });
  return id!;
}

export async function savePageChange(db: Db, id: number, page: PageContent): Promise<void> {
  await db('pages').where({ id }).update(rowOf(page));
}

export async function deletePage(db: Db, id: number): Promise<boolean> {
  return (await db('pages').where({ id }).delete()) > 0;
}
