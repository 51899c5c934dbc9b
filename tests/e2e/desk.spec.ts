import { existsSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { EMAIL, isAlive, PASSWORD, ROOT, startProduct } from '../integration/helpers';
import { deskOf, signIn, withDemo, type Demo } from './demo';
import { openDesk } from './helpers';

test.describe.serial('the demo', () => {
  let demo: Demo;
  let bookingId: number;
  withDemo((started) => {
    demo = started;
    bookingId = started.bookingId;
  });

  test('prints a sign-in, a token, and how long filling took', async ({ browser }) => {
    expect(demo.output()).toContain(`${EMAIL}  /  ${PASSWORD}`);
    expect(demo.output()).toMatch(/18 of 18 .*\n *Ninety days filled in \d+\.\d s\./);
    const page = await deskOf(browser, demo.base);
    await expect(page.getByRole('heading', { level: 1 })).toHaveText(/^One of 18 watches needs you\.$/);
    // The ladder stands before it as soon as the engine has walked it.
    await expect(page.getByRole('article', { name: 'Booking site' })).toContainText(
      /the server answers, but replies 500\./i,
    );
    for (const section of ['On the water', 'Behind the counter', 'Crew house']) {
      await expect(page.getByRole('region', { name: section })).toBeVisible();
    }
    await page.close();
  });

  test('knows what was typed, ticked and chosen before the scripts of a page were there', async ({
    browser,
  }) => {
    const page = await deskOf(browser, demo.base);
    const early = async (place: string, work: () => Promise<unknown>) => {
      let come = () => {};
      const scripts = new Promise<void>((resolve) => (come = resolve));
      await page.route('**/_next/static/**/*.js*', async (route) => {
        await scripts;
        await route.continue();
      });
      await page.goto(demo.base + place, { waitUntil: 'commit' });
      await work();
      come();
      await page.waitForLoadState();
      await page.unrouteAll({ behavior: 'wait' });
    };
    await early('/messages/routes/1', async () => {
      await page.getByRole('checkbox', { name: 'Crew house', exact: true }).first().check();
      await page.getByLabel('And again').selectOption({ index: 0 });
    });
    const sentence = page.locator('section', { hasText: 'In a sentence' }).getByRole('status');
    await expect(sentence).toContainText('Crew house');
    await expect(sentence).not.toContainText('then again every');
    await early('/watches/new', () => page.getByLabel('Name', { exact: true }).fill('Round trip'));
    await page.waitForFunction(() => JSON.stringify(localStorage).includes('Round trip'));
    await expect(page.getByLabel('Name', { exact: true })).toHaveValue('Round trip');
    await page.close();
  });

  test('keeps as a draft what was typed while a form was still getting ready', async ({ browser }) => {
    const page = await deskOf(browser, demo.base);
    // What a form does a moment later, it does much later here.
    await page.addInitScript(() => {
      const plain = window.setTimeout;
      const slow = (run: () => void, ms = 0, ...rest: unknown[]) => plain(run, ms === 0 ? 1500 : ms, ...rest);
      window.setTimeout = slow as never;
    });
    await page.goto(`${demo.base}/watches/new`);
    const name = page.getByLabel('Name', { exact: true });
    await name.evaluate(async (field) => {
      while (!Object.keys(field).some((key) => key.startsWith('__reactProps'))) {
        await new Promise((resolve) => requestAnimationFrame(resolve));
      }
    });
    await name.fill('Round trip');
    await page.waitForFunction(() => JSON.stringify(localStorage).includes('Round trip'), null, {
      timeout: 15_000,
    });
    await page.close();
  });

  test('skips to the content, and ends a session that is open elsewhere', async ({ browser }) => {
    const page = await deskOf(browser, demo.base);
    const other = await signIn(browser, demo.base);
    await openDesk(page, `${demo.base}/account`);
    await page.keyboard.press('Tab');
    await expect(page.getByRole('link', { name: 'Skip to the content' })).toBeFocused();
    await page.keyboard.press('Enter');
    await expect(page.getByRole('main')).toBeFocused();
    await expect(page.getByText('– here')).toHaveCount(1);
    await page.getByRole('button', { name: 'Sign out everywhere else' }).click();
    await page.getByRole('button', { name: 'Yes, do it' }).click();
    // While it is asked, what stands behind the question is hidden.
    await expect(page.getByRole('button', { name: 'Yes, do it' })).toHaveCount(0);
    await expect(page.getByRole('button', { name: 'End it' })).toHaveCount(0);
    await other.goto(`${demo.base}/messages`);
    await expect(other).toHaveURL(/\/sign-in/);
    await page.getByLabel('Present password').fill('the boats stay at home');
    await page.getByRole('button', { name: 'Save' }).click();
    await expect(page.getByText('This is not your present password.')).toBeVisible();
    await other.context().close();
    await page.close();
  });

  test('can be worked by keys alone', async ({ browser }) => {
    // In a browser of its own: single keys are turned off in it.
    const page = await signIn(browser, demo.base);
    await page.getByRole('heading', { level: 1 }).waitFor();
    await page.keyboard.press('?');
    const keys = page.getByRole('dialog', { name: 'Keys' });
    for (const does of ['Find a watch', 'Add a watch', 'Look now, on a watch’s own screen']) {
      await expect(keys.getByText(does)).toBeVisible();
    }
    await page.keyboard.press('Escape');
    await expect(keys).toHaveCount(0);

    // However fast the next key comes, it is typed into the field.
    const field = await page.evaluate(() => {
      document.body.dispatchEvent(new KeyboardEvent('keydown', { key: '/', bubbles: true }));
      return document.activeElement?.getAttribute('placeholder');
    });
    expect(field).toBe('Find a watch, or something to do');
    await page.keyboard.press('Escape');
    await expect(page.getByRole('dialog')).toHaveCount(0);
    await page.keyboard.press('/');
    await page.keyboard.type('crew ro');
    await expect(page.getByRole('option', { name: 'Crew rota' })).toBeVisible();
    await page.keyboard.press('Enter');
    await expect(page.getByRole('heading', { level: 1 })).toHaveText(/^Crew rota is /);
    await page.keyboard.press('l');
    await expect(page.getByText(/^Fine in /)).toBeVisible();
    await expect(
      page.getByText(
        /Certificate for rota\.ternferry\.test, mail\.ternferry\.test by Tern Island Practice Authority/,
      ),
    ).toBeVisible();

    await page.keyboard.press('h');
    await page.waitForURL(`${demo.base}/`);
    await page.getByRole('heading', { name: 'Side by side' }).waitFor();
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('ArrowDown');
    await expect(page.locator('[data-watch-link]').nth(1)).toBeFocused();
    await page.keyboard.press('ArrowUp');
    await page.keyboard.press('Enter');
    await page.waitForURL(/\/watches\/\d+$/);

    await page.keyboard.press('a');
    await page.waitForURL(`${demo.base}/watches/new`);
    // In a field the keys are letters.
    await page.getByLabel('Address', { exact: true }).fill('');
    await page.getByLabel('Address', { exact: true }).press('a');
    await expect(page.getByLabel('Address', { exact: true })).toHaveValue('a');

    await openDesk(page, demo.base);
    await page.keyboard.press('?');
    await page.getByRole('button', { name: 'Turn single keys off' }).click();
    await page.getByRole('button', { name: 'Close' }).click();
    await page.keyboard.press('a');
    await page.waitForTimeout(300);
    expect(page.url()).toBe(`${demo.base}/`);
    await page.context().close();
  });

  test('reads every watch out at one moment by the hairline', async ({ browser }) => {
    const page = await deskOf(browser, demo.base);
    await openDesk(page, `${demo.base}/?range=7d`);
    const hairline = page.getByRole('slider', { name: /^Hairline/ });
    await hairline.focus();
    // The router stopped three watches together five days and three hours ago.
    const target = 1 - (5 * 24 + 3 - 4 / 60) / (7 * 24);
    const box = (await hairline.boundingBox())!;
    // A point stands for a quarter of an hour here, and they were down for less, not all of it together.
    await page.mouse.move(box.x + box.width * target, box.y + 60);
    // By the hour of the day a job of the night may not have been well either.
    await expect(page.getByText(/· [345] were not well together$/)).toBeVisible();
    for (const name of ['Ticket kiosk, north pier: down', 'Tide table feed: down', 'Office mail: down']) {
      await expect(page.getByText(name)).toBeVisible();
    }
    await page.mouse.move(0, 0);
    await page.keyboard.press('ArrowLeft');
    await expect(hairline).toHaveAttribute('aria-valuetext', /nothing was wrong|was not well/);
    await page.getByRole('link', { name: 'Worst first' }).click();
    await expect(page.locator('[data-watch-link]').first()).toContainText('Booking site');
    await page.close();
  });

  test('asks for the screen that is open, and for none it leads to', async ({ browser }) => {
    const page = await deskOf(browser, demo.base);
    // A screen that is open is asked for again as things on it change.
    const ahead = new Set<string>();
    page.on('request', (request) => {
      const { pathname, searchParams } = new URL(request.url());
      if (searchParams.has('_rsc') && pathname !== '/') ahead.add(pathname);
    });
    await page.goto(demo.base, { waitUntil: 'networkidle' });
    expect([...ahead]).toEqual([]);
    await page.getByRole('navigation', { name: 'Main' }).getByRole('link', { name: 'Jobs' }).click();
    await expect(page).toHaveURL(`${demo.base}/jobs`);
    expect([...ahead]).toEqual(['/jobs']);
    await page.close();
  });

  test('says in a sentence what a route does while it is put together, and what would happen', async ({
    browser,
  }) => {
    const page = await deskOf(browser, demo.base);
    await openDesk(page, `${demo.base}/messages`);
    await page.getByRole('link', { name: 'Add a route' }).click();
    await expect(page.getByText(/: nobody hears yet\.$/)).toBeVisible();
    await page.getByLabel('Name', { exact: true }).fill('By day');
    await page.getByRole('group', { name: 'Channels' }).getByLabel('Crew room').check();
    await page.getByLabel('And again').selectOption('until someone has it');
    await page.getByLabel('About', { exact: true }).selectOption('some of them');
    await page.getByRole('group', { name: 'About: tags', exact: true }).getByLabel('pier').check();
    const sentence = page.getByRole('status').filter({ hasText: /^When anything happens/ });
    await expect(sentence).toHaveText(
      'When anything happens to anything tagged pier or to Calm Lantern itself: Crew room hears at once, then again every 1 h until someone has it.',
    );
    const foretold = page.getByRole('region', { name: /went down now$/ });
    await expect(foretold.getByRole('columnheader', { name: '+1 h', exact: true })).toBeVisible();
    await page.getByRole('button', { name: 'Add a step' }).click();
    await page.getByLabel('Then, after', { exact: true }).fill('0');
    await page.getByLabel('When it speaks').selectOption('at some hours');
    await page.getByLabel('From', { exact: true }).fill('25:00');
    await page.getByRole('button', { name: 'Add the route' }).click();
    await expect(
      page.getByText('Expected a beginning from 00:00 to 23:59, got "25:00".').first(),
    ).toBeVisible();
    await expect(page.getByText(/each later than the one before/).first()).toBeVisible();
    await page.getByRole('button', { name: 'Take this step out' }).last().click();
    await page.getByLabel('From', { exact: true }).fill('07:00');
    await page.getByRole('button', { name: 'Add the route' }).click();
    await page.waitForURL(`${demo.base}/messages`);
    const route = page.getByRole('listitem').filter({ hasText: 'By day' });
    await expect(route).toContainText('It speaks on weekdays from 07:00 to 18:00');
    await route.getByRole('button', { name: 'Delete' }).click();
    await page.getByRole('button', { name: 'Yes, do it' }).click();
    await expect(route).toHaveCount(0);
    await page.close();
  });

  test('tries patience on the past of a watch before it is saved', async ({ browser }) => {
    const page = await deskOf(browser, demo.base);
    await openDesk(page, `${demo.base}/watches/1/change`);
    const trial = page.getByRole('region', { name: 'Tried on the past' });
    await page.getByText('Pace and patience').click();
    await page.getByRole('group', { name: 'Second looks', exact: true }).getByRole('button').click();
    await page.getByLabel('Second looks', { exact: true }).fill('4');
    await trial.getByRole('button', { name: 'Try it' }).click();
    await expect(trial.getByText(/noticed 40 s later|would not have been told/).first()).toBeVisible();
    await page.close();
  });

  test('lets somebody have a trouble, and give it back', async ({ browser }) => {
    const page = await deskOf(browser, demo.base);
    await openDesk(page, demo.base);
    await expect(page.getByRole('article', { name: 'Booking site' })).toContainText('Ines has it');
    await openDesk(page, `${demo.base}/outages`);
    await expect(page.getByRole('row', { name: /Booking site.*Ines has it/ })).toBeVisible();
    await openDesk(page, `${demo.base}/watches/${bookingId}`);
    await page.getByRole('button', { name: 'Give it back' }).click();
    await page.getByRole('button', { name: 'I have it' }).click();
    await expect(
      page.getByText(/^ines@ternferry\.test has it since \d\d:\d\d\. Reminders and further steps rest\.$/),
    ).toBeVisible();
    await page.getByRole('button', { name: 'Hand it over' }).click();
    const handOver = page.getByRole('form', { name: 'Hand it over' });
    await handOver.getByLabel('To whom').fill('Tomas');
    await handOver.getByLabel('How long').selectOption('for four hours');
    await handOver.getByRole('button', { name: 'Hand it over' }).click();
    await expect(
      page.getByText(/^Tomas has it since \d\d:\d\d until .*Reminders and further steps rest\.$/),
    ).toBeVisible();
    await expect(handOver).toHaveCount(0);
    await page.getByRole('button', { name: 'Give it back' }).click();
    await expect(page.getByText('Nobody has it yet.')).toBeVisible();
    await page.close();
  });

  test('tells the second of two editors, loses nothing of what they typed, and lets them decide', async ({
    browser,
  }) => {
    const [first, second] = [await deskOf(browser, demo.base), await signIn(browser, demo.base)];
    for (const page of [first, second]) await openDesk(page, `${demo.base}/watches/${bookingId}/change`);
    await first.getByLabel('Name', { exact: true }).fill('Booking, by the first');
    await first.getByRole('button', { name: 'Save changes' }).click();
    await first.waitForURL(`${demo.base}/watches/${bookingId}`);
    await second.getByLabel('Name', { exact: true }).fill('Booking site');
    await second.getByLabel('Section').fill('On the water');
    await second.getByRole('button', { name: 'Save changes' }).click();
    await expect(second.getByText(/Somebody has changed “Booking, by the first”/)).toBeVisible();
    await expect(second.getByLabel('Name', { exact: true })).toHaveValue('Booking site');
    await second.getByRole('button', { name: 'Save mine over it' }).click();
    await second.waitForURL(`${demo.base}/watches/${bookingId}`);
    await expect(second.getByRole('heading', { level: 1 })).toHaveText(/^Booking site is/);
    // A list that is written over whole is asked about in the same way.
    for (const page of [first, second]) await openDesk(page, `${demo.base}/own-line`);
    const addresses = (page: Page) => page.getByLabel('Up to five, one a line');
    await addresses(first).fill('127.0.0.1');
    await first.getByRole('button', { name: 'Save and ask them' }).click();
    await expect(first.getByText('Saved. The line holds.')).toBeVisible();
    // A look is over, so the page around the second's form is read anew; what stands in the form is not.
    const path = `/api/v1/watches/${bookingId}/look`;
    expect(await first.evaluate(async (to) => (await fetch(to, { method: 'POST' })).status, path)).toBe(200);
    await expect(second.getByRole('heading', { level: 1 })).toHaveText('This machine can reach out.');
    await addresses(second).fill('127.0.0.2');
    await second.getByRole('button', { name: 'Save and ask them' }).click();
    await expect(second.getByText(/Somebody has changed the addresses/)).toBeVisible();
    await expect(addresses(second)).toHaveValue('127.0.0.2');
    await second.getByRole('button', { name: 'Save mine over it' }).click();
    await expect(second.getByText('Saved. The line holds.')).toBeVisible();
    await addresses(second).fill('');
    await second.getByRole('button', { name: 'Save and ask them' }).click();
    await expect(second.getByText('Saved. Nothing is asked.')).toBeVisible();
    for (const page of [first, second]) await page.close();
  });

  test('is broken and mended from the practice harbour’s own screen', async ({ browser }) => {
    const page = await browser.newPage();
    await page.goto(demo.harbour);
    const row = page.getByRole('listitem').filter({ hasText: 'Ticket kiosk, south pier' });
    await row.getByRole('button', { name: 'stopped' }).click();
    await expect(row.getByRole('button', { name: 'stopped' })).toHaveAttribute('aria-pressed', 'true');
    await row.getByRole('button', { name: 'fine' }).click();
    await expect(row.getByRole('button', { name: 'fine' })).toHaveAttribute('aria-pressed', 'true');
    await page.goto(`${demo.harbour}/room`);
    await expect(page.getByRole('heading', { name: 'Crew room' })).toBeVisible();
    const refused = await fetch(`${demo.harbour}/stand-ins/booking?mode=flooded`, { method: 'POST' });
    expect(refused.status).toBe(400);
    expect(((await refused.json()) as { error: string }).error).toContain('got "flooded"');
    await page.close();
  });

  test('makes and revokes a token, and shows its secret once', async ({ browser }) => {
    const page = await deskOf(browser, demo.base);
    await openDesk(page, demo.base);
    await page.getByRole('button', { name: 'Account and more' }).click();
    await page.getByRole('menuitem', { name: 'API tokens' }).click();
    await page.getByRole('button', { name: 'Make it' }).click();
    await expect(page.getByText('Expected a name for the token, got nothing.')).toBeVisible();
    await page.getByLabel('Name').fill('Deployment script');
    await page.getByRole('button', { name: 'Make it' }).click();
    const secret = await page.locator('code.select-all').textContent();
    const read = () =>
      fetch(`${demo.base}/api/v1/watches`, { headers: { authorization: `Bearer ${secret}` } }).then(
        (r) => r.status,
      );
    expect(await read()).toBe(200);
    await page.reload();
    expect(await page.content()).not.toContain(secret!);
    const row = page.getByRole('listitem').filter({ hasText: 'Deployment script' });
    await row.getByRole('button', { name: 'Revoke' }).click();
    await page.getByRole('button', { name: 'Yes, do it' }).click();
    // While the question stands before it, the row is out of sight too.
    await expect.poll(read).toBe(401);
    await expect(row).toHaveCount(0);
    await page.close();
  });

  test('plans maintenance, announces it, and calls it off', async ({ browser }) => {
    const page = await deskOf(browser, demo.base);
    await openDesk(page, demo.base);
    await page.getByRole('link', { name: 'Maintenance', exact: true }).click();
    await expect(page.getByRole('heading', { level: 1 })).toHaveText('Maintenance is planned.');
    await expect(page.getByText(/every week on (Sunday|Wednesday)/)).toBeVisible();
    await page.getByRole('link', { name: 'Plan maintenance' }).click();
    const form = page.getByRole('form', { name: 'Plan maintenance' });
    await form.getByLabel('Title').fill('New rails at the north pier');
    await form.getByRole('button', { name: 'Plan it' }).click();
    await expect(form.getByText('Expected the beginning, got nothing.', { exact: true })).toBeVisible();
    await expect(
      form.getByText('Expected at least one watch, section or tag, got none.', { exact: true }),
    ).toBeVisible();
    await expect(form.getByLabel('Title')).toHaveValue('New rails at the north pier');
    const day = new Date(Date.now() + 3 * 86_400_000).toISOString().slice(0, 10);
    await form.getByLabel('Begins', { exact: true }).fill(`${day}T13:00`);
    await form.getByLabel('Ends', { exact: true }).fill(`${day}T15:30`);
    await form.getByLabel('Ticket kiosk, north pier').check();
    const trial = page.getByRole('region', { name: 'When it would come' });
    await expect(trial.getByRole('listitem')).toHaveCount(1);
    await form.getByLabel('Repeats').selectOption('daily');
    await expect(trial.getByText('Every day.')).toBeVisible();
    await expect(trial.getByText('“Ticket kiosks start anew”')).toHaveCount(0);
    // Typed as it is written, or chosen from the calendar.
    await form.getByLabel('Begins', { exact: true }).fill(`${day} 3:00`);
    await expect(form.getByLabel('Begins', { exact: true })).toHaveValue(`${day} 03:00`);
    await form.getByRole('button', { name: 'Begins: open the calendar' }).click();
    const calendar = page.getByRole('dialog', { name: 'Calendar: Begins' });
    await expect(calendar.locator('th').first()).toHaveText('Mo');
    await calendar.getByRole('gridcell', { selected: true }).getByRole('button').click();
    await calendar.getByLabel('Hour').selectOption('04');
    await calendar.getByRole('button', { name: 'Done' }).click();
    await expect(calendar).toHaveCount(0);
    await expect(form.getByLabel('Begins', { exact: true })).toHaveValue(`${day} 04:00`);
    await form.getByLabel('Begins', { exact: true }).fill('the day after');
    await form.getByRole('button', { name: 'Plan it' }).click();
    await expect(form.getByText(/^Expected .*got "the day after"/).first()).toBeVisible();
    await form.getByLabel('Begins', { exact: true }).fill(`${day}T03:00`);
    await expect(trial.getByText('“Ticket kiosks start anew”').first()).toBeVisible();
    await form.getByLabel('Begins', { exact: true }).fill(`${day}T13:00`);
    await form.getByLabel('Repeats').selectOption('once');
    await form.getByRole('button', { name: 'Plan it' }).click();
    const row = page.getByRole('listitem').filter({ hasText: 'New rails at the north pier' });
    await expect(row).toContainText(/13:00 to .*15:30 \(2 h 30 min\): Ticket kiosk, north pier/);
    const visitor = await browser.newPage();
    await visitor.goto(`${demo.base}/p/ferries/`);
    await expect(visitor.getByText('New rails at the north pier')).toBeVisible();
    await visitor.close();
    await row.getByRole('button', { name: 'Call it off' }).click();
    await page.getByRole('button', { name: 'Yes, do it' }).click();
    await expect(row).toHaveCount(0);
    await page.close();
  });

  test('puts a watch under maintenance in two clicks, and ends it', async ({ browser }) => {
    const page = await deskOf(browser, demo.base);
    await openDesk(page, `${demo.base}/watches/3`);
    await page.getByRole('button', { name: 'Maintenance' }).click();
    await page.getByRole('menuitem', { name: 'For an hour from now' }).click();
    await expect(page.getByRole('heading', { level: 1 })).toContainText('is in maintenance');
    await page.getByRole('link', { name: 'Under maintenance' }).click();
    await expect(page.getByRole('heading', { level: 1 })).toHaveText('Maintenance is under way.');
    await page.getByRole('button', { name: '30 minutes more' }).click();
    const running = page.getByRole('listitem').filter({ hasText: 'Ticket kiosk, south pier' }).first();
    await expect(running).toContainText('(1 h 30 min)');
    await running.getByRole('button', { name: 'End it now' }).click();
    await expect(page.getByRole('heading', { level: 1 })).toHaveText('Maintenance is planned.');
    await page.close();
  });

  test('keeps what was typed in an update that was refused', async ({ browser }) => {
    const page = await deskOf(browser, demo.base);
    await openDesk(page, `${demo.base}/pages/1`);
    await page.getByRole('link', { name: 'Online booking is not answering' }).click();
    const update = page.getByRole('form', { name: 'Add an update' });
    await update.getByText('Fix in and watching').click();
    await update.getByLabel('What visitors should know', { exact: true }).fill('x'.repeat(5001));
    await update.getByRole('button', { name: 'Publish the update' }).click();
    await expect(update.getByText('Expected at most 5000 characters, got 5001.')).toBeVisible();
    await expect(update.getByLabel('What visitors should know', { exact: true })).toHaveValue(
      'x'.repeat(5001),
    );
    await expect(update.getByRole('radio', { name: 'Fix in and watching' })).toBeChecked();
    await page.close();
  });

  test('says what an expired certificate is, and since when', async ({ browser }) => {
    const page = await deskOf(browser, demo.base);
    await openDesk(page, demo.base);
    await fetch(`${demo.harbour}/stand-ins/rota?mode=expired%20certificate`, { method: 'POST' });
    await page.keyboard.press('/');
    await page.keyboard.type('crew rota');
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: 'Look now' }).click();
    await expect(
      page.getByRole('status').getByText(/^The certificate expired 2 h( \d+ min)? ago\.$/),
    ).toBeVisible();
    await expect(page.getByRole('listitem').filter({ hasText: 'certificate: failed' }).first()).toBeVisible();
    await fetch(`${demo.harbour}/stand-ins/rota?mode=fine`, { method: 'POST' });
    await page.getByRole('button', { name: 'Look now' }).click();
    await expect(page.getByText(/^Fine in /)).toBeVisible();
    await page.close();
  });
});

