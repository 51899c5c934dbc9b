import { expect, type Browser, type Page } from '@playwright/test';
import { EMAIL, PASSWORD, type Product } from '../integration/helpers';

/** The environment of a product whose first account is there from the start. */
export const SIGN_IN = { LANTERN_ADMIN_EMAIL: EMAIL, LANTERN_ADMIN_PASSWORD: PASSWORD };

/** A page of its own, signed in at an empty desk. */
export async function signedIn(browser: Browser, product: Product): Promise<Page> {
  const page = await (await browser.newContext()).newPage();
  await page.goto(product.base);
  await page.getByLabel('E-mail address').fill(EMAIL);
  await page.getByLabel('Password').fill(PASSWORD);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Nothing is being watched yet.');
  return page;
}

/** Opens a screen of the desk and waits for its scripts: what is pressed or pointed at before them goes to nobody. */
export async function openDesk(page: Page, address: string): Promise<void> {
  const follows = page.waitForRequest((request) => new URL(request.url()).pathname === '/live');
  await page.goto(address);
  await follows;
}
