import { execFile } from 'node:child_process';
import { rmSync } from 'node:fs';
import { promisify } from 'node:util';
import { expect, test, type Page } from '@playwright/test';
import { makeAuthority } from '@/standins/certificates';
import { Harbour } from '@/standins/harbour';
import { EMAIL, PASSWORD, startProduct, until, type Product } from '../integration/helpers';

const run = promisify(execFile);

/** The whole job once through, as a newcomer does it; each step stands on the one before. */
test.describe.serial('the story of a newcomer', () => {
  let product: Product;
  let harbour: Harbour;
  let page: Page;
  let site: string;

  test.beforeAll(async ({ browser }) => {
    harbour = await Harbour.start({ basePort: 0, authority: await makeAuthority(), jobs: [] });
    site = harbour.find('booking')!.address;
    product = await startProduct();
    const context = await browser.newContext({ permissions: ['clipboard-read', 'clipboard-write'] });
    page = await context.newPage();
  });

  test.afterAll(async () => {
    await page?.context().close();
    await product?.stop();
    await harbour?.stop();
    if (product) rmSync(product.folder, { recursive: true, force: true });
  });

  const heading = (text: string | RegExp) => expect(page.getByRole('heading', { level: 1 })).toHaveText(text);

  test('makes the first account, and keeps what was typed when something is refused', async () => {
    await page.goto(product.base);
    await heading('Let us light the lantern.');
    await page.getByLabel('E-mail address').fill(EMAIL);
    await page.getByLabel('Password').fill('short');
    await page.getByRole('button', { name: 'Make the account' }).click();
    await expect(page.getByText('Expected a password of at least 10 characters, got 5.')).toBeVisible();
    await expect(page.getByLabel('E-mail address')).toHaveValue(EMAIL);
    await page.getByLabel('Password').fill(PASSWORD);
    await page.getByRole('button', { name: 'Make the account' }).click();
    await heading('Nothing is being watched yet.');
  });

  test('types an address and nothing else, and looks before saving', async () => {
    await page.getByRole('link', { name: 'Add the first watch' }).click();
    await heading('What shall we keep an eye on?');
    await expect(page.getByLabel('What do you want to keep an eye on?')).toBeFocused();
    await page.getByRole('button', { name: 'Look now' }).click();
    await expect(
      page.getByText('Expected a web address such as https://booking.ternferry.test, got nothing.').first(),
    ).toBeVisible();
    await page.getByLabel('Address', { exact: true }).fill(site.replace('http://', ''));
    await page.getByRole('button', { name: 'Look now' }).click();
    const trial = page.getByRole('region', { name: 'Try it now' });
    await expect(trial.getByText(/^Fine in /)).toBeVisible();
    for (const phase of ['connect', 'first byte', 'download'])
      await expect(trial.getByText(phase, { exact: true })).toBeVisible();
    await expect(trial.getByText(/status 200 · 2 kB/)).toBeVisible();
    await expect(
      trial.getByText(
        /^Fails when there is no complete reply within 10 s, when the status is not 200-299\.$/,
      ),
    ).toBeVisible();
    // What was typed was made whole.
    await expect(page.getByLabel('Address', { exact: true })).toHaveValue(site);
    await page.getByRole('button', { name: 'Save watch' }).click();
    await heading(/^127\.0\.0\.1 is up, and has been for /);
    await expect(page.getByRole('heading', { name: 'The last look' })).toBeVisible();
    await expect(page.getByRole('cell', { name: 'fine' }).first()).toBeVisible();
  });

  test('says plainly that nobody would be told', async () => {
    await expect(page.getByText('Nobody would be told.').first()).toBeVisible();
    await page.getByRole('link', { name: 'Watches', exact: true }).click();
    await expect(page.getByText('127.0.0.1 would tell nobody.')).toBeVisible();
  });

  test('adds words, pace and patience, and reads how soon one would know', async () => {
    await page.getByRole('link', { name: '127.0.0.1' }).last().click();
    await page.getByRole('link', { name: 'Change', exact: true }).click();
    await page.getByLabel('Name', { exact: true }).fill('Booking site');
    await page.getByLabel('Section').fill('On the water');
    await page.getByLabel('These words must be on the page').fill('Choose your crossing');
    await page.getByText('Pace and patience').click();
    for (const setting of ['When it looks', 'Waits at most', 'Second looks', 'Second looks are apart']) {
      const inherited = page.getByRole('group', { name: setting, exact: true });
      await inherited.getByRole('button', { name: 'Set here' }).click();
    }
    await expect(page.getByText('You would know within 1 min 50 s.')).toBeVisible();
    await page.getByLabel('Looks every', { exact: true }).fill('0');
    await page.getByRole('button', { name: 'Save changes' }).click();
    await expect(
      page.getByText('Expected every to be a whole number of seconds from 5 to 2592000, got 0.').first(),
    ).toBeVisible();
    await expect(page.getByLabel('These words must be on the page')).toHaveValue('Choose your crossing');
    await page.getByLabel('Looks every: unit').selectOption('seconds');
    await page.getByLabel('Looks every', { exact: true }).fill('5');
    await page.getByLabel('Waits at most', { exact: true }).fill('4');
    await page.getByLabel('Second looks', { exact: true }).fill('2');
    await page.getByLabel('Second looks are apart', { exact: true }).fill('2');
    await expect(page.getByText('You would know within 21 s.')).toBeVisible();
    await page.getByRole('button', { name: 'Save changes' }).click();
    await heading(/^Booking site is up/);
    await expect(page.getByText(/words found 1 time/)).toBeVisible();
  });

  test('makes a check-in, and sees it arrive without reloading', async () => {
    await page.getByRole('link', { name: 'Add watch' }).click();
    await page.getByText('check-in', { exact: true }).click();
    await page.getByLabel('Name', { exact: true }).fill('Nightly manifest backup');
    await page.getByLabel('Cron expression').fill('61 2 * * *');
    await page.getByRole('button', { name: 'Save watch' }).click();
    await expect(page.getByText(/^Expected a minute .* at character 1, got “61”/).first()).toBeVisible();
    await page.getByLabel('Cron expression').fill('30 2 * * *');
    await page.getByLabel('Time zone').fill('Europe/Lisbon');
    const dues = page
      .getByRole('heading', { name: 'The next 10 due times' })
      .locator('xpath=following-sibling::ol/li');
    await expect(dues).toHaveCount(10);
    for (const due of await dues.allTextContents()) expect(due).toMatch(/ 02:30($|Clocks go )/);
    await page.getByRole('button', { name: 'Save watch' }).click();
    await heading('Nightly manifest backup is waiting for its first news.');

    await page.getByLabel('What starts the job').selectOption('crontab');
    await page.getByRole('button', { name: 'Copy: Crontab' }).click();
    const line = await page.evaluate(() => navigator.clipboard.readText());
    expect(line).toMatch(/^30 2 \* \* \* .*curl .*\/in\/[a-z2-7]{32}\?code=\$c"$/);
    const address = /http:\/\/[^"?]+\/in\/[a-z2-7]{32}/.exec(line)![0];
    await run('curl', ['-fsS', `${address}?is=begun`]);
    await expect(page.getByRole('cell', { name: 'running', exact: true })).toBeVisible();
    await run('curl', ['-fsS', '--data-binary', 'wrote 812 names', `${address}?code=0`]);
    await expect(page.getByRole('cell', { name: /^done/ })).toBeVisible();
    await heading(/^Nightly manifest backup is up/);
    await page.getByText('output', { exact: true }).click();
    await expect(page.getByText('wrote 812 names')).toBeVisible();
  });

  test('connects a chat room and reads its answer to a test', async () => {
    await page.getByRole('link', { name: 'Messages' }).click();
    await heading('Nobody would be told yet.');
    await page.getByLabel('Webhook address').fill('the crew room');
    await page.getByRole('button', { name: 'Send a test' }).click();
    await expect(
      // What is typed there is a key to a room; it is not repeated.
      page.getByText('Expected an address that begins with http:// or https://.', { exact: true }),
    ).toBeVisible();
    await expect(page.getByLabel('Webhook address')).toHaveValue('the crew room');
    await page.getByLabel('Webhook address').fill(`http://127.0.0.1:${harbour.port}/room/hook`);
    await page.getByRole('button', { name: 'Send a test' }).click();
    await expect(page.getByText('It answered: 200 received')).toBeVisible();
    expect(harbour.room.messages[0]!.text).toContain('If you can read this, messages reach you here.');
    await page.getByLabel('Name', { exact: true }).fill('Crew room');
    await page.getByRole('button', { name: 'Connect', exact: true }).click();
    await heading('Both watches reach someone.');
    await page.getByRole('link', { name: 'Watches', exact: true }).click();
    await expect(page.getByText('would tell nobody')).toHaveCount(0);
    harbour.room.messages.length = 0;
  });

  test('breaks the site and sees it doubtful, then down, and the room hears of it once', async () => {
    await heading('Both watches are calm.');
    await harbour.find('booking')!.setMode('status 500');
    const card = page.getByRole('article', { name: 'Booking site' });
    await expect(card.getByText(/^doubtful /)).toBeVisible();
    await expect(card.getByText(/^down /)).toBeVisible({ timeout: 20_000 });
    await heading('One of two watches needs you.');
    await expect(card.getByText('The server answers, but replies 500.')).toBeVisible();
    await expect(card.getByText('reply 500')).toBeVisible();
    await expect(card.getByText('told Crew room')).toBeVisible();
    const { id } = await product
      .api('GET', '/watches')
      .then(({ body }) => (body as { id: number; name: string }[]).find((w) => w.name === 'Booking site')!);
    expect(harbour.room.messages).toHaveLength(1);
    const lines = harbour.room.messages[0]!.text.split('\n');
    expect(lines[0]).toBe('Booking site is down');
    expect(lines[1]).toMatch(
      /^The host answers ping and port \d+ is open; the server answers, but replies 500\.$/,
    );
    expect(lines[2]).toMatch(/^Since .* \(UTC\)\.$/);
    expect(lines[3]).toMatch(/^Try this: /);
    expect(lines[4]!.startsWith(`I have it: ${product.base}/take/`)).toBe(true);
    expect(lines[5]).toBe(`${product.base}/watches/${id}`);
  });

  test('makes a public page and tells the public in stages', async ({ browser }) => {
    await page.getByRole('link', { name: 'Public pages' }).click();
    await heading('The public sees nothing yet.');
    await page.getByRole('link', { name: 'Make the first page' }).click();
    await page.getByRole('button', { name: 'Make the page' }).click();
    await expect(page.getByText('Expected a title, got nothing.').first()).toBeVisible();
    await page.getByLabel('Title', { exact: true }).fill('Tern Island Ferries');
    await expect(page.getByLabel('Address name')).toHaveValue('tern-island-ferries');
    await page.getByLabel('Section title').fill('On the water');
    await page.getByLabel('Add a watch to section 1').selectOption('Nightly manifest backup');
    await page.getByLabel('Add a watch to section 1').selectOption('Booking site');
    await page.getByLabel('What the public reads for Booking site').fill('Online booking');
    await page.getByLabel('What the public reads for Nightly manifest backup').fill('Passenger lists');
    // By keyboard: lifted, moved, put down.
    await page.getByRole('button', { name: 'Move Online booking' }).focus();
    await page.keyboard.press('Space');
    await expect(page.getByText('Online booking is lifted from place 2 of 2.').first()).toBeAttached();
    await page.keyboard.press('ArrowUp');
    await expect(page.getByText('Online booking is over place 1 of 2.').first()).toBeAttached();
    await page.keyboard.press('Space');
    // The page stands beside the form as it is typed.
    const preview = page.frameLocator('iframe[title="As visitors will see it"]');
    await expect(preview.locator('.label').first()).toHaveText('Online booking');
    await page.getByRole('button', { name: 'Make the page' }).click();
    await heading('No incident is open.');

    await page.getByRole('link', { name: 'Outages' }).click();
    // The public page has a link of that name too, which asks for another text.
    await page.waitForURL(/\/outages$/);
    await page.getByRole('link', { name: 'Tell the public' }).first().click();
    await heading('Tell the public: Online booking is not working properly.');
    await page.getByLabel('Title').fill('');
    await page.getByRole('button', { name: 'Publish', exact: true }).click();
    await expect(page.getByText('Expected a title, got nothing.')).toBeVisible();
    await page.getByLabel('Title').fill('Online booking is not answering');
    await page
      .getByLabel('What visitors should know', { exact: true })
      .fill('You can **still** buy tickets at either pier.');
    await expect(preview.getByText('You can still buy tickets')).toBeVisible();
    // What is half written outlasts a reload.
    await page.waitForTimeout(600);
    await page.reload();
    await expect(page.getByText('What you had begun to write is here again.')).toBeVisible();
    await expect(page.getByLabel('Title')).toHaveValue('Online booking is not answering');
    await page.getByRole('button', { name: 'Publish', exact: true }).click();
    await heading('Online booking is not answering');

    const visitor = await browser.newContext({ timezoneId: 'America/New_York', colorScheme: 'dark' });
    const outside = await visitor.newPage();
    await outside.goto(`${product.base}/p/tern-island-ferries/`);
    await expect(outside.getByRole('heading', { level: 1 })).toHaveText('Online booking is out.');
    await expect(outside.getByRole('button', { name: 'Times: yours, America/New_York' })).toBeVisible();
    const incident = outside.getByRole('article', { name: 'Online booking is not answering' });
    await expect(incident.getByText('Looking into it.')).toBeVisible();
    await expect(incident.locator('strong', { hasText: 'still' })).toBeVisible();
    const zoned = new Intl.DateTimeFormat('en-GB', {
      timeZone: 'America/New_York',
      hour: '2-digit',
      minute: '2-digit',
      hourCycle: 'h23',
    });
    const told = await incident.locator('time').first().getAttribute('datetime');
    await expect(incident.locator('time').first()).toContainText(zoned.format(new Date(told!)));
    const rows = await outside.locator('.service').allTextContents();
    expect(rows[0]).toContain('Online booking');
    expect(rows[1]).toContain('Passenger lists');
    expect(await outside.evaluate(() => getComputedStyle(document.body).backgroundColor)).toBe(
      'rgb(19, 26, 37)',
    );
    await outside.getByRole('button', { name: 'Light or dark' }).click();
    expect(await outside.evaluate(() => getComputedStyle(document.body).backgroundColor)).toBe(
      'rgb(246, 243, 235)',
    );
    const source = await outside.content();
    for (const inside of [
      'Booking site',
      'Nightly manifest',
      site,
      '127.0.0.1:',
      'Choose your crossing',
      'reply.status',
      '/in/',
    ]) {
      expect(source.includes(inside), `the page shows "${inside}"`).toBe(false);
    }

    const update = page.getByRole('form', { name: 'Add an update' });
    await update.getByText('Cause found').click();
    await update.getByLabel('What visitors should know', { exact: true }).fill('A full disk.');
    await update.getByRole('button', { name: 'Publish the update' }).click();
    // The visitor's page follows along by itself.
    await expect(incident.getByText('Cause found.')).toBeVisible();
    await expect(update.getByLabel('What visitors should know', { exact: true })).toHaveValue('');
    await update.getByText('Over', { exact: true }).click();
    await update.getByLabel('What visitors should know', { exact: true }).fill('Room was made; all is well.');
    await update.getByRole('button', { name: 'Publish the update' }).click();
    await expect(page.getByRole('heading', { name: 'What happened, and what will change' })).toBeVisible();
    await expect(outside.getByRole('article', { name: 'Online booking is not answering' })).toHaveCount(0);
    await expect(outside.getByText('Room was made; all is well.').last()).toBeVisible();
    await visitor.close();
  });

  test('mends the site, and the room hears the exact length', async () => {
    await harbour.find('booking')!.setMode('fine');
    await until(() => harbour.room.messages.length === 2, 'the recovery in the room');
    const { body } = await product.api('GET', '/outages');
    const [outage] = body as { beganAt: string; endedAt: string }[];
    const seconds = Math.round((Date.parse(outage!.endedAt) - Date.parse(outage!.beganAt)) / 1000);
    const exact =
      seconds >= 60
        ? `${Math.floor(seconds / 60)} min${seconds % 60 ? ` ${seconds % 60} s` : ''}`
        : `${seconds} s`;
    expect(harbour.room.messages[1]!.text).toContain(
      `Booking site is up again\nIt was down for ${exact}, from `,
    );
    await page.getByRole('link', { name: 'Messages' }).click();
    await expect(
      page.getByRole('row', { name: /Booking site is up again Crew room delivered: 200 received/ }),
    ).toBeVisible();
    await expect(page.getByRole('row', { name: /Booking site is down Crew room delivered/ })).toBeVisible();
  });

  test('reads the whole of it on the watch’s own screen', async () => {
    await page.getByRole('link', { name: 'Watches', exact: true }).click();
    await heading('Both watches are calm.');
    await page
      .getByRole('link', { name: /Booking site/ })
      .first()
      .click();
    await heading(/^Booking site is up/);
    // A watch made minutes ago has minutes of history: one figure that says so, and none of 90 days.
    const figure = page.locator('dl > div', { hasText: /since .*, \d+ (s|min)/ });
    await expect(figure.locator('dd')).toHaveText(/^\d\d(\.\d+)? %$/);
    await expect(page.locator('dl > div', { hasText: '90 days' })).toHaveCount(0);
    await expect(page.getByText(/^1 in [\d smin]+, /)).toBeVisible();
    await expect(page.getByText(/noticed after \d+ s · ended .* · told Crew room/)).toBeVisible();
    const chart = page.getByRole('slider', { name: /^Response times of \d+ looks/ });
    await chart.hover();
    await expect(chart.locator('[data-read-out]')).toHaveText(/: (median )?[\d.]+ m?s/);
    const line = page.getByRole('slider', { name: /^Last 90 days: down \d+ s?.*, not observed 89 d \d+ h/ });
    await line.press('End');
    await expect(line).toHaveAttribute('aria-valuetext', /^up, .* to now$/);
    await line.press('ArrowLeft');
    await expect(line).toHaveAttribute('aria-valuetext', /^down, \d+ s: /);
    await expect(line.locator('[data-read-out]')).toHaveText(/^down, \d+ s: /);
    await line.press('Escape');
    await expect(line.locator('[data-read-out]')).toHaveCount(0);
    await expect(
      page.getByRole('cell', { name: 'failed: The server answers, but replies 500.' }).first(),
    ).toBeVisible();
    await page.getByRole('link', { name: 'Outages' }).click();
    await expect(
      page.getByRole('row', { name: /Booking site .*the server answers, but replies 500\..*Crew room/i }),
    ).toBeVisible();
  });

  test('deletes only after asking', async () => {
    await page.getByRole('link', { name: 'Watches', exact: true }).click();
    await page
      .getByRole('link', { name: /Nightly manifest backup/ })
      .first()
      .click();
    await page.getByRole('button', { name: 'Delete' }).click();
    await expect(page.getByRole('alertdialog')).toContainText('Delete Nightly manifest backup?');
    await page.getByRole('button', { name: 'Keep it' }).click();
    await page.getByRole('button', { name: 'Pause' }).click();
    await heading(/^Nightly manifest backup is paused/);
    await page.getByRole('button', { name: 'End the pause' }).click();
    await heading(/^Nightly manifest backup is waiting/);
    await page.getByRole('button', { name: 'Delete' }).click();
    await expect(page.getByRole('alertdialog')).toContainText('For seven days it can be brought back');
    await page.getByRole('button', { name: 'Delete it' }).click();
    await heading('Your one watch is calm.');
    await page.getByRole('button', { name: 'Account and more' }).click();
    await page.getByRole('menuitem', { name: 'Deleted watches' }).click();
    await heading('What was deleted can be brought back.');
    await page.getByRole('button', { name: 'Bring Nightly manifest backup back' }).click();
    await heading(/^Nightly manifest backup is waiting/);
  });
});
