import { rmSync } from 'node:fs';
import { expect, test, type Locator, type Page } from '@playwright/test';
import { makeWatch, periodConfig, tempStore, webConfig, type Product } from '../integration/helpers';
import { openDesk } from './helpers';
import { newCheckinKey } from '@/accounts/secrets';
import { openStore } from '@/store/db/open';
import { startSignedIn } from '../integration/signed-in';

const WATCHES = 420;

test.describe('long lists', () => {
  let product: Product;
  let cookie: string;

  test.beforeAll(async () => {
    const store = await tempStore();
    await store.db.raw('PRAGMA synchronous = OFF');
    for (let i = 1; i <= WATCHES; i += 1) {
      // All but one wait to hear, and are not missed yet: what comes up in between moves no row.
      const config =
        i === 1 ? webConfig('http://127.0.0.1:9/', { every: 86_400 }) : periodConfig(86_400, 600);
      const checkinKey = i === 1 ? null : newCheckinKey();
      const section = i > 300 ? 'Crew house' : 'Piers';
      await makeWatch(store.db, config, { name: `Berth ${i}`, section, checkinKey });
    }
    await store.db.destroy();
    ({ product, cookie } = await startSignedIn(store.folder));
  });
  test.afterAll(async () => {
    await product.stop();
    rmSync(product.folder, { recursive: true, force: true });
  });
  test.beforeEach(async ({ context }) => {
    const [name = '', value = ''] = cookie.split(/=(.*)/s);
    await context.addCookies([{ name, value, url: product.base }]);
  });

  test('the overview has a row for whatever is near, and counts all of them', async ({ page }) => {
    await openDesk(page, `${product.base}/?range=7d`);
    const row = (n: number) => page.getByRole('listitem').filter({ hasText: new RegExp(`Berth ${n}\\D`) });
    await expect(row(100)).toHaveAttribute('aria-setsize', String(WATCHES));
    await expect(row(420)).toHaveCount(0);
    // Rows that come on the way are higher than their place was.
    await expect(async () => {
      await page.evaluate(() => window.scrollTo(0, document.body.scrollHeight));
      await expect(row(420)).toHaveAttribute('aria-posinset', '420', { timeout: 2_000 });
    }).toPass();
    await expect(page.getByRole('heading', { name: 'Crew house' }).last()).toBeVisible();
    // What is far away again leaves, and its place stays.
    const height = await page.evaluate(() => document.body.scrollHeight);
    await page.evaluate(() => window.scrollTo(0, 0));
    await expect(row(420)).toHaveCount(0);
    expect(await page.evaluate(() => document.body.scrollHeight)).toBeGreaterThan(height - 60);
    // By keyboard, from the last row that came with the page to the one behind it.
    await row(100).getByRole('link').focus();
    await expect(row(101)).toBeVisible();
    await page.keyboard.press('Tab');
    await expect(row(101).getByRole('link')).toBeFocused();
  });

  test('what went out of sight and came back at once is there', async ({ page }) => {
    // As where a page has much else to do: changes of what is in sight are told together.
    await page.addInitScript(() => {
      const Own = window.IntersectionObserver;
      window.IntersectionObserver = class extends Own {
        constructor(tell: IntersectionObserverCallback, options?: IntersectionObserverInit) {
          let held: IntersectionObserverEntry[] = [];
          super((changes, observer) => {
            if (held.length === 0) setTimeout(() => tell(held.splice(0), observer), 300);
            held = [...held, ...changes];
          }, options);
        }
      };
    });
    await openDesk(page, `${product.base}/?range=7d`);
    const last = page.getByRole('listitem').filter({ hasText: /Berth 420\D/ });
    // Rows that come on the way are higher than their place was.
    const reachesTheEnd = () =>
      expect(async () => {
        await page.evaluate(() => window.scrollTo(0, document.body.scrollHeight));
        await expect(last).toBeVisible({ timeout: 2_000 });
      }).toPass({ timeout: 40_000 });
    await reachesTheEnd();
    await page.evaluate(async () => {
      const drawn = () => new Promise((resolve) => requestAnimationFrame(() => setTimeout(resolve, 30)));
      const { scrollY } = window;
      for (const to of [0, scrollY]) {
        window.scrollTo(0, to);
        await drawn();
      }
    });
    await page.waitForTimeout(1000);
    await reachesTheEnd();
  });

  test('what changes comes by itself, and is all that comes', async ({ page }) => {
    await openDesk(page, `${product.base}/?range=7d`);
    const row = page.getByRole('listitem').filter({ hasText: /Berth 7\D/ });
    await expect(row.getByRole('link')).toContainText('waiting');
    // The first drawing may be followed by one more, for what happened before the page listened.
    await page.waitForTimeout(3000);
    const asked: string[] = [];
    page.on('request', (request) => {
      const { pathname, search } = new URL(request.url());
      if (request.headers().rsc) asked.push(`page ${pathname}`);
      else if (pathname.startsWith('/api/')) asked.push(`${pathname.slice('/api/v1'.length)}${search}`);
    });
    const job = (await product.api('GET', '/watches/7')).body as { checkinAddress: string };
    await fetch(`${job.checkinAddress}?is=failed`, { method: 'POST' });
    await expect(page.getByRole('article', { name: 'Berth 7' })).toBeVisible();
    await expect(row.getByRole('link')).toContainText('down');
    await expect(page.getByRole('heading', { level: 1 })).toContainText('of 420 watches need you');
    expect(asked).toContain('/lines?range=7d&limit=1&ids=7');
    expect(asked.filter((one) => !/^\/(overview|lines\?.*ids=)/.test(one))).toEqual([]);
    // A row far below that is there takes part; one that is not is not asked for.
    const last = page.getByRole('listitem').filter({ hasText: /Berth 420\D/ });
    const isThere = (words: string) =>
      expect(async () => {
        await page.evaluate(() => window.scrollTo(0, document.body.scrollHeight));
        await expect(last.getByRole('link')).toContainText(words, { timeout: 2_000 });
      }).toPass();
    await isThere('waiting');
    const late = (await product.api('GET', '/watches/420')).body as { checkinAddress: string };
    await fetch(`${late.checkinAddress}?is=failed`, { method: 'POST' });
    await isThere('down');
    // Links that come into sight are read ahead; the page itself is not read again.
    expect(asked).not.toContain('page /');
  });

  test('a text narrows all of them while it is typed, and keeps its focus', async ({ page }) => {
    await openDesk(page, `${product.base}/watches`);
    const field = page.getByPlaceholder('Narrow by text');
    await field.pressSequentially('berth 41');
    await expect(page.getByRole('heading', { level: 1 })).toHaveText('14 watches of 420.');
    await expect(field).toBeFocused();
    await expect(page.getByRole('row')).toHaveCount(15);
  });

  test('all of a table can be chosen, those too that have no row yet', async ({ page }) => {
    await openDesk(page, `${product.base}/watches`);
    await expect(page.getByRole('table')).toHaveAttribute('aria-rowcount', String(WATCHES + 1));
    await page.getByRole('checkbox', { name: `Choose all ${WATCHES}` }).check();
    await expect(page.getByText(`${WATCHES} watches chosen`)).toBeVisible();
    await page.evaluate(() => window.scrollTo(0, document.body.scrollHeight));
    const last = page.getByRole('checkbox', { name: 'Choose Berth 420' });
    await expect(last).toBeChecked();
    await last.uncheck();
    await page.evaluate(() => window.scrollTo(0, 0));
    await expect(page.getByText('419 watches chosen')).toBeVisible();
  });

  test('jobs behind the first come as they are scrolled to', async ({ page }) => {
    await openDesk(page, `${product.base}/jobs`);
    const jobs = page.getByRole('table').getByRole('row');
    await expect(jobs.nth(100)).toBeVisible();
    await page.evaluate(() => window.scrollTo(0, document.body.scrollHeight));
    await expect(page.locator(`tr[aria-rowindex="${WATCHES}"]`)).toBeVisible();
  });

  test('names beyond those that were sent are found by typing', async ({ page }) => {
    await openDesk(page, `${product.base}/watches/1/change`);
    await page.locator('summary', { hasText: 'Rests on' }).click();
    const rests = page.getByRole('group', { name: 'It rests on these' });
    await expect(rests.getByText('There are more; type to find them.')).toBeVisible();
    await rests.getByPlaceholder('Find a watch').fill('Berth 417');
    await rests.getByRole('checkbox', { name: 'Berth 417' }).check();
    await rests.getByPlaceholder('Find a watch').fill('Berth 7');
    await expect(rests.getByRole('checkbox', { name: 'Berth 417' })).toBeChecked();
  });

  test('what can be done is found from anywhere, and so are watches', async ({ page }) => {
    await openDesk(page, `${product.base}/watches/5`);
    await page.getByRole('button', { name: 'Pause' }).waitFor();
    await page.keyboard.press('Control+k');
    const field = page.getByRole('combobox', { name: 'Find a watch' });
    await expect(field).toBeFocused();
    const option = (name: string) => page.getByRole('option', { name, exact: true });
    // Other words than its own lead to it, all of them at once.
    await field.fill('window quiet');
    await expect(page.getByRole('option')).toHaveText(['Plan maintenance']);
    await field.fill('berth 41 nothing of the kind');
    await expect(page.getByText(/^No watch has/)).toBeVisible();
    // What belongs to the watch that is open is offered there.
    await field.fill('pause');
    await expect(option('Pause it')).toBeVisible();
    await page.keyboard.press('Enter');
    await expect(field).toHaveCount(0);
    await expect(page.getByRole('button', { name: 'End the pause' })).toBeVisible();
    await page.keyboard.press('/');
    await field.fill('berth 417');
    await page.keyboard.press('Enter');
    await expect(page.getByRole('heading', { level: 1 })).toContainText('Berth 417');
    await page.keyboard.press('/');
    await field.fill('crontab');
    await page.keyboard.press('Enter');
    await expect(page).toHaveURL(/\/watches\/jobs$/);
    await page.keyboard.press('/');
    await expect(page.getByText('This watch')).toHaveCount(0);
    await page.keyboard.press('Escape');
    await product.api('POST', '/watches/5/resume', {});
  });

  test('many that were deleted are taken back from where it is said', async ({ page }) => {
    await openDesk(page, `${product.base}/watches?text=berth%2039`);
    await page.getByRole('checkbox', { name: 'Choose all that are shown' }).check();
    await page.getByRole('button', { name: 'Delete', exact: true }).click();
    await page.getByRole('button', { name: 'Delete: 14 watches' }).click();
    const said = page.getByRole('region', { name: 'Messages as they come' });
    await expect(said).toContainText('14 watches deleted.');
    await expect(page.getByRole('heading', { level: 1 })).toContainText('406');
    await said.getByRole('button', { name: 'Take it back' }).click();
    await expect(page.getByRole('heading', { level: 1 })).toContainText('14 watches of 420');
    await expect(said.getByText('14 watches deleted.')).toHaveCount(0);
  });

  test('outages go on to the very first as one scrolls', async ({ page }) => {
    const db = await openStore(product.folder, { migrate: false });
    const began = Date.now() - 300 * 3_600_000;
    const outage = (i: number) => ({
      ...{ watch_id: 2 + (i % 2), began: began + i * 3_600_000, noticed: began + i * 3_600_000 },
      ...{ ended: began + i * 3_600_000 + 60_000 + i * 1000, cause: 'port.refused' },
      ...{ causes: '["port.refused"]', detail: '{"port":80}' },
    });
    await db.batchInsert(
      'outages',
      Array.from({ length: 250 }, (_, i) => outage(i)),
      50,
    );
    // The one that nobody answers has gone down by now; nothing else moves.
    await expect.poll(async () => db('watch_status').where({ watch_id: 1 }).pluck('state')).toEqual(['down']);
    await db.destroy();
    await openDesk(page, `${product.base}/outages`);
    const table = page.getByRole('table');
    const all = Number(await table.getAttribute('aria-rowcount')) - 1;
    expect(all).toBeGreaterThan(250);
    await expect(page.getByText(`${all} outages so far, the newest first.`)).toBeVisible();
    await expect(table.getByRole('row', { name: 'Berth' })).toHaveCount(100);
    await expect(async () => {
      await page.evaluate(() => window.scrollTo(0, document.body.scrollHeight));
      await expect(table.locator(`[aria-rowindex="${all + 1}"]`)).toBeVisible({ timeout: 1_000 });
    }).toPass();
    await expect(table.locator(`[aria-rowindex="${all + 1}"]`)).toContainText('1 min');
    const places = () =>
      table
        .locator('[aria-rowindex]')
        .evaluateAll((some) => some.map((row) => Number(row.getAttribute('aria-rowindex'))));
    expect(await places()).toEqual(Array.from({ length: all }, (_, i) => i + 2));
    await expect(table.getByText('More are read…')).toHaveCount(0);
    // One more on top pushes nothing out.
    const job = (await product.api('GET', '/watches/200')).body as { checkinAddress: string };
    await fetch(`${job.checkinAddress}?is=failed`, { method: 'POST' });
    await expect(table.getByRole('row', { name: 'Berth 200' })).toHaveCount(1);
    expect(await places()).toEqual(Array.from({ length: all + 1 }, (_, i) => i + 2));
    // Those of one watch alone.
    await openDesk(page, `${product.base}/outages?watch=3`);
    await expect(page.getByText('125 outages so far, the newest first.')).toBeVisible();
    await expect(table.getByRole('row', { name: 'Berth 2' })).toHaveCount(0);
    expect((await page.goto(`${product.base}/outages?watch=999999`))!.status()).toBe(404);
  });

  test('a page is made of watches that are found by their names', async ({ page }) => {
    await openDesk(page, `${product.base}/pages/new`);
    const section = page.getByRole('group', { name: 'Section 1' });
    const add = section.getByRole('group', { name: 'Add a watch to section 1' });
    // Of so many only the first are sent along.
    expect(await page.content()).not.toContain('Berth 417');
    for (const name of ['Berth 417', 'Berth 388']) {
      await add.getByPlaceholder('Find a watch').fill(name);
      await add.getByRole('checkbox', { name }).click();
      await expect(section.getByRole('textbox', { name: `What the public reads for ${name}` })).toHaveValue(
        name,
      );
      // What stands there is not offered again.
      await expect(add.getByRole('checkbox', { name })).toHaveCount(0);
    }
    await page.getByLabel('Title', { exact: true }).fill('Berths');
    await page.getByRole('button', { name: 'Make the page' }).click();
    await expect(page.getByRole('heading', { name: 'No incident is open.' })).toBeVisible();
    const pages = (await product.api('GET', '/pages')).body as {
      title: string;
      sections: { items: { label: string }[] }[];
    }[];
    const made = pages.find(({ title }) => title === 'Berths')!;
    expect(made.sections[0]!.items.map(({ label }) => label)).toEqual(['Berth 417', 'Berth 388']);
    // Changed later, it knows them, though they are far behind the first.
    await page.getByRole('link', { name: 'Change the page' }).click();
    await expect(page.getByText('Berth 388 · its history')).toBeVisible();
  });

  test('a route says what it is about while it is put together, of watches that are found by their names', async ({
    page,
  }) => {
    await openDesk(page, `${product.base}/messages/routes/new`);
    expect(await page.content()).not.toContain('Berth 417');
    await expect(page.getByText(`It is about ${WATCHES} watches today.`)).toBeVisible();
    await page.getByLabel('About', { exact: true }).selectOption('some of them');
    await expect(page.getByText('It is about 0 watches today.')).toBeVisible();
    await page.getByRole('checkbox', { name: 'Crew house' }).first().check();
    await expect(page.getByText('It is about 120 watches today.')).toBeVisible();
    await expect(page.getByRole('heading', { name: 'If Berth 301 went down now' })).toBeVisible();
    const single = page.getByRole('group', { name: 'About: single watches' });
    await single.getByPlaceholder('Find a watch').fill('Berth 17');
    await single.getByRole('checkbox', { name: 'Berth 17', exact: true }).click();
    await expect(page.getByText('It is about 121 watches today.')).toBeVisible();
    await page.getByText('But not about').click();
    const except = page.getByRole('group', { name: 'Not about: single watches' });
    await except.getByPlaceholder('Find a watch').fill('Berth 417');
    await except.getByRole('checkbox', { name: 'Berth 417' }).click();
    await expect(page.getByText('It is about 120 watches today.')).toBeVisible();
    const sentence = page.getByRole('status').filter({ hasText: 'nobody hears yet' });
    await expect(sentence).toContainText(/Berth 17\b.*Berth 417/);
    await page.getByLabel('Name', { exact: true }).fill('The house');
    await page.getByRole('button', { name: 'Add the route' }).click();
    await page.waitForURL(`${product.base}/messages`);
    const route = page.getByRole('listitem').filter({ hasText: 'The house' });
    await expect(route).toContainText('120 watches');
    await route.getByRole('link', { name: 'Change' }).click();
    await expect(sentence).toContainText(/Berth 17\b.*Berth 417/);
    await expect(page.getByText('It is about 120 watches today.')).toBeVisible();
    const made = (await product.api('GET', '/routes')).body as { id: number; name: string }[];
    await product.api('DELETE', `/routes/${made.find(({ name }) => name === 'The house')!.id}`);
  });

  test('a section is read once it is opened, to its end, and put into order from where one is', async ({
    page,
  }) => {
    await openDesk(page, `${product.base}/sections`);
    expect(await page.content()).not.toContain('Berth 301');
    await expect(page.getByRole('button', { name: 'Piers 300 watches' })).toBeVisible();
    await page.getByRole('button', { name: 'Crew house 120 watches' }).click();
    const list = page.getByRole('list', { name: 'Watches of Crew house' });
    await expect(list.getByRole('link', { name: 'Berth 301' })).toBeVisible();
    await expect(list.getByRole('link', { name: 'Berth 420' })).toHaveCount(0);
    await scrollTo(page, list.getByRole('link', { name: 'Berth 420' }));
    await expect(list.getByText('More are read…')).toHaveCount(0);
    const names = () => list.getByRole('link').allInnerTexts();
    expect(await names()).toEqual(Array.from({ length: 120 }, (_, i) => `Berth ${301 + i}`));
    const saved = page.waitForResponse((response) => response.url().endsWith('/watches/order'));
    await list.getByRole('button', { name: 'Move Berth 420' }).focus();
    // What is pressed before the last key was understood goes to nobody.
    for (const [key, said] of [
      ['Space', 'Berth 420 is lifted from place 120 of 120.'],
      ['ArrowUp', 'Berth 420 is over place 119 of 120.'],
      ['Space', 'Berth 420 put down at place 119 of 120.'],
    ] as const) {
      await page.keyboard.press(key);
      await expect(page.getByRole('status').filter({ hasText: said })).toBeAttached();
    }
    expect((await saved).status()).toBe(204);
    expect((await names()).slice(-2)).toEqual(['Berth 420', 'Berth 419']);
    await page.reload();
    await page.getByRole('button', { name: 'Crew house 120 watches' }).click();
    await scrollTo(page, list.getByRole('link', { name: 'Berth 419' }));
    expect((await names()).slice(-2)).toEqual(['Berth 420', 'Berth 419']);
  });

  /** Scrolls to the end until what is said stands there. */
  const scrollTo = (page: Page, target: Locator) =>
    expect(async () => {
      await page.evaluate(() => window.scrollTo(0, document.body.scrollHeight));
      await expect(target).toBeVisible({ timeout: 1_000 });
    }).toPass();

  test('runs of a job go on as one scrolls, all of them or those that failed', async ({ page }) => {
    const db = await openStore(product.folder, { migrate: false });
    const began = Date.now() - 400 * 3_600_000;
    const report = (i: number) => ({
      ...{
        watch_id: 12,
        at: began + i * 3_600_000,
        method: 'POST',
        address: '127.0.0.1',
        output: `run ${i}`,
      },
      ...(i % 50 === 7 ? { kind: 'failed', code: 3 } : { kind: 'done', code: 0 }),
    });
    await db.batchInsert(
      'reports',
      Array.from({ length: 300 }, (_, i) => report(i)),
      50,
    );
    await db.destroy();
    await openDesk(page, `${product.base}/watches/12`);
    const runs = page.locator('section', { has: page.getByRole('heading', { name: 'Runs', exact: true }) });
    const rows = runs.locator('tbody tr').filter({ hasText: '127.0.0.1' });
    await expect(rows).toHaveCount(40);
    await runs.getByRole('button', { name: 'Failed' }).click();
    await expect(rows).toHaveCount(6);
    await expect(rows.last()).toContainText('exit status 3');
    await rows.last().getByText('output').click();
    await expect(rows.last()).toContainText('run 7');
    await runs.getByRole('button', { name: 'Two at once' }).click();
    await expect(runs.getByText('No run is like this.')).toBeVisible();
    await runs.getByRole('button', { name: 'All' }).click();
    await expect(runs.getByText('No run is like this.')).toHaveCount(0);
    await scrollTo(page, rows.nth(299));
    await expect(rows).toHaveCount(300);
    await expect(runs.getByText('More are read…')).toHaveCount(0);
    // One more on top pushes nothing out.
    const job = (await product.api('GET', '/watches/12')).body as { checkinAddress: string };
    await fetch(job.checkinAddress, { method: 'POST' });
    await expect(rows).toHaveCount(301);
  });

  test('messages and incidents go on as one scrolls', async ({ page }) => {
    const made = await product.api('POST', '/pages', { title: 'Ferries', slug: 'ferries', sections: [] });
    const pageId = (made.body as { id: number }).id;
    const channel = await product.api('POST', '/channels', {
      ...{ kind: 'webhook', name: 'Bridge log', settings: { address: 'http://127.0.0.1:9/' } },
    });
    const channelId = (channel.body as { id: number }).id;
    const db = await openStore(product.folder, { migrate: false });
    const at = Date.now() - 200 * 3_600_000;
    const each = Array.from({ length: 130 }, (_, i) => i);
    const text = (i: number) => JSON.stringify({ title: `Sailing ${i}`, lines: [], link: '' });
    await db.batchInsert(
      'messages',
      each.map((i) => ({ id: 1000 + i, created_at: at + i * 1000, text: text(i), kind: 'down' })),
      50,
    );
    await db.batchInsert(
      'deliveries',
      each.map((i) => ({
        ...{ message_id: 1000 + i, channel_id: channelId, state: i % 2 ? 'delivered' : 'given-up' },
        ...{ attempts: 1, next_at: 0 },
      })),
      50,
    );
    await db.batchInsert(
      'incidents',
      each.map((i) => ({
        id: 1000 + i,
        title: `Fog ${i}`,
        began: at + i * 1000,
        ended: at + i * 1000 + 60_000,
      })),
      50,
    );
    await db.batchInsert(
      'incident_pages',
      each.map((i) => ({ incident_id: 1000 + i, page_id: pageId })),
      50,
    );
    await db.destroy();
    await openDesk(page, `${product.base}/messages/sent?channel=${channelId}`);
    const sent = page.locator('tbody tr').filter({ hasText: 'Sailing' });
    await expect(sent).toHaveCount(50);
    await scrollTo(page, page.getByText('Sailing 0', { exact: true }));
    await expect(sent).toHaveCount(130);
    // Another choice begins anew.
    await openDesk(page, `${product.base}/messages/sent?channel=${channelId}&outcome=given-up`);
    await scrollTo(page, page.getByText('Sailing 0', { exact: true }));
    await expect(sent).toHaveCount(65);
    await openDesk(page, `${product.base}/pages/${pageId}`);
    const incidents = page.getByRole('listitem').filter({ hasText: 'Fog' });
    await expect(incidents).toHaveCount(50);
    await scrollTo(page, page.getByRole('link', { name: 'Fog 0', exact: true }));
    await expect(incidents).toHaveCount(130);
    await expect(incidents.first()).toContainText('1 min');
  });

  test('the table of watches is put in order by its heads, all of it, and its columns are one’s own', async ({
    page,
  }) => {
    await openDesk(page, `${product.base}/watches`);
    const table = page.getByRole('table');
    const head = (name: string) => table.getByRole('columnheader', { name: new RegExp(`^${name}\\b`) });
    const rowAt = (place: number) => table.locator(`[aria-rowindex="${place}"]`);
    await expect(head('section')).toHaveAttribute('aria-sort', 'ascending');
    await head('watch').getByRole('link').click();
    await expect(head('watch')).toHaveAttribute('aria-sort', 'ascending');
    await expect(rowAt(2)).toContainText('Berth 1');
    await expect(rowAt(3)).toContainText('Berth 10');
    await head('watch').getByRole('link').click();
    await expect(head('watch')).toHaveAttribute('aria-sort', 'descending');
    await expect(rowAt(2)).toContainText('Berth 99');
    // What comes as one scrolls is in the same order.
    await expect(async () => {
      await page.evaluate(() => window.scrollTo(0, document.body.scrollHeight));
      await expect(rowAt(WATCHES + 1)).toContainText(/Berth 1\D/, { timeout: 2_000 });
    }).toPass();
    await page.evaluate(() => window.scrollTo(0, 0));
    // The first of them is a probe; all others wait to hear.
    await head('kind').getByRole('link').click();
    await expect(rowAt(2)).toContainText('check-in');
    const menu = async (item: string) => {
      await page.getByRole('button', { name: 'Columns' }).click();
      await page.getByRole('menuitemcheckbox', { name: item }).click();
      await page.keyboard.press('Escape');
    };
    await menu('tags');
    await menu('state');
    await expect(head('tags')).toHaveCount(0);
    await head('state').getByRole('link').click();
    await expect(rowAt(2)).toContainText('down');
    const width = async () => (await head('kind').boundingBox())!.width;
    const before = await width();
    await table.getByRole('separator', { name: 'Width of kind' }).focus();
    for (let i = 0; i < 4; i += 1) await page.keyboard.press('ArrowRight');
    expect(await width()).toBeGreaterThan(before + 60);
    const drawn = await width();
    await page.reload();
    await expect(head('state')).toHaveAttribute('aria-sort', 'ascending');
    await expect(head('tags')).toHaveCount(0);
    expect(Math.abs((await width()) - drawn)).toBeLessThan(3);
    await page.getByRole('button', { name: 'Columns' }).click();
    await page.getByRole('menuitem', { name: 'As it was at first' }).click();
    await expect(head('tags')).toBeVisible();
    await expect(head('state')).toHaveCount(0);
  });
});
