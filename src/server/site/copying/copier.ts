import { createHash } from 'node:crypto';
import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { setImmediate as breathe } from 'node:timers/promises';
import type { Knex } from 'knex';
import { daysOf } from '@/core/pages/days';
import { picturesOf, typeOfPicture } from '@/core/pages/picture';
import { DAY_MS } from '@/core/time/units';
import { sheetsOf } from '@/site/files/sheet-list';
import type { PictureShelf } from '@/server/pictures/shelf';
import type { Vault } from '@/store/db/vault';
import { saveCopied, saveCopyProblem } from '@/store/pages/copies';
import type { Page } from '@/store/pages/pages';
import { fetchSheetNames } from '@/views/pages/public-page';
import { PAGE_FILES } from '@/server/site/asked';
import type { SiteAssets } from '@/server/site/assets';
import { COPY_NOTE, FolderTarget, readCopyNote, removeCopy, WebTarget, type CopyTarget } from './copy-target';
import type { Draw } from '@/server/site/drawing';
import type { IndexedPage, PageIndex } from '@/server/site/page-index';

export interface CopierOptions {
  db: Knex;
  /** Wall-clock time. */
  now: () => number;
  /** The desk's zone. */
  zone: string;
  lookFile: (page: Page) => string | null;
  draw: Draw;
  index: PageIndex;
  site: SiteAssets;
  lookOf: (page: Page) => string;
  pictures: Pick<PictureShelf, 'get'>;
  vault: Vault;
  /** Milliseconds of a clock nobody sets. */
  monotonic: () => number;
  /** The folder copies are written below; null where none are. */
  folder: string | null;
  onError: (error: unknown) => void;
}

const LOOK_MS = 2000;
/** A copy is renewed so often though nothing has changed, for it says when it was made. */
const RENEW_MS = 10 * 60_000;
/** What failed is tried again so much later. */
const AGAIN_MS = 60_000;

/** What is known of the copies of one page. */
interface Kept {
  madeAt: number;
  triedAt: number;
  failed: boolean;
  /** When all of it was written, what lies in the past too. */
  wholeAt: number;
  target: string;
  /** Marks of what was written, by name. */
  written: Map<string, string>;
}

/**
 * Keeps copies of pages elsewhere, so that they outlive the machine they speak of: in a folder, or at an address that
 * takes files. Only pages for everyone are copied; nobody there could ask for a password.
 */
export class Copier {
  private readonly kept = new Map<number, Kept>();
  private working: Promise<void> | null = null;
  private timer: NodeJS.Timeout | null = null;

  constructor(private readonly options: CopierOptions) {}

  start(): void {
    this.timer = setInterval(() => this.look(), LOOK_MS);
    this.timer.unref();
  }

  private look(): void {
    this.working ??= this.copyAll()
      .catch(this.options.onError)
      .finally(() => (this.working = null));
  }

  async close(): Promise<void> {
    if (this.timer) clearInterval(this.timer);
    await this.working;
  }

  /** Copies every page that has changed, or whose copy grows old. */
  async copyAll(): Promise<void> {
    const entries = await this.options.index.list();
    await this.removeForeign(entries);
    for (const entry of entries) {
      if (entry.page.audience !== 'everyone') continue;
      const target = this.targetOf(entry.page);
      if (target) await this.copy(entry, target);
    }
  }

  private targetOf({
    slug,
    copied,
    copyTo,
    copyPassword,
  }: Page): { name: string; target: CopyTarget } | null {
    const { folder, vault } = this.options;
    if (copyTo) {
      const password = copyPassword === null ? '' : vault.open(copyPassword);
      const target = new WebTarget({ ...copyTo, password });
      return { name: JSON.stringify(copyTo), target };
    }
    if (!copied || folder === null) return null;
    return { name: join(folder, slug), target: new FolderTarget(join(folder, slug)) };
  }

