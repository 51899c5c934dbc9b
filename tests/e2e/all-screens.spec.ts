import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { ROOT } from '../integration/helpers';
import { signIn, withDemo, type Demo } from './demo';
import { seriousFaults } from './faults';

/** One place for each screen there is. */
const placesOf = (bookingId: number) => [
  '/',
  `/watches/${bookingId}`,
  `/watches/${bookingId}/change`,
  '/watches/11',
  '/watches/new',
  '/watches',
  '/watches/jobs',
  '/watches/many',
  '/watches/deleted',
  '/sections',
  '/shared',
  '/jobs',
  '/outages',
  '/messages',
  '/messages/sent?outcome=waiting',
  '/messages/sent/1',
  '/messages/watches?at=night',
  '/messages/channels/1',
  '/messages/drills',
  '/messages/texts',
  '/messages/texts/new',
  '/messages/texts/1',
  '/messages/routes/new',
  '/messages/routes/1',
  '/pages',
  '/pages/new',
  '/pages/1',
  '/pages/1/change',
  '/pages/1/badges',
  '/pages/1/followers',
  '/pages/1/followers/13',
  '/pages/texts',
  '/pages/badges',
  '/p/ferries/embed',
  '/maintenance',
  '/maintenance/new',
  '/maintenance/1',
  '/maintenance/recurring/1',
  '/access',
  '/account',
  '/own-line',
  '/mail-door',
  '/reference',
  '/incidents/new?outage=1',
  '/incidents/1',
  '/p/ferries/',
  '/p/ferries/?lang=de',
  '/p/ferries/follow',
  '/p/ferries/diary',
  '/p/ferries/incident/1',
  `/p/ferries/day/${new Date().toISOString().slice(0, 10)}`,
  '/p/partners/',
];

/** Those that are seen without signing in. */
const OUTSIDE = ['/sign-in', '/take/none', '/confirm/none'];

/** Those that are there once only, or for a while: the first account, a drill that was sent. */
const ELSEWHERE = ['/welcome', '/messages/drills/[id]'];

/** The pages of the desk and of the public, from the framework's own list. */
function screens(): string[] {
  const manifest = JSON.parse(
    readFileSync(join(ROOT, '.next/app-path-routes-manifest.json'), 'utf8'),
  ) as Record<string, string>;
  return Object.entries(manifest)
    .filter(([file]) => file.endsWith('/page'))
    .map(([, path]) => path)
    .filter((path) => !path.startsWith('/_'));
}

/** It is by far the longest, and one of its parts is coloured as all are: by night a part of each kind. */
const REFERENCE_PARTS = ['header', 'main nav', '#part-Watches', '#part-Refusals', '#shape-Watch'];

/** By day all rules; by night the same things stand on the page in other colours. */
async function look(page: Page, what: string): Promise<void> {
  expect(await seriousFaults(page), `${what}, light`).toEqual([]);
  await page.emulateMedia({ colorScheme: 'dark' });
  const parts = what === '/reference' ? REFERENCE_PARTS : [];
  expect(await seriousFaults(page, ['color-contrast'], parts), `${what}, dark`).toEqual([]);
  await page.emulateMedia({ colorScheme: 'light' });
}

/** By how many pixels a page is wider than its window. */
const beyond = (page: Page) => page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth);

/** One screen in each form: by day, by night, on a phone. */
async function lookAt(page: Page, base: string, place: string): Promise<void> {
  await page.setViewportSize({ width: 1280, height: 800 });
  await page.goto(base + place);
  await page.getByRole('heading', { level: 1 }).waitFor();
  await look(page, place);
  await page.setViewportSize({ width: 390, height: 844 });
  await expect.poll(() => beyond(page), { message: `${place} on a phone` }).toBeLessThanOrEqual(0);
}

// By its name the first: it takes the longest, and is not to be waited for by itself at the end.
test.describe.serial('every screen', () => {
  let demo: Demo;
  withDemo((started) => (demo = started));

  test('is gone through', () => {
    const places = [...placesOf(demo.bookingId), ...OUTSIDE].map((place) => place.split('?')[0]!);
    const isCovered = (path: string) => {
      const pattern = new RegExp(`^${path.replaceAll(/\[[^\]]+\]/g, '[^/]+')}$`);
      return places.some((place) => pattern.test(place));
    };
    expect(screens().filter((path) => !isCovered(path) && !ELSEWHERE.includes(path))).toEqual([]);
  });

  test('has no serious fault of access by day or by night, and fits a phone', async ({ browser }) => {
    // Rule by rule.
    test.setTimeout(600_000);
    const inside = await signIn(browser, demo.base, { colorScheme: 'light' });
    for (const place of placesOf(demo.bookingId)) await lookAt(inside, demo.base, place);
    await inside.goto(`${demo.base}/watches/new`);
    await inside.getByText('check-in', { exact: true }).click();
    await look(inside, 'check-in form');
    await inside.context().close();
    const outside = await (await browser.newContext({ colorScheme: 'light' })).newPage();
    for (const place of OUTSIDE) await lookAt(outside, demo.base, place);
    await outside.context().close();
  });

  test('is read on a phone without moving anything aside', async ({ browser }) => {
    const page = await signIn(browser, demo.base, { viewport: { width: 390, height: 844 } });
    await page.goto(`${demo.base}/outages`);
    const reason = page.getByRole('cell', { name: /^The server answers, but replies/ }).first();
    const box = (await reason.boundingBox())!;
    expect(box.x + box.width).toBeLessThanOrEqual(390);
    await page.getByRole('button', { name: 'Find a watch' }).click();
    await page.getByRole('combobox', { name: 'Find a watch' }).fill('harbour cam');
    await page.keyboard.press('Enter');
    await expect(page.getByRole('heading', { level: 1 })).toHaveText(/^Harbour camera is/);
    for (const place of ['Messages', 'Watches', 'Public pages']) {
      const link = page.getByRole('navigation', { name: 'Main' }).getByRole('link', { name: place });
      await link.click();
      await expect(link).toHaveAttribute('aria-current', 'page');
      await expect(link).toBeInViewport({ ratio: 1 });
    }
    await page.context().close();
  });

  test('fits a phone though every name is one long word', async ({ browser }) => {
    const long = 'W'.repeat(75);
    for (const [list, name] of [
      ['watches', 'name'],
      ['sections', 'name'],
      ['channels', 'name'],
      ['routes', 'name'],
      ['pages', 'title'],
      ['incidents', 'title'],
      ['windows', 'title'],
    ] as const) {
      const headers = { authorization: `Bearer ${demo.token}`, 'content-type': 'application/json' };
      const address = `${demo.base}/api/v1/${list}`;
      for (const { id } of (await (await fetch(address, { headers })).json()) as { id: number }[]) {
        const body = JSON.stringify({ [name]: `${id} ${long}` });
        const { status } = await fetch(`${address}/${id}`, { method: 'PATCH', headers, body });
        expect(status, `${list} ${id}`).toBe(200);
      }
    }
    const page = await signIn(browser, demo.base, { viewport: { width: 390, height: 844 } });
    for (const place of [
      ...['/', `/watches/${demo.bookingId}`, '/sections', '/jobs', '/outages', '/messages'],
      ...['/messages/routes/1', '/maintenance/1', '/pages/1/followers', '/incidents/1', '/p/ferries/'],
    ]) {
      await page.goto(demo.base + place);
      await expect(page.getByText(long).first(), place).toBeAttached();
      expect(await beyond(page), place).toBeLessThanOrEqual(0);
    }
    await page.context().close();
  });
});
