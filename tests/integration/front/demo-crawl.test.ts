import { rmSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { fillDemo } from '@/demo/fill';
import { PARTNERS_PASSWORD } from '@/demo/fill-page';
import { openStore } from '@/store/db/open';
import { savePulse } from '@/store/history/intake-gaps';
import { tempFolder, type Product } from '../helpers';
import { startSignedIn } from '../signed-in';

/** Every address within this place that a page leads to. */
function linksOf(html: string, from: string): string[] {
  const here = new URL(from, 'http://here.test');
  return [...html.matchAll(/<(?:a|link|script)\b[^>]*\b(?:href|src)="([^"#]+)/g)]
    .map((match) => new URL(match[1]!.replaceAll('&amp;', '&'), here))
    .filter(({ origin }) => origin === here.origin)
    .map(({ pathname, search }) => pathname + search);
}

/** Questions that differ by their numbers alone are drawn alike: so many of a kind are asked. Pages are all of them. */
const MOST_ALIKE = 4;

/** What kind of question a link asks, and at which kind of page. */
const kindOf = (link: string) => link.replaceAll(/\d+/g, 'N');

describe('the demo', () => {
  let product: Product;
  let cookie = '';

  beforeAll(async () => {
    const folder = tempFolder();
    const db = await openStore(folder, { durable: false });
    await fillDemo({
      db,
      now: Date.now(),
      harbourPort: 4790,
      onProgress: () => undefined,
    });
    await savePulse(db, Date.now());
    await db.destroy();
    ({ product, cookie } = await startSignedIn(folder));
  });
  afterAll(async () => {
    await product.stop();
    rmSync(product.folder, { recursive: true });
  });

  it('answers every link of its desk and of its public pages with a page', async () => {
    const pages = (await product.api('GET', '/pages')).body as unknown as {
      slug: string;
      audience: string;
    }[];
    for (const { slug } of pages.filter(({ audience }) => audience === 'password')) {
      const body = new URLSearchParams({ password: PARTNERS_PASSWORD });
      const opened = await fetch(`${product.base}/p/${slug}/password`, {
        method: 'POST',
        body,
        redirect: 'manual',
      });
      cookie += `; ${opened.headers.get('set-cookie')!.split(';')[0]}`;
    }
    const waiting = [
      '/',
      '/account',
      '/access',
      '/mail-door',
      '/own-line',
      ...pages.map(({ slug }) => `/p/${slug}/`),
    ];
    const seen = new Set(waiting);
    const wrong: string[] = [];
    const alike = new Map<string, number>();
    let asked = 0;
    while (waiting.length > 0) {
      const path = waiting.shift()!;
      asked += 1;
      const answer = await fetch(product.base + path, { headers: { cookie }, redirect: 'manual' });
      const text = await answer.text();
      const isPage = (answer.headers.get('content-type') ?? '').includes('html');
      if (
        (answer.status !== 200 && !path.endsWith('/metrics')) ||
        (isPage && text.includes('could not be drawn'))
      )
        wrong.push(`${path}: ${answer.status}`);
      if (!isPage) continue;
      for (const link of linksOf(text, path)) {
        // Days lead to days for a quarter of a year, each drawn like the others.
        if (seen.has(link) || (link.includes('/day/') && path.includes('/day/'))) continue;
        seen.add(link);
        const known = alike.get(kindOf(link)) ?? 0;
        alike.set(kindOf(link), known + 1);
        if (!link.includes('?') || known < MOST_ALIKE) waiting.push(link);
      }
    }
    expect(wrong).toEqual([]);
    expect(asked).toBeGreaterThan(400);
    expect([...seen].filter((path) => /^\/watches\/\d+$/.test(path)).length).toBeGreaterThan(15);
  }, 300_000);
});
