import { rmSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { startProduct, TOKEN, type Product } from '../integration/helpers';
import { openDesk, SIGN_IN, signedIn } from './helpers';

test.describe.configure({ mode: 'serial' });

test.describe('set once, differ where needed', () => {
  let product: Product;
  let page: Page;

  test.beforeAll(async ({ browser }) => {
    product = await startProduct({ env: SIGN_IN });
    page = await signedIn(browser, product);
    const settings = { host: '127.0.0.1', port: product.port };
    for (const [name, section, tags] of [
      ['Kiosk North', 'Piers', ['pier']],
      ['Kiosk South', 'Piers', ['pier']],
      ['Office mail', 'Office', []],
    ]) {
      const made = await product.api('POST', '/watches', { kind: 'port', name, section, tags, settings });
      expect(made.status).toBe(201);
    }
  });

  test.afterAll(async () => {
    await product.stop();
    rmSync(product.folder, { recursive: true, force: true });
  });

  const field = (label: string) => page.getByRole('group', { name: label, exact: true });
  const watches = async (query = '') =>
    (await product.api('GET', `/watches${query}`)).body as unknown as {
      name: string;
      everySeconds: number;
      section: string;
      tags: string[];
      state: string;
    }[];

  test('a pace for a section is shown on each of its watches before it is saved, and then holds', async () => {
    await openDesk(page, `${product.base}/shared?section=Piers`);
    await expect(page.getByRole('heading', { level: 1 })).toHaveText('What holds in “Piers”');
    await expect(field('When it looks')).toContainText('every 1 min');
    await field('When it looks').getByRole('button', { name: 'Set here' }).click();
    await page.getByLabel('Looks every', { exact: true }).fill('0');
    await page.getByRole('button', { name: 'Show what changes' }).click();
    await expect(page.getByText(/from 5 to 2592000, got 0/).first()).toBeVisible();
    await page.getByLabel('Looks every', { exact: true }).fill('7');
    await page.getByRole('button', { name: 'Show what changes' }).click();
    const shown = page.getByRole('row', { name: /Looks every 1 min 7 min/ });
    await expect(shown).toBeVisible();
    expect((await watches('?section=Piers')).map((watch) => watch.everySeconds)).toEqual([60, 60]);
    await page.getByRole('button', { name: 'Save for 2 watches' }).click();
    await expect(page.getByText('Saved. 2 watches changed.')).toBeVisible();
    expect((await watches()).map((watch) => watch.everySeconds)).toEqual([420, 420, 60]);
  });

  test('a watch says where each value comes from; one click overrides it, one gives it back', async () => {
    await openDesk(page, product.base);
    await page.getByRole('link', { name: /Kiosk North/ }).click();
    await page.getByRole('link', { name: 'Change', exact: true }).click();
    await page.getByText('Pace and patience').click();
    await expect(field('When it looks')).toContainText('every 7 min');
    await expect(field('When it looks')).toContainText('set for the section Piers');
    await expect(field('Waits at most')).toContainText('as it ships');
    await field('When it looks').getByRole('button', { name: 'Set here' }).click();
    await page.getByLabel('Looks every', { exact: true }).fill('3');
    await expect(page.getByText('(every 7 min, set for the section Piers)')).toBeVisible();
    await page.getByRole('button', { name: 'Save changes' }).click();
    // The form leads with the name of the watch too: only what is kept tells that it was saved.
    const north = async () => (await watches('?text=north'))[0];
    await expect.poll(north).toMatchObject({ everySeconds: 180 });
    await page.getByRole('link', { name: 'Change', exact: true }).click();
    await page.getByText('Pace and patience').click();
    await page.getByRole('button', { name: 'Give back' }).click();
    await expect(field('When it looks')).toContainText('every 7 min');
    // In another section other things hold, and the form says so before it is saved.
    await page.getByLabel('Section').fill('Office');
    await expect(field('When it looks')).toContainText('every 1 min');
    await page.getByLabel('Section').fill('Piers');
    await page.getByRole('button', { name: 'Save changes' }).click();
    await expect.poll(north).toMatchObject({ everySeconds: 420, section: { name: 'Piers' } });
  });

  test('several are ticked, and moved and tagged together after a look at what changes', async () => {
    await openDesk(page, `${product.base}/watches`);
    await page.getByLabel('Choose Kiosk North').check();
    await page.getByLabel('Choose Office mail').check();
    const change = page.getByRole('region', { name: 'Change the chosen' });
    await change.getByRole('button', { name: 'Tag', exact: true }).click();
    await change.getByLabel('Add these tags').fill('tickets');
    await change.getByLabel('Add these tags').press('Enter');
    await change.getByRole('button', { name: 'Show what changes' }).click();
    await expect(change.getByRole('row', { name: /Tags pier pier, tickets Kiosk North/ })).toBeVisible();
    await change.getByRole('button', { name: 'Tag: 2 watches' }).click();
    await expect(page.getByText('Tick some to pause, move, tag')).toBeVisible();
    await expect(page.getByRole('row', { name: /Office mail/ })).toContainText('tickets');

    await page.getByLabel('Choose all that are shown').check();
    await change.getByRole('button', { name: 'Pause' }).click();
    await expect(change.getByText('3 watches would change')).toBeVisible();
    await change.getByRole('button', { name: 'Pause: 3 watches' }).click();
    await expect(page.getByRole('row', { name: /Kiosk South.*paused/ })).toBeVisible();
    expect(new Set((await watches()).map((watch) => watch.state))).toEqual(new Set(['paused']));
  });

  test('a filter narrows desk and table alike, is kept under a name, and forgotten again', async () => {
    await openDesk(page, product.base);
    await page.getByRole('button', { name: 'Tag', exact: true }).click();
    await page.getByRole('menuitemcheckbox', { name: 'tickets' }).click();
    await page.keyboard.press('Escape');
    await expect(page.getByText('2 of 3')).toBeVisible();
    await expect(page.getByRole('link', { name: /Kiosk South/ })).toHaveCount(0);
    await page.getByRole('button', { name: 'Keep this filter' }).click();
    await page.getByLabel('Name of the filter').fill('Tickets');
    await page.getByRole('button', { name: 'Keep it' }).click();
    await expect(page.getByRole('button', { name: 'Tickets', exact: true })).toHaveAttribute(
      'aria-pressed',
      'true',
    );
    await page.getByRole('link', { name: 'Change several' }).click();
    await expect(page.getByRole('heading', { level: 1 })).toHaveText('2 watches of 3.');
    await page.getByLabel('Text in name, target, section or tag').fill('nowhere');
    await expect(page.getByText('No watch is like this.')).toBeVisible();
    // An answer that takes longer than a pause in typing brings nothing back that was let go.
    await page.route(/_rsc=/, async (route) => {
      await new Promise((resolve) => setTimeout(resolve, 700));
      await route.continue();
    });
    await page.getByRole('button', { name: 'Show all' }).click();
    await expect(page.getByRole('heading', { level: 1 })).toHaveText('All 3 watches.');
    await page.unrouteAll({ behavior: 'wait' });
    await expect(page.getByRole('heading', { level: 1 })).toHaveText('All 3 watches.');
    await page.getByRole('button', { name: 'Tickets', exact: true }).click();
    await page.getByRole('button', { name: 'Forget it' }).click();
    await page.getByRole('alertdialog').getByRole('button', { name: 'Forget it' }).click();
    await expect(page.getByRole('button', { name: 'Tickets', exact: true })).toHaveCount(0);
  });

  test('sections are put into order by keyboard and by dragging, and a section ends its pause', async () => {
    await openDesk(page, `${product.base}/sections`);
    const names = () =>
      page.getByRole('list', { name: 'Sections' }).getByRole('button', { name: /watch/, expanded: false });
    await expect(names()).toHaveText([/Piers/, /Office/]);
    await page.getByRole('button', { name: 'Move Office' }).focus();
    await page.keyboard.press('Space');
    await expect(page.getByText('Office is lifted from place 2 of 2.')).toBeAttached();
    await page.keyboard.press('ArrowUp');
    await expect(page.getByText('Office is over place 1 of 2.')).toBeAttached();
    const saved = page.waitForResponse((response) => response.url().endsWith('/sections/order'));
    await page.keyboard.press('Space');
    expect((await saved).status()).toBe(200);
    await expect(names()).toHaveText([/Office/, /Piers/]);

    const handle = (await page.getByRole('button', { name: 'Move Office' }).boundingBox())!;
    const other = (await page.getByRole('button', { name: 'Move Piers' }).boundingBox())!;
    await page.mouse.move(handle.x + 10, handle.y + 10);
    await page.mouse.down();
    await page.mouse.move(handle.x + 10, handle.y + 30, { steps: 4 });
    await page.mouse.move(other.x + 10, other.y + 20, { steps: 8 });
    const dragged = page.waitForResponse((response) => response.url().endsWith('/sections/order'));
    await page.mouse.up();
    await expect(names()).toHaveText([/Piers/, /Office/]);
    expect((await dragged).status()).toBe(200);
    await page.reload();
    await expect(names()).toHaveText([/Piers/, /Office/]);

    const piers = page.getByRole('listitem').filter({ hasText: 'Piers' }).first();
    await piers.getByRole('button', { name: 'End the pause' }).click();
    await expect(piers.getByRole('button', { name: 'Pause all' })).toBeVisible();
    await expect
      .poll(async () => (await watches('?state=paused')).map((w) => w.name))
      .toEqual(['Office mail']);

    await page.getByLabel('Name of a new section').fill('Piers');
    await page.getByRole('button', { name: 'Add section' }).click();
    await expect(page.getByText('Expected a name of its own; there is one called “Piers”.')).toBeVisible();
    await page.getByRole('button', { name: 'Call it “Piers 2”' }).click();
    await expect(page.getByLabel('Name of a new section')).toHaveValue('Piers 2');
    await piers.getByRole('button', { name: 'Rename' }).click();
    await page.getByLabel('New name of Piers').fill('Office');
    await page.getByRole('button', { name: 'Call it “Office 2”' }).click();
    await expect(page.getByLabel('New name of Piers')).toHaveValue('Office 2');
    await page.getByRole('button', { name: 'Leave it' }).click();
    await page.getByLabel('Colour of tickets').selectOption('plum');
    await expect
      .poll(async () => {
        const { body } = await product.api('GET', '/tags');
        return (body as unknown as { name: string; colour: string }[]).find((t) => t.name === 'tickets')
          ?.colour;
      })
      .toBe('plum');
  });

  test('the same goes by the API with a token alone', async () => {
    const response = await fetch(`${product.base}/api/v1/shared-settings`, {
      headers: { authorization: `Bearer ${TOKEN}` },
    });
    expect(await response.json()).toMatchObject({
      sections: expect.arrayContaining([
        expect.objectContaining({ name: 'Piers', values: { everySeconds: 420 } }),
      ]),
    });
  });
});
