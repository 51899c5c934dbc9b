import { PLAIN_SETTINGS, type PageSection, type PageSettings } from '@/core/pages/page';
import type { Db } from '@/store/db/connection';
import type { PageRow } from '@/store/db/public-tables';

export interface Page extends PageSettings {
  id: number;
  slug: string;
  title: string;
  intro: string;
  sections: PageSection[];
  createdAt: number;
  /** What its secret link ends in; null where it has none. */
  secret: string | null;
  /** Of the password that opens it (scrypt); null where it has none. */
  passwordHash: string | null;
  /** Of where copies are put; sealed. */
  copyPassword: string | null;
}

export type PageContent = Omit<Page, 'id' | 'createdAt'>;

function pageOf(row: PageRow): Page {
  const settings = { ...PLAIN_SETTINGS, ...(JSON.parse(row.settings) as Partial<PageSettings>) };
  return {
    ...settings,
    // Pages of an earlier time say nothing of what comes back.
    follow: settings.follow && { ...settings.follow, bounced: settings.follow.bounced ?? false },
    host: row.host,
    id: row.id,
    slug: row.slug,
    title: row.title,
    intro: row.intro,
    sections: JSON.parse(row.sections) as PageSection[],
    createdAt: row.created_at,
    secret: row.secret,
    passwordHash: row.password_hash,
    copyPassword: row.copy_password,
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

/** The page that goes by a name of its own on the web, in small letters and without a port. */
export async function fetchPageByHost(db: Db, host: string): Promise<Page | null> {
  const row = await db('pages').where({ host }).first();
  return row ? pageOf(row) : null;
}

function rowOf(page: PageContent) {
  const { slug, title, intro, sections, host, secret, passwordHash, copyPassword, ...settings } = page;
  const differing = Object.entries(settings).filter(
    ([key, value]) => JSON.stringify(value) !== JSON.stringify(PLAIN_SETTINGS[key as keyof PageSettings]),
  );
  return {
    slug,
    title,
    intro,
    sections: JSON.stringify(sections),
    settings: JSON.stringify(Object.fromEntries(differing)),
    host,
    secret,
    password_hash: passwordHash,
    copy_password: copyPassword,
  };
}

export async function saveNewPage(
  db: Db,
  { createdAt, ...page }: PageContent & { createdAt: number },
): Promise<number> {
  await db('former_slugs').where({ slug: page.slug }).delete();
  const [id] = await db('pages').insert({ ...rowOf(page), created_at: createdAt });
  return id!;
}

/** Writes a page over. Where it was before leads to it, until a page takes that name. */
export async function savePageChange(db: Db, id: number, page: PageContent): Promise<void> {
  const before = await db('pages').where({ id }).first('slug');
  await db('former_slugs').where({ slug: page.slug }).delete();
  if (before && before.slug !== page.slug) {
    await db('former_slugs').insert({ slug: before.slug, page_id: id });
  }
  await db('pages').where({ id }).update(rowOf(page));
}

/** The ids of pages, by the names they were found by before. */
export async function fetchFormerSlugs(db: Db): Promise<Map<string, number>> {
  return new Map((await db('former_slugs').select('slug', 'page_id')).map((row) => [row.slug, row.page_id]));
}

export async function deletePage(db: Db, id: number): Promise<boolean> {
  return (await db('pages').where({ id }).delete()) > 0;
}