  private async copy(
    entry: IndexedPage,
    { name, target }: { name: string; target: CopyTarget },
  ): Promise<void> {
    const { index, monotonic, db, now } = this.options;
    const { page } = entry;
    let kept = this.kept.get(page.id);
    if (!kept || kept.target !== name) {
      kept = {
        madeAt: -Infinity,
        triedAt: -Infinity,
        failed: false,
        wholeAt: -Infinity,
        target: name,
        written: new Map(),
      };
      this.kept.set(page.id, kept);
    }
    const at = monotonic();
    if (kept.failed && at - kept.triedAt < AGAIN_MS) return;
    if (index.changedAtOf(entry) < kept.madeAt && at - kept.madeAt < RENEW_MS) return;
    kept.triedAt = at;
    try {
      const whole = entry.editedAt >= kept.wholeAt;
      await this.write(page, target, kept, whole);
      Object.assign(kept, { madeAt: at, failed: false, ...(whole && { wholeAt: at }) });
      await saveCopied(db, page.id, now());
    } catch (error) {
      kept.failed = true;
      await saveCopyProblem(db, page.id, (error as Error).message.slice(0, 300));
    }
  }

  private async write(page: Page, target: CopyTarget, kept: Kept, whole: boolean): Promise<void> {
    const { db, now, zone, site, lookFile, lookOf, draw, pictures } = this.options;
    const put = async (name: string, body: string | Buffer, type: string) => {
      const bytes = Buffer.from(body);
      const mark = createHash('sha256').update(bytes).digest('hex');
      if (kept.written.get(name) === mark) return;
      await target.put(name, bytes, type);
      kept.written.set(name, mark);
    };
    for (const [name, { body, type }] of site.all()) await put(`assets/${name}`, body, type);
    const look = lookFile(page);
    if (look) await put(look, lookOf(page), 'text/css; charset=utf-8');
    for (const name of picturesOf(page)) {
      const bytes = await pictures.get(name);
      if (bytes) await put(`picture/${name}`, bytes, typeOfPicture(name));
    }
    const social = await draw({ page, social: true });
    if (social) await put('social.png', social.body, social.type);
    const at = now();
    const clocks = page.zone ?? zone;
    const names = await fetchSheetNames(db, page, clocks);
    const days = daysOf({ from: at - 90 * DAY_MS, to: at + 1 }, clocks);
    for (const { name, address } of sheetsOf({ days, ...names }, { past: whole })) {
      const root = name.includes('/') ? '../' : './';
      const drawn = await draw({
        page,
        sheet: {
          ...{ address, words: null, language: page.language },
          place: { root, chosen: null, filed: true, live: false },
          madeAt: address.sheet === 'page' ? at : null,
        },
      });
      if (drawn) await put(name, drawn.body, drawn.type);
      // Whoever checks in meanwhile is heard between two sheets.
      await breathe();
    }
    const base = page.copyTo?.address ?? './';
    for (const file of PAGE_FILES) {
      if (file === 'metrics') continue;
      const place = { language: page.language, base: wholeBase(base, page) };
      const drawn = await draw({ page, file, place });
      if (!drawn) continue;
      await put(file, drawn.body, drawn.type);
    }
    if (!page.copyTo) {
      const files = [...kept.written.keys()].filter((name) => name !== COPY_NOTE);
      await put(COPY_NOTE, JSON.stringify({ page: page.id, files }), 'application/json');
    }
  }

  /** Copies of pages that are gone, are called something else by now, or are not for everyone any more, are taken away. */
  private async removeForeign(entries: readonly IndexedPage[]): Promise<void> {
    const { folder } = this.options;
    if (folder === null) return;
    const there = await readdir(folder, { withFileTypes: true }).catch(() => []);
    for (const one of there) {
      if (!one.isDirectory()) continue;
      const note = await readCopyNote(join(folder, one.name));
      const stands = entries.some(
        ({ page }) =>
          page.id === note?.page &&
          page.slug === one.name &&
          page.copied &&
          !page.copyTo &&
          page.audience === 'everyone',
      );
      if (!note || stands) continue;
      await removeCopy(join(folder, one.name), note);
      this.kept.delete(note.page);
    }
  }
}

/** Feeds name whole addresses: where the copy is put, or where the page has a name of its own. */
function wholeBase(base: string, { host, slug }: Page): string {
  if (URL.canParse(base)) return base;
  return `https://${host ?? `${slug}.invalid`}/`;
}
