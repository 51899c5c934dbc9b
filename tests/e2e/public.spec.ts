import { expect, test, type Browser } from '@playwright/test';
import { signIn, withDemo, type Demo } from './demo';
import { seriousFaults } from './faults';

test.describe('what the public sees', () => {
  let demo: Demo;
  withDemo((started) => (demo = started));

  const visit = async (
    browser: Browser,
    path: string,
    options: Parameters<Browser['newContext']>[0] = {},
  ) => {
    const page = await (await browser.newContext({ colorScheme: 'light', ...options })).newPage();
    const faults: string[] = [];
    page.on('console', (message) => message.type() === 'error' && faults.push(message.text()));
    page.on('pageerror', (error) => faults.push(error.message));
    page.on('request', (request) => {
      if (!request.url().startsWith(demo.base)) faults.push(request.url());
    });
    await page.goto(demo.base + path);
    return { page, faults };
  };

  test('opens a day below its line by pointer and by keyboard, and follows a link to it', async ({
    browser,
  }) => {
    const { page, faults } = await visit(browser, '/p/ferries/');
    const booking = page.locator('.service').filter({ hasText: 'Booking site' });
    const mark = booking.getByRole('link', { name: /^Booking site, .*: out$/ }).first();
    await mark.focus();
    await page.keyboard.press('Enter');
    const day = booking.getByRole('region');
    // By when the demo was filled, it was over at one look or the next, or goes on behind midnight.
    await expect(day.getByText(/^out for ([12]?\d|3[0-5]) min( \d+ s)?$/)).toBeVisible();
    await expect(mark).toHaveAttribute('aria-expanded', 'true');
    await page.keyboard.press('Escape');
    await expect(day).toHaveCount(0);
    await expect(mark).toBeFocused();
    await mark.click();
    await day.getByRole('link', { name: 'What happened' }).click();
    await expect(page.getByRole('heading', { level: 1 })).toHaveText('Booking stopped for half an hour');
    await expect(page.getByText('No booking that had been made was lost.')).toBeVisible();
    await page.goBack();
    await mark.click();
    await day.getByRole('link', { name: 'link to this day' }).click();
    await page.waitForURL(/\/p\/ferries\/day\/\d{4}-\d\d-\d\d#s1-1$/);
    await page.getByRole('link', { name: /^← / }).click();
    await expect(page.getByText('the whole day').first()).toBeVisible();
    expect(faults).toEqual([]);
    await page.context().close();
  });

  test('is all there without any script, and leads on', async ({ browser }) => {
    const { page } = await visit(browser, '/p/ferries/', { javaScriptEnabled: false });
    await expect(page.getByRole('heading', { level: 1 })).toHaveText('Booking site is out.');
    await expect(page.getByRole('article', { name: 'Short hours at the ticket office' })).toBeVisible();
    await expect(page.getByText('Times: Europe/Lisbon')).toBeVisible();
    await page.getByText('Everything these lines show, as a table').click();
    const row = page.getByRole('row').filter({ hasText: 'Mail' });
    await row.getByRole('link').first().click();
    await expect(page.getByRole('heading', { name: 'Mail', exact: true })).toBeVisible();
    await page.getByRole('link', { name: 'All services' }).click();
    await page.getByRole('link', { name: '7 days' }).click();
    await expect(page.locator('[aria-current]', { hasText: '7 days' })).toBeVisible();
    await page.locator('summary', { hasText: 'English' }).click();
    await page.getByRole('link', { name: 'Deutsch' }).click();
    await expect(page.getByRole('heading', { level: 1 })).toHaveText('Booking site ist ausgefallen.');
    await page.getByRole('link', { name: 'Alle Vorfälle nach Monaten' }).click();
    await page.getByLabel('Im Tagebuch suchen').fill('router');
    await page.getByRole('button', { name: 'Im Tagebuch suchen' }).click();
    await expect(page.getByRole('status')).toHaveText('Ein Vorfall enthält „router“.');
    await expect(page.getByRole('heading', { name: 'Three services stopped together' })).toBeVisible();
    await page.context().close();
  });

  test('says times by the visitor’s clocks, or by its own', async ({ browser }) => {
    const { page, faults } = await visit(browser, '/p/ferries/', { timezoneId: 'Asia/Tokyo' });
    const time = page.getByRole('article', { name: 'Online booking' }).locator('time').first();
    const at = new Date((await time.getAttribute('datetime'))!);
    const clock = (timeZone: string) =>
      at.toLocaleTimeString('en-GB', { timeZone, hour: '2-digit', minute: '2-digit' });
    await expect(time).toContainText(clock('Asia/Tokyo'));
    await page.getByRole('button', { name: 'Times: yours, Asia/Tokyo' }).click();
    await expect(time).toContainText(clock('Europe/Lisbon'));
    await page.reload();
    await expect(time).toContainText(clock('Europe/Lisbon'));
    await page.getByRole('button', { name: 'Times: Europe/Lisbon' }).click();
    await expect(time).toContainText(clock('Asia/Tokyo'));
    expect(faults).toEqual([]);
    await page.context().close();
  });

  test('asks for the password of the partners’ page, and keeps it open', async ({ browser }) => {
    const { page } = await visit(browser, '/p/partners/diary');
    await expect(page.getByRole('heading', { level: 1 })).toHaveText(
      'This page is for those who know its password.',
    );
    expect(await seriousFaults(page)).toEqual([]);
    await page.getByLabel('Password').fill('the tide waits for me');
    await page.getByRole('button', { name: 'Open the page' }).click();
    await expect(page.getByRole('alert')).toHaveText('That is not the password. Please try again.');
    await page.getByLabel('Password').fill('the tide waits for nobody');
    await page.getByRole('button', { name: 'Open the page' }).click();
    await expect(page.getByRole('heading', { level: 1 })).toHaveText('Booking for agents is out.');
    expect(await seriousFaults(page)).toEqual([]);
    await page.reload();
    await expect(page.locator('.service')).toHaveCount(3);
    await page.context().close();
  });

  test('fits letters of twice the size, and paper', async ({ browser }) => {
    const { page } = await visit(browser, '/p/ferries/');
    await page.evaluate(() => (document.documentElement.style.fontSize = '200%'));
    const beyond = await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth);
    expect(beyond).toBeLessThanOrEqual(0);
    await page.setViewportSize({ width: 640, height: 900 });
    expect(
      await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth),
    ).toBeLessThanOrEqual(0);
    await page.evaluate(() => document.documentElement.removeAttribute('style'));
    await page.emulateMedia({ media: 'print' });
    await expect(page.getByRole('table')).toBeVisible();
    await expect(page.locator('.choices')).toBeHidden();
    expect((await page.pdf()).length).toBeGreaterThan(10_000);
    await page.context().close();
  });

  test('has a copy elsewhere that works without the machine it speaks of', async ({ browser }) => {
    const page = await (await browser.newContext()).newPage();
    const address = `${demo.harbour.replace(/\/$/, '')}/elsewhere/ferries/index.html`;
    await expect
      .poll(async () => (await fetch(address)).status, { timeout: 60_000, message: 'a copy is made' })
      .toBe(200);
    await page.goto(address);
    await expect(page.getByRole('heading', { level: 1 })).toHaveText('Booking site is out.');
    await expect(page.getByText(/^A copy, made /)).toBeVisible();
    await page.getByRole('link', { name: '30 days' }).click();
    await page.getByRole('link', { name: 'Three services stopped together' }).click();
    await expect(page.getByRole('heading', { level: 1 })).toHaveText('Three services stopped together');
    await page.clock.install({ time: Date.now() + 2 * 3_600_000 });
    await page.goto(address);
    await expect(page.getByRole('status')).toContainText('has not been renewed since');
    await page.context().close();
  });

  test('reads what is corrected, and the desk what it said before', async ({ browser }) => {
    const desk = await signIn(browser, demo.base);
    await desk.goto(`${demo.base}/pages/1`);
    await desk.getByRole('link', { name: 'Three services stopped together' }).click();
    await desk.getByRole('button', { name: 'Correct it' }).first().click();
    const correct = desk.getByRole('form', { name: 'Correct the update' });
    await correct
      .getByLabel('What it should say', { exact: true })
      .fill('The harbour router was restarted by hand.');
    await correct.getByRole('button', { name: 'Correct it' }).click();
    await expect(correct).toHaveCount(0);
    await desk.getByText('What it said before').click();
    await expect(desk.getByText('The harbour router restarted itself after an update.')).toBeVisible();
    const account = desk.getByRole('form', { name: 'What happened' });
    await account.getByRole('button', { name: 'Begin with the exact times' }).click();
    await expect(account.getByLabel('For the public', { exact: true })).toHaveValue(
      /It began at .*It was over at /s,
    );
    await account.getByRole('button', { name: 'Publish it' }).click();
    const said = desk.getByRole('region', { name: 'Messages as they come' });
    await expect(said).toContainText('Saved; it stands with the incident and in the diary.');
    const { page } = await visit(browser, '/p/ferries/');
    await page.getByRole('link', { name: 'Three services stopped together' }).click();
    await expect(page.getByText('The harbour router was restarted by hand.').first()).toBeVisible();
    await expect(page.getByText('corrected').first()).toBeVisible();
    expect(await page.content()).not.toContain('restarted itself');
    await page.context().close();
    await desk.context().close();
  });

  test('keeps the line of a watch that was deleted, and reads it again once that is back', async ({
    browser,
  }) => {
    const headers = { authorization: `Bearer ${demo.token}`, 'content-type': 'application/json' };
    const ask = async (method: string, path: string) => {
      const answer = await fetch(`${demo.base}/api/v1${path}`, { method, headers });
      expect(answer.ok, path).toBe(true);
      return answer;
    };
    const [{ id }] = await (await ask('GET', '/watches?text=Harbour+camera')).json();
    const { page } = await visit(browser, '/p/ferries/');
    const line = page.getByText('a new picture every minute');
    await expect(line).toBeVisible();
    await ask('DELETE', `/watches/${id}`);
    await page.reload();
    await expect(line).toHaveCount(0);
    const desk = await signIn(browser, demo.base);
    await desk.goto(`${demo.base}/pages/1/change`);
    await expect(desk.getByText('Harbour camera (deleted) · its history')).toBeVisible();
    await desk.getByRole('button', { name: 'Save changes' }).click();
    await desk.waitForURL(/\/pages\/1$/);
    await ask('POST', `/deleted-watches/${id}/restore`);
    await page.reload();
    await expect(line).toBeVisible();
    await page.context().close();
    await desk.context().close();
  });

  test('is told in texts that are changed, and it stays said that they are', async ({ browser }) => {
    const desk = await signIn(browser, demo.base);
    await desk.goto(`${demo.base}/pages/texts`);
    const form = desk.getByRole('form', { name: /^Change / }).first();
    const title = form.getByLabel('Title');
    await title.fill('{{ service }} rests');
    await form.getByRole('button', { name: 'Save' }).click();
    const said = desk.getByRole('region', { name: 'Messages as they come' });
    await expect(said).toContainText('The text is changed.');
    await desk.reload();
    await expect(title).toHaveValue('{{ service }} rests');
    await desk.context().close();
  });
});
