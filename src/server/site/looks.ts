import { createHash } from 'node:crypto';
import { lookCss } from '@/core/pages/look';
import { cleanCss } from '@/core/pages/own-css';
import type { Page } from '@/store/pages/pages';

interface Look {
  name: string | null;
  css: string;
}

/** The sheets of style of pages that look like no other; each is made once. */
export class PageLooks {
  private readonly looks = new WeakMap<Page, Look>();

  private of(page: Page): Look {
    let look = this.looks.get(page);
    if (!look) {
      // Cleaned when it is shown too: what was let in once is not let in for ever.
      const css = lookCss(page, page.css ? cleanCss(page.css).css : '');
      const mark = createHash('sha256').update(css).digest('hex').slice(0, 12);
      look = { css, name: css ? `look-${mark}.css` : null };
      this.looks.set(page, look);
    }
    return look;
  }

  readonly fileOf = (page: Page): string | null => this.of(page).name;
  readonly cssOf = (page: Page): string => this.of(page).css;
}
