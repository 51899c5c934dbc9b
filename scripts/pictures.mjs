// npm run pictures: takes the README's pictures anew from a running demo (npm run demo in another terminal).
import { join } from 'node:path';
import { chromium } from '@playwright/test';
import { root } from './ensure.mjs';

const base = process.env.DEMO || 'http://127.0.0.1:4780';
const folder = join(root, 'docs', 'screenshots');

const browser = await chromium.launch({
  executablePath: process.env.CHROMIUM_PATH || '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
});

async function open(options = {}) {
  const context = await browser.newContext({
    viewport: { width: 1280, height: 800 },
    timezoneId: 'Europe/Lisbon',
    ...options,
  });
  await context.request.post(`${base}/api/session`, {
    data: { email: 'ines@ternferry.test', password: 'the boats sail at dawn' },
    headers: { origin: base },
  });
  return context.newPage();
}

async function picture(name, path, { options, before } = {}) {
  const page = await open(options);
  await page.goto(base + path);
  await page.getByRole('heading', { level: 1 }).waitFor();
  if (before) await before(page);
  await page.waitForTimeout(400);
  await page.screenshot({ path: join(folder, `${name}.png`) });
  await page.context().close();
  console.log(`docs/screenshots/${name}.png`);
}

const night = { colorScheme: 'dark' };

await picture('overview', '/', {
  before: async (page) => {
    const track = await page.getByRole('slider').boundingBox();
    await page.mouse.move(track.x + track.width * 0.996, track.y + 60);
  },
});
await picture('watch-dark', '/watches/4?range=90d', {
  options: { ...night, viewport: { width: 1280, height: 900 } },
});
await picture('reference', '/reference#createWindow');
await picture('public-page', '/p/ferries/', {
  options: { viewport: { width: 1280, height: 1000 } },
  before: async (page) => {
    await page.locator('.line a').first().click();
    await page.locator('.opened').waitFor();
  },
});
await picture('public-page-phone', '/p/ferries/', { options: { viewport: { width: 390, height: 844 } } });
await picture('add-watch', '/watches/new', {
  before: async (page) => {
    await page.getByLabel('What do you want to keep an eye on?').fill('https://rota.ternferry.test:4793');
    await page.getByRole('button', { name: 'See what fits' }).click();
    await page.getByRole('button', { name: /^Save \d watches$/ }).waitFor();
  },
});
await picture('form', '/watches/9/change', {
  options: { viewport: { width: 1280, height: 1000 } },
  before: async (page) => {
    await page.getByText('What must come back').click();
    await page.getByRole('button', { name: 'Look now' }).click();
    await page.getByText(/^Fine in /).waitFor();
  },
});
await picture('why', '/watches/1', {
  options: { viewport: { width: 1280, height: 1000 } },
  before: async (page) => {
    // The ladder is walked at the first failed look of a fresh start.
    await page.getByRole('button', { name: 'Look now' }).click();
    const seen = page.locator('details').filter({ hasText: 'replies 500' }).first();
    await seen.locator('summary').click();
    await seen.scrollIntoViewIfNeeded();
  },
});
await picture('page-form', '/pages/1/change', {
  options: { viewport: { width: 1280, height: 900 } },
  before: async (page) => {
    await page.frameLocator('iframe').locator('.service').first().waitFor();
  },
});
await picture('shared', '/shared?section=On%20the%20water', {
  options: { viewport: { width: 1280, height: 900 } },
  before: async (page) => {
    const pace = page.getByRole('group', { name: 'When it looks' });
    await pace.getByRole('button', { name: 'Set here' }).click();
    await page.getByLabel('Looks every', { exact: true }).fill('2');
    await page.getByRole('button', { name: 'Show what changes' }).click();
    await page.getByText('would change').waitFor();
  },
});
await picture('maintenance', '/maintenance');
await picture('check-in', '/watches/11');
await picture('jobs', '/jobs');
await picture('by-mail', '/watches/11/change', {
  options: { viewport: { width: 1280, height: 1000 } },
  before: async (page) => {
    await page.getByText('Reports by mail').click();
    await page.getByLabel('Try a subject').fill('Manifest backup: completed');
    await page.getByLabel('Name', { exact: true }).scrollIntoViewIfNeeded();
  },
});
await picture('messages', '/messages');
await picture('message', '/messages/sent', {
  before: async (page) => {
    await page
      .getByRole('row', { name: /Booking site is down.*Crew room/ })
      .getByRole('link')
      .click();
    await page.getByRole('heading', { name: 'Why it went there' }).waitFor();
  },
});
await picture('tell-dark', '/incidents/new?outage=2', {
  options: { ...night, viewport: { width: 1280, height: 900 } },
  before: async (page) => {
    await page.getByRole('button', { name: 'by night' }).click();
    await page.frameLocator('iframe').locator('.incident').first().waitFor();
  },
});
await picture('outages', '/outages');
await picture('drill', '/messages/drills', {
  options: { viewport: { width: 1280, height: 1000 } },
  before: async (page) => {
    await page.getByRole('checkbox', { name: 'Booking site' }).check();
    await page.getByRole('button', { name: 'Show who would hear' }).click();
    await page.getByText('at once').first().waitFor();
  },
});
await browser.close();