test('an open page follows along again after the product was restarted', async ({ browser }) => {
  const env = { LANTERN_ADMIN_EMAIL: EMAIL, LANTERN_ADMIN_PASSWORD: PASSWORD };
  const first = await startProduct({ env });
  const { body } = await first.api('POST', '/watches', {
    kind: 'checkin',
    name: 'Weather pull',
    schedule: { type: 'period', everySeconds: 900 },
  });
  const { id, checkinAddress } = body as { id: number; checkinAddress: string };
  const page = await signIn(browser, first.base);
  await page.goto(`${first.base}/watches/${id}`);
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(
    'Weather pull is waiting for its first news.',
  );
  expect(await first.stop()).toBe(0);
  expect(isAlive(first.enginePid())).toBe(false);
  const second = await startProduct({ env, folder: first.folder, port: first.port });
  await fetch(checkinAddress);
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/^Weather pull is up/);
  await page.context().close();
  await second.stop();
  rmSync(first.folder, { recursive: true, force: true });
});

test('every setting is in the README', () => {
  const readme = readFileSync(join(ROOT, 'README.md'), 'utf8');
  const source = readFileSync(join(ROOT, 'src/core/settings/environment.ts'), 'utf8');
  const names = new Set(
    [...source.matchAll(/source\.([A-Z_]+)|source, '([A-Z_]+)'/g)].map((m) => m[1] ?? m[2]!),
  );
  names.delete('TZ');
  expect(names.size).toBeGreaterThan(10);
  for (const name of names) expect(readme, name).toContain(`\`${name}\``);
});

test('every picture the README shows exists', () => {
  const readme = readFileSync(join(ROOT, 'README.md'), 'utf8');
  const pictures = [...readme.matchAll(/\]\((docs\/screenshots\/[\w-]+\.png)\)/g)].map((match) => match[1]!);
  expect(pictures.length).toBeGreaterThan(3);
  for (const picture of pictures) expect(existsSync(join(ROOT, picture)), picture).toBe(true);
});
