import type { Knex } from 'knex';
import { fetchFormerSlugs, fetchPages, type Page } from '@/store/pages/pages';
import { fetchShownIds } from '@/store/pages/shown';

/** A page, the watches it shows, and when anything on it last changed, by the clock nobody sets. */
export interface IndexedPage {
  page: Page;
  watchIds: ReadonlySet<number>;
  changedAt: number;
  /** When a person last changed something of it, or on it. */
  editedAt: number;
}

/** Whether a page is meant by what it was asked for, under an address name: with its secret where it has a secret link. */
function goesBy(name: string, slug: string, { audience, secret }: Page): boolean {
  return audience === 'link' ? secret !== null && name === `${slug}.${secret}` : name === slug;
}

/** Watches that come to a page by themselves are on it this much later at most. */
const LOOK_AGAIN_MS = 10_000;

/**
 * All pages by what they are asked for, kept in memory: when something is down, many come at once, and nothing is read
 * for those who find a copy.
 */
export class PageIndex {
  private pages: Promise<Map<number, IndexedPage>> | null = null;
  /** The ids of pages, by where they were before. */
  private former: ReadonlyMap<string, number> = new Map();
  private readAt = -Infinity;
  /** Watches that were on a page and are not any more: one that was deleted may be brought back. */
  private readonly gone = new Set<number>();
  private readonly startedAt: number;
  private plansChangedAt: number;

  constructor(
    private readonly db: Knex,
    private readonly now: () => number,
  ) {
    // A start counts as a change, for nobody knows what was missed.
    this.startedAt = this.plansChangedAt = now();
  }

  private async read(): Promise<Map<number, IndexedPage>> {
    const before = await this.pages?.catch(() => null);
    const pages = new Map<number, IndexedPage>();
    for (const page of await fetchPages(this.db)) {
      const known = before?.get(page.id);
      const watchIds = new Set(await fetchShownIds(this.db, page.sections));
      const first = before ? this.now() : this.startedAt;
      const { changedAt = first, editedAt = first } = known ?? {};
      const entry = { page, watchIds, changedAt, editedAt };
      // What a copy shows that was drawn before is not what is on the page now.
      if (known && this.moved(known.watchIds, watchIds)) entry.changedAt = this.now();
      pages.set(page.id, entry);
    }
    this.former = await fetchFormerSlugs(this.db);
    return pages;
  }

  /** Whether watches came to a page or left it. */
  private moved(before: ReadonlySet<number>, now: ReadonlySet<number>): boolean {
    const left = [...before].filter((id) => !now.has(id));
    for (const id of left) this.gone.add(id);
    return left.length > 0 || now.size > before.size;
  }

  private async all(): Promise<Map<number, IndexedPage>> {
    if (!this.pages || this.now() - this.readAt >= LOOK_AGAIN_MS) {
      this.readAt = this.now();
      const reading = this.read();
      this.pages = reading;
      // What could not be read is read anew by the next who asks.
      reading.catch(() => {
        if (this.pages === reading) this.pages = null;
      });
    }
    return this.pages;
  }

  async list(): Promise<IndexedPage[]> {
    return [...(await this.all()).values()];
  }

  private async find(is: (page: Page) => boolean): Promise<IndexedPage | null> {
    for (const entry of (await this.all()).values()) if (is(entry.page)) return entry;
    return null;
  }

  /** The page at /p/<name>/: its address name, followed by its secret where it has a secret link. */
  async byName(name: string): Promise<IndexedPage | null> {
    return this.find((page) => goesBy(name, page.slug, page));
  }

  /** The page that was once at /p/<name>/; a secret in the name has to be the one it has now. */
  async byFormerName(name: string): Promise<IndexedPage | null> {
    const pages = await this.all();
    const slug = name.split('.', 1)[0]!;
    const entry = pages.get(this.former.get(slug) ?? -1);
    return entry && goesBy(name, slug, entry.page) ? entry : null;
  }

  async byHost(host: string): Promise<IndexedPage | null> {
    return this.find((page) => page.host === host);
  }

  /** When something on a page last changed. */
  changedAtOf({ changedAt }: IndexedPage): number {
    return Math.max(changedAt, this.plansChangedAt);
  }

  async watchesChanged(ids: readonly number[]): Promise<void> {
    if (!this.pages) return;
    const now = this.now();
    // One that is back is found on its pages by the next who asks.
    if (ids.some((id) => this.gone.delete(id))) this.readAt = -Infinity;
    for (const entry of (await this.pages).values()) {
      if (ids.some((id) => entry.watchIds.has(id))) entry.changedAt = now;
    }
  }

  /** A page was made, changed or deleted, or something is told on it. */
  pageChanged(id: number): void {
    const now = this.now();
    // What is asked for from here on is read after the change.
    this.readAt = -Infinity;
    void this.pages?.then((pages) => {
      const entry = pages.get(id);
      if (entry) entry.changedAt = entry.editedAt = now;
    });
  }

  plansChanged(): void {
    this.plansChangedAt = this.now();
  }
}
