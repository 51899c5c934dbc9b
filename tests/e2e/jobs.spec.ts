import { rmSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { createTransport } from 'nodemailer';
import { freePort, startProduct, type Product } from '../integration/helpers';
import { openDesk, SIGN_IN, signedIn } from './helpers';

test.describe.configure({ mode: 'serial' });

const HOLIDAYS = [
  'BEGIN:VCALENDAR',
  'VERSION:2.0',
  'BEGIN:VEVENT',
  'UID:1',
  'DTSTART;VALUE=DATE:20200101',
  'RRULE:FREQ=YEARLY',
  'SUMMARY:New Year',
  'END:VEVENT',
  'END:VCALENDAR',
].join('\r\n');

test.describe('scheduled jobs', () => {
  let product: Product;
  let page: Page;
  let address: string;

  test.beforeAll(async ({ browser }) => {
    product = await startProduct({ env: SIGN_IN });
    page = await signedIn(browser, product);
  });

  test.afterAll(async () => {
    await product.stop();
    rmSync(product.folder, { recursive: true, force: true });
  });

  const send = (query: string, body = '') => fetch(`${address}?${query}`, { method: 'POST', body });

  test('times are explained in words as they are typed; what is wrong is named with its place', async () => {
    await openDesk(page, `${product.base}/watches/new`);
    await page.getByText('check-in', { exact: true }).click();
    await page.getByLabel('Cron expression').fill('30 26 * * *');
    await expect(page.getByText('Expected an hour (0 to 23', { exact: false })).toContainText(
      'at character 4',
    );
    await page.getByText('At set times (systemd)').click();
    await page.getByLabel('Calendar event').fill('Mon..Fri 06:30\n*-*~1 04:00');
    await expect(page.getByText('At 06:30, Monday to Friday; and At 04:00', { exact: false })).toBeVisible();
    await expect(page.getByText('The next 10 due times')).toBeVisible();
    await page.getByText('Days off').click();
    await page.getByLabel('iCalendar file of holidays').setInputFiles({
      name: 'holidays.ics',
      mimeType: 'text/calendar',
      buffer: Buffer.from(HOLIDAYS),
    });
    await expect(page.getByText('3 days read.')).toBeVisible();
    await expect(page.getByLabel('On these days nothing is due')).toHaveValue(/-01-01\n/);
    await page.getByLabel('Name', { exact: true }).fill('Nightly manifest');
    await page.getByLabel('Section').fill('Office server');
    await page.getByRole('button', { name: 'Save watch' }).click();
    await expect(page.getByRole('heading', { level: 1 })).toContainText('Nightly manifest');
    await expect(page.getByText('this page waits for the first check-in')).toBeVisible();
  });

  test('the first check-in shows the moment it arrives, and each run with its output', async () => {
    const shown = page.locator('code').filter({ hasText: '/in/' }).first();
    address = (await shown.textContent())!;
    await send('is=begun&run=one');
    await expect(page.getByRole('cell', { name: /^running/ })).toBeVisible();
    await send('progress=40&run=one');
    await expect(page.getByRole('cell', { name: /running, 40 %/ })).toBeVisible();
    await send('code=3&run=one', 'the disk is <b>full</b>\nDB_PASSWORD=hunter2\n');
    const failed = page.getByRole('row', { name: /failed, exit status 3/ });
    await failed.getByText('output').click();
    await expect(failed).toContainText('the disk is <b>full</b>');
    await expect(failed).not.toContainText('hunter2');
    await send('code=0');
    await expect(page.getByRole('heading', { level: 1 })).toContainText('is up');
    await page
      .getByRole('group', { name: 'Show these runs' })
      .getByRole('button', { name: 'Failed' })
      .click();
    await expect(page.getByRole('row', { name: /exit status 3/ })).toBeVisible();
    await expect(page.getByRole('cell', { name: /^done/ })).toHaveCount(0);
  });

  test('lines are ready for whatever starts it, and the address can be changed without missing anything', async () => {
    await page.getByLabel('What starts the job').selectOption('systemd');
    await expect(page.getByText('OnCalendar=Mon..Fri 06:30', { exact: false })).toBeVisible();
    await page.getByRole('button', { name: 'New address' }).click();
    await page.getByRole('alertdialog').getByRole('button', { name: 'Make a new one' }).click();
    await expect(page.getByText('The old address counts until', { exact: false })).toContainText(
      'nobody has used it since',
    );
    await expect(page.locator('code').filter({ hasText: '/in/' }).first()).not.toHaveText(address);
    expect((await send('is=note')).status).toBe(200);
    await page.getByRole('button', { name: 'Readable name' }).click();
    await page.getByLabel('Readable name').fill('Nightly Manifest');
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await expect(
      page.getByText('Expected small letters, digits, dots and hyphens', { exact: false }),
    ).toBeVisible();
    await page.getByLabel('Readable name').fill('nightly-manifest');
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await expect(page.getByText('Its readable name is “nightly-manifest”', { exact: false })).toBeVisible();
  });

  test('a section opens readable addresses; a name nobody knows makes its own check-in', async () => {
    await openDesk(page, `${product.base}/sections`);
    await page.getByRole('button', { name: /^Office server/ }).click();
    await page.getByRole('button', { name: 'Open them' }).click();
    const base = page.locator('code').filter({ hasText: '/in/' });
    await expect(base).toBeVisible();
    await page.getByLabel('Unknown names that may make a check-in').fill('many');
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await expect(
      page.getByText('Expected mostNew to be a whole number from 0 to 1000', { exact: false }),
    ).toBeVisible();
    await page.getByLabel('Unknown names that may make a check-in').fill('5');
    const saved = page.waitForResponse((response) => response.url().endsWith('/checkin-address'));
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    expect((await saved).status()).toBe(200);
    const open = (await base.textContent())!;
    expect((await fetch(`${open}nightly-manifest?is=note`)).status).toBe(200);
    expect((await fetch(`${open}tide-pull`)).status).toBe(200);
    const { body } = await product.api('GET', '/watches?text=tide');
    expect(body as unknown).toMatchObject([{ name: 'Tide pull', section: { name: 'Office server' } }]);
    const { id } = (body as unknown as { id: number }[])[0]!;
    await product.api('DELETE', `/watches/${id}`);
    await page.getByRole('button', { name: 'Close them' }).click();
    await page.getByRole('alertdialog').getByRole('button', { name: 'Close them' }).click();
    await expect(page.getByRole('button', { name: 'Open them' })).toBeVisible();
    expect((await fetch(`${open}nightly-manifest`)).status).toBe(404);
  });

  test('a crontab becomes check-ins, and comes back with the wrapper and nothing else changed', async () => {
    await openDesk(page, `${product.base}/watches/new`);
    await page.getByRole('link', { name: 'bring your crontab' }).click();
    await page.getByRole('button', { name: 'Read it' }).click();
    await expect(page.getByText('Expected a crontab, or timers of systemd, got nothing.')).toBeVisible();
    const crontab = 'MAILTO=ines\n15 3 * * * /opt/ferry/fares.sh\n@reboot /opt/ferry/lamp\n';
    const file = page.getByLabel('Crontab or timers as a file');
    await file.setInputFiles({
      name: 'latin1',
      mimeType: 'text/plain',
      buffer: Buffer.from([0x23, 0xe9, 0x0a]),
    });
    await expect(page.getByText('Expected text in UTF-8; latin1 is in something else.')).toBeVisible();
    await file.setInputFiles({ name: 'crontab', mimeType: 'text/plain', buffer: Buffer.from(crontab) });
    await expect(page.getByLabel('Crontab or timers', { exact: true })).toHaveValue(crontab);
    await page.getByLabel('Section').fill('Office server');
    await page.getByRole('button', { name: 'Read it' }).click();
    await expect(page.getByRole('checkbox', { name: 'Watch the job of line 3' })).toBeDisabled();
    await expect(page.getByText('In this section, but started by no line: Nightly manifest.')).toBeVisible();
    await page.getByLabel('Leeway of line 2, in minutes').fill('45');
    await page.getByRole('button', { name: 'Watch one job' }).click();
    const made = page.getByRole('region', { name: 'What was made' });
    await expect(made.getByText('One line of 4 changed; everything else is as it was')).toBeVisible();
    await expect(made.locator('code').first()).toContainText(
      /MAILTO=ines\n15 3 \* \* \* w=\/usr\/local\/bin\/lantern-run; set -- \/opt\/ferry\/fares\.sh; \[ -x \$w \] && exec \$w http\S+ -- "\$@"; exec "\$@"/,
    );
    await expect(
      made.getByText(`curl -fsS ${product.base}/lantern-run -o /usr/local/bin/lantern-run`),
    ).toBeVisible();
    await expect(made.getByText('env -i HOME="$HOME"')).toBeVisible();
    const { body } = await product.api('GET', '/watches?text=fares');
    expect(body as unknown).toMatchObject([
      { name: 'Fares', leewaySeconds: 2700, section: { name: 'Office server' }, state: 'waiting' },
    ]);
  });

  test('all jobs are seen together, what is due first on top, by the clock of the day', async () => {
    await page.getByRole('link', { name: 'Jobs', exact: true }).click();
    await expect(page.getByRole('heading', { level: 1 })).toHaveText('Two jobs, none is running.');
    await expect(
      page.getByRole('img', { name: /due times in the next 24 hours; the most, \d+, between/ }),
    ).toBeVisible();
    await expect(page.getByRole('row', { name: /Fares waiting/ })).toContainText('never heard of');
    await page.getByLabel('Text in name, target, section or tag').fill('manifest');
    await expect(page.getByRole('heading', { level: 1 })).toHaveText('One job, none is running.');
  });

  test('a device reports by mail once the door is open; the words are tried in the form', async () => {
    const port = await freePort();
    await page.getByRole('button', { name: 'Account and more' }).click();
    await page.getByRole('menuitem', { name: 'Reports by mail' }).click();
    await expect(page.getByRole('heading', { level: 1 })).toHaveText('No mail is taken in.');
    await page.getByLabel('Take reports by mail').check();
    await page.getByLabel('Port', { exact: true }).fill(String(port));
    await page.getByRole('button', { name: 'Save' }).click();
    await expect(page.getByText('Expected a domain, got nothing.')).toBeVisible();
    await page.getByLabel('Domain of the addresses').fill('in.ternferry.test');
    await page.getByRole('button', { name: 'Save' }).click();
    await expect(page.getByText(`Saved. It listens at port ${port}.`)).toBeVisible();
    await expect(page.getByRole('heading', { level: 1 })).toHaveText(
      `Jobs can report by mail, at port ${port}.`,
    );

    const { body } = await product.api('GET', '/watches?text=fares');
    const [{ id, mailAddress }] = body as unknown as [{ id: number; mailAddress: string }];
    await openDesk(page, `${product.base}/watches/${id}`);
    await expect(page.getByText(mailAddress, { exact: true }).first()).toBeVisible();
    await page.getByRole('link', { name: 'Change', exact: true }).click();
    await page.getByText('Reports by mail', { exact: true }).click();
    await page.getByLabel('Try a subject').fill('Fares: fetched');
    await expect(page.getByText('Taken for a note, which changes nothing.')).toBeVisible();
    const words = page.getByRole('group', { name: 'Words for done' });
    await words.getByRole('button', { name: 'Set here' }).click();
    await page.getByLabel('Words for done').fill('fetched, ok');
    await expect(page.getByText('Taken for done, by “fetched”.')).toBeVisible();
    await page.getByRole('button', { name: 'Save changes' }).click();
    await expect(page).toHaveURL(new RegExp(`/watches/${id}$`));

    await createTransport({ host: '127.0.0.1', port, ignoreTLS: true }).sendMail({
      from: 'safe@ternferry.test',
      to: mailAddress,
      subject: 'Fares: fetched',
      text: '<b>31</b> fares',
    });
    await expect(page.getByRole('heading', { level: 1 })).toContainText('Fares is up');
    await openDesk(page, `${product.base}/mail-door`);
    await expect(page.getByText('Fares: done (“fetched”)')).toBeVisible();
  });
});
