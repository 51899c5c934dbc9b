import { rmSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { makeAuthority } from '@/standins/certificates';
import { Harbour } from '@/standins/harbour';
import { startProduct, type Product } from '../integration/helpers';
import { openDesk, SIGN_IN, signedIn } from './helpers';

test.describe.configure({ mode: 'serial' });

test.describe('kinds of watch and why they break', () => {
  let product: Product;
  let harbour: Harbour;
  let page: Page;

  test.beforeAll(async ({ browser }) => {
    harbour = await Harbour.start({ basePort: 0, authority: await makeAuthority(), jobs: [] });
    product = await startProduct({ env: SIGN_IN });
    page = await signedIn(browser, product);
  });

  test.afterAll(async () => {
    await product.stop();
    await harbour.stop();
    rmSync(product.folder, { recursive: true, force: true });
  });

  const portOf = (id: string) => /(\d+)\/?$/.exec(harbour.find(id)!.address)![1]!;
  const heading = (text: string | RegExp) => expect(page.getByRole('heading', { level: 1 })).toHaveText(text);

  test('an address is looked at in every way that fits; what answered is ticked, and one click saves it', async () => {
    await openDesk(page, `${product.base}/watches/new`);
    const offers = page.getByRole('region', { name: 'See what fits' });
    await offers.getByRole('button', { name: 'See what fits' }).click();
    await expect(
      offers.getByText('Expected an address such as booking.ternferry.test, got nothing.'),
    ).toBeVisible();
    await offers.getByLabel('What do you want to keep an eye on?').fill(`127.0.0.1:${portOf('booking')}`);
    await offers.getByRole('button', { name: 'See what fits' }).click();
    await expect(offers.getByRole('checkbox', { name: 'web page' })).toBeChecked();
    await expect(offers.getByRole('checkbox', { name: 'port' })).toBeChecked();
    await expect(offers.getByRole('checkbox', { name: 'certificate' })).not.toBeChecked();
    await offers.getByLabel('Name of the web page watch').fill('Booking site');
    await offers.getByRole('checkbox', { name: 'ping' }).setChecked(false);
    await offers.getByRole('button', { name: 'Save 2 watches' }).click();
    await heading('Both watches are calm.');
  });

  test('a reading is set up by hand, tried, saved and drawn; its kind sets the pace', async () => {
    await openDesk(page, `${product.base}/watches/new`);
    await page.getByRole('button', { name: 'more kinds' }).click();
    await page.getByText('reading', { exact: true }).click();
    await expect(page.getByText('looks every 5 min')).toBeVisible();
    await page.getByLabel('Address', { exact: true }).fill(`${harbour.find('counter')!.address}queue`);
    await page.getByRole('button', { name: 'Look now' }).click();
    await expect(page.getByText('Expected a JSON path such as $.level, got nothing.').first()).toBeVisible();
    await page.getByLabel('JSON path').fill('$.waiting');
    await page.getByLabel('What it is').fill('The queue');
    await page.getByLabel('Unit', { exact: true }).fill('people');
    await page.getByLabel('Warns over').fill('50');
    await page.getByRole('button', { name: 'Look now' }).click();
    const trial = page.getByRole('region', { name: 'Try it now' });
    await expect(trial.getByText('12 people')).toBeVisible();
    await page.getByRole('button', { name: 'Save watch' }).click();
    await heading(/^Queue is up/);
    await expect(
      page.getByRole('slider', { name: /^Readings between 12 people and 12 people\./ }),
    ).toBeVisible();
    await harbour.find('counter')!.setMode('long queue');
    await page.getByRole('button', { name: 'Look now' }).click();
    await heading(/^Queue wants a hand, and has for /);
    await expect(
      page.getByText('The queue is 180 people, over 50 people, and may soon be too high.').first(),
    ).toBeVisible();
  });

  test('rows are tested one by one, and a secret is kept without being shown again', async () => {
    await openDesk(page, `${product.base}/watches/new`);
    await page.getByLabel('Address', { exact: true }).fill(`${harbour.find('counter')!.address}queue`);
    await page.getByText('What must come back').click();
    const rows = page.getByRole('group', { name: 'Values in a JSON reply' });
    await rows.getByRole('button', { name: 'Add one' }).click();
    await rows.getByLabel('Path, row 1').fill('waiting');
    await page.getByRole('button', { name: 'Save watch' }).click();
    await expect(rows.getByText(/^Expected a JSON path such as/)).toBeVisible();
    await rows.getByLabel('Path, row 1').fill('$.waiting');
    await rows.getByLabel('Comparison, row 1').selectOption('at most');
    await rows.getByLabel('Value, row 1').fill('500');
    await page.getByText('What is sent').click();
    await page.getByLabel('Token for bearer sign-in').fill('a-token-nobody-sees');
    // Another watch has this name: it is suggested, not refused.
    await page.getByLabel('Name', { exact: true }).fill('Booking site');
    await page.getByRole('button', { name: 'Call it “Booking site 2”' }).click();
    await page.getByText('Rests on', { exact: false }).first().click();
    await page.getByRole('checkbox', { name: 'Booking site', exact: true }).check();
    await page.getByRole('button', { name: 'Save watch' }).click();
    await heading(/^Booking site 2 is up/);
    await expect(page.getByRole('heading', { name: 'How it hangs together' })).toBeVisible();
    await page.getByRole('link', { name: 'Change' }).click();
    await page.getByText('What is sent').click();
    await expect(page.getByText('kept sealed', { exact: true })).toBeVisible();
    expect(await page.content()).not.toContain('a-token-nobody-sees');
    await page.getByRole('button', { name: 'Save changes' }).click();
    await heading(/^Booking site 2 is up/);
    const watches = (await product.api('GET', '/watches')).body as {
      name: string;
      settings: Record<string, unknown>;
    }[];
    expect(watches.find((watch) => watch.name === 'Booking site 2')!.settings.bearer).toEqual({ kept: true });
  });

  test('steps of a journey are put into order, walked, and the one that broke is named', async () => {
    await harbour.find('counter')!.setMode('fine');
    await openDesk(page, `${product.base}/watches/new`);
    // What was saved a moment ago does not come back as a draft; what is half filled does.
    await page.waitForTimeout(600);
    await page.reload();
    await expect(page.getByLabel('Name', { exact: true })).toHaveValue('');
    await page.getByLabel('Name', { exact: true }).fill('Round trip');
    await page.waitForFunction(() => JSON.stringify(localStorage).includes('Round trip'));
    await page.reload();
    await expect(page.getByLabel('Name', { exact: true })).toHaveValue('Round trip');
    await page.getByRole('button', { name: /more kinds/ }).click();
    await page.getByText('journey', { exact: true }).click();
    const steps = page.getByRole('group', { name: 'Steps' });
    await steps.getByRole('button', { name: 'Add one' }).click();
    await steps.getByLabel('Name, row 1').fill('Queue');
    await steps.getByLabel('Address, row 1').fill('/queue');
    await steps.getByRole('button', { name: 'Add another' }).click();
    await steps.getByLabel('Name, row 2').fill('Open');
    await steps.getByLabel('Address, row 2').fill(harbour.find('counter')!.address);
    await steps.getByRole('button', { name: 'Move row 2 of Steps up' }).click();
    await expect(steps.getByLabel('Name, row 1')).toHaveValue('Open');
    await expect(steps.getByRole('button', { name: 'Move row 1 of Steps up' })).toBeHidden();
    await steps.getByLabel('Words that must be there, row 2').fill('nobody waits');
    await page.getByRole('button', { name: 'Look now' }).click();
    const trial = page.getByRole('region', { name: 'Try it now' });
    await expect(trial.getByText(/^Step 2, “Queue”: The words “nobody waits” are missing/)).toBeVisible();
  });

  test('words are picked from the page, and weak ones are doubted before they are saved', async () => {
    await openDesk(page, `${product.base}/watches/new`);
    // The journey that was not saved is still there.
    await page.getByRole('button', { name: 'Begin anew' }).click();
    await expect(page.getByRole('button', { name: 'Begin anew' })).toBeHidden();
    await page.getByLabel('Address', { exact: true }).fill(harbour.find('tides')!.address);
    await page.getByRole('button', { name: 'Pick them from the page' }).click();
    const shown = page.getByLabel('Select a piece of it');
    await expect(shown).toHaveValue(/High water at Tern Island/);
    await shown.evaluate((area: HTMLTextAreaElement) => {
      const from = area.value.indexOf('High water at');
      area.focus();
      area.setSelectionRange(from, from + 'High water a'.length);
    });
    // The rest by key, as a person would.
    await page.keyboard.press('Shift+ArrowRight');
    await page.getByRole('button', { name: 'Take “High water at”' }).click();
    await expect(page.getByLabel('These words must be on the page')).toHaveValue('High water at');
    await page.getByLabel('These words must be on the page').fill('<p>High');
    await page.getByRole('button', { name: 'Save watch' }).click();
    await expect(page.getByText('No visitor reads them', { exact: false })).toBeVisible();
    await page.getByLabel('These words must be on the page').fill('High water at');
    await page.getByRole('button', { name: 'Save watch' }).click();
    await heading(/^127\.0\.0\.1.* is up/);
  });

  test('a list is pasted, judged line by line, and what fits is made', async () => {
    await openDesk(page, `${product.base}/watches/new`);
    await page.getByRole('link', { name: 'Paste a list' }).click();
    await heading('Many watches at once');
    await page.getByLabel('Addresses or CSV').fill(`127.0.0.1:${portOf('kiosk-north')}\nnot an address`);
    await page.getByRole('button', { name: 'Judge each line' }).click();
    await expect(
      page.getByText('Expected an address such as booking.ternferry.test, got “not an address”.'),
    ).toBeVisible();
    await expect(page.getByRole('checkbox', { name: 'Make line 2' })).toBeDisabled();
    await page.getByRole('button', { name: 'Make 1 watch' }).click();
    await expect(
      page.getByRole('link', { name: `127.0.0.1:${portOf('kiosk-north')}` }).first(),
    ).toBeVisible();
    await page
      .getByRole('link', { name: `127.0.0.1:${portOf('kiosk-north')}` })
      .first()
      .click();
    await page.getByRole('link', { name: 'One more like it' }).click();
    await expect(page.getByLabel('Name', { exact: true })).toHaveValue(
      `127.0.0.1:${portOf('kiosk-north')} 2`,
    );
    await page.getByLabel('Port', { exact: true }).fill(portOf('kiosk-south'));
    await page.getByRole('button', { name: 'Save watch' }).click();
    await heading(/ 2 is up/);
  });

  test('troubles that belong together are one, with the ladder and what was seen', async () => {
    await harbour.find('booking')!.setMode('stopped');
    const watches = (await product.api('GET', '/watches')).body as { id: number; name: string }[];
    for (const watch of watches.filter(
      (w) => w.name.includes(portOf('booking')) || w.name === 'Booking site',
    )) {
      for (let i = 0; i < 3; i += 1) await product.api('POST', `/watches/${watch.id}/look`);
    }
    await openDesk(page, product.base);
    const together = page.getByRole('article', { name: /^Two watches on 127\.0\.0\.1 failed/ });
    await expect(together).toContainText(`so the service on port ${portOf('booking')} is the likely cause`);
    await expect(together.getByRole('listitem').filter({ hasText: 'Booking site' }).first()).toBeVisible();
    await together.getByRole('link', { name: 'Booking site' }).click();
    await heading(/^Booking site is down/);
    await page.getByText('What was seen').waitFor();
    await page.locator('details').filter({ hasText: 'nothing listens on port' }).locator('summary').click();
    await expect(page.getByText(/ping under|ping \d/).first()).toBeVisible();
  });

  test('the own line says what it is for, refuses what is no address, and asks when it is saved', async () => {
    await openDesk(page, `${product.base}/own-line`);
    await heading('Whether this machine itself can reach out is not asked.');
    await page.getByLabel('Up to five, one a line').fill('not an address');
    await page.getByRole('button', { name: 'Save and ask them' }).click();
    await expect(page.getByText(/^Expected a host or host:port/)).toBeVisible();
    await page.getByLabel('Up to five, one a line').fill(`127.0.0.1:${portOf('tides')}`);
    await page.getByRole('button', { name: 'Save and ask them' }).click();
    await expect(page.getByText('Saved. The line holds.')).toBeVisible();
    await heading('This machine can reach out.');
  });
});
