import { chmodSync, mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { makeAuthority } from '../../src/standins/certificates';
import { Harbour } from '../../src/standins/harbour';
import { PRACTICE_BOT } from '../../src/standins/rooms/bot-room';
import { startProduct, tempFolder, until, type Product } from '../integration/helpers';
import { WHOLE_BROWSER } from './browser';
import { openDesk, SIGN_IN, signedIn } from './helpers';

// What is pushed is shown.
test.use(WHOLE_BROWSER);

test.describe.configure({ mode: 'serial' });

test.describe('who hears, and what was sent', () => {
  let harbour: Harbour;
  let product: Product;
  let page: Page;
  let rooms: string;
  const scripts = join(tempFolder(), 'scripts');

  test.beforeAll(async ({ browser }) => {
    harbour = await Harbour.start({ basePort: 0, authority: await makeAuthority(), jobs: [] });
    rooms = `http://127.0.0.1:${harbour.port}/rooms`;
    mkdirSync(scripts);
    writeFileSync(join(scripts, 'sound-the-horn'), '#!/bin/sh\necho "the horn sounds: $LANTERN_TITLE"\n');
    chmodSync(join(scripts, 'sound-the-horn'), 0o755);
    product = await startProduct({ env: { ...SIGN_IN, LANTERN_SCRIPTS: scripts } });
    page = await signedIn(browser, product);
  });

  test.afterAll(async () => {
    await product.stop();
    await harbour.stop();
    for (const folder of [product.folder, join(scripts, '..')])
      rmSync(folder, { recursive: true, force: true });
  });

  const form = () => page.getByRole('form', { name: 'Connect a channel' });
  const row = (name: string) =>
    page.getByRole('list', { name: 'Channels' }).getByRole('listitem').filter({ hasText: name });
  const kind = (title: string) => form().getByLabel('Kind').selectOption(title);

  test('the number of a chat is found, and the channel tried before it is connected', async () => {
    await openDesk(page, `${product.base}/messages`);
    await kind('chat bot');
    await form().getByLabel('Name', { exact: true }).fill('Crew chat');
    await form().getByLabel('Address of the bot service').fill(`${rooms}/bot`);
    await form().getByLabel('Token').fill('17956:not-the-token');
    await form().getByRole('button', { name: 'Find: chat' }).click();
    await expect(form().getByText(/The token is not known there: Unauthorized/)).toBeVisible();
    await form().getByLabel('Token').fill(PRACTICE_BOT.token);
    await form().getByRole('button', { name: 'Find: chat' }).click();
    await form().getByRole('button', { name: 'Crew chat (4711)' }).click();
    await expect(form().getByLabel('Chat', { exact: true })).toHaveValue('4711');
    await form().getByRole('button', { name: 'Send a test' }).click();
    await expect(form().getByText('It answered: taken')).toBeVisible();
    await form().getByRole('button', { name: 'Connect', exact: true }).click();
    await expect(row('Crew chat')).toContainText('chat bot: 4711');
    await expect(row('Crew chat')).not.toContainText(PRACTICE_BOT.token);
  });

  test('a channel is changed without its secret, which is asked for again where it would go elsewhere', async () => {
    await row('Crew chat').getByRole('link', { name: 'Change Crew chat' }).click();
    const change = page.getByRole('form', { name: 'Change a channel' });
    await expect(change.getByLabel('Token')).toHaveText('kept sealed');
    await change.getByLabel('Address of the bot service').fill('http://127.0.0.1:9/elsewhere');
    await change.getByRole('button', { name: 'Save changes' }).click();
    await expect(change.getByText(/it was given for another address/)).toBeVisible();
    await change.getByLabel('Address of the bot service').fill(`${rooms}/bot`);
    await change.getByRole('button', { name: 'Send a test' }).click();
    await expect(change.getByText('It answered: taken')).toBeVisible();
    await change.getByRole('button', { name: 'Save changes' }).click();
    await page.waitForURL(`${product.base}/messages`);
    await expect(row('Crew chat')).toContainText('chat bot: 4711');
    await row('Crew chat').getByRole('button', { name: 'Disconnect' }).click();
    await expect(page.getByRole('alertdialog')).toContainText('Every watch that is heard of now still is.');
    await page.getByRole('button', { name: 'Keep it' }).click();
  });

  test('words of one’s own are seen as they are typed, and sent before they are kept', async () => {
    await page.getByRole('link', { name: 'Texts', exact: true }).click();
    await expect(
      page.getByRole('heading', { name: 'Everything is said in the built-in words.' }),
    ).toBeVisible();
    await page.getByRole('link', { name: 'Write a text' }).click();
    const write = page.getByRole('form', { name: 'Write a text' });
    const said = page.getByRole('region', { name: 'What would be said' });
    await expect(said).toContainText('Booking site is down');
    await expect(said).toContainText('Nothing of the kind was said yet, so this is made up.');
    await write.getByLabel('To', { exact: true }).selectOption('Crew chat');
    await write.getByLabel('Title', { exact: true }).fill('{{ name }} needs somebody');
    await write.getByLabel('Text', { exact: true }).fill('{{ why }} {% if note %}');
    await expect(said).toContainText('tag {% if note %} not closed');
    await write.getByRole('button', { name: 'Save' }).click();
    await expect(write.getByText(/Expected a text that can be filled in/)).toBeVisible();
    await expect(write.getByLabel('Title', { exact: true })).toHaveValue('{{ name }} needs somebody');
    await write.getByLabel('Text', { exact: true }).fill('Why: {{ why }} ');
    await write.getByText('What a text may name').click();
    await write.getByRole('button', { name: 'Add advice to the text' }).click();
    await expect(said).toContainText('Booking site needs somebody');
    await expect(said).toContainText(
      'Why: The host is there, but nothing listens on port 443. Start the service',
    );
    await write.getByRole('button', { name: 'Send a test' }).click();
    await expect(write.getByText('It answered: taken')).toBeVisible();
    await write.getByRole('button', { name: 'Save' }).click();
    await page.waitForURL(`${product.base}/messages/texts`);
    const mine = page.getByRole('list', { name: 'Texts' }).getByRole('listitem');
    await expect(mine).toContainText('When it is down, to Crew chat');
    await mine.getByRole('link', { name: 'Change the text when it is down, to Crew chat' }).click();
    await page.getByRole('form', { name: 'Change a text' }).getByLabel('When').selectOption('it is slow');
    await expect(said).toContainText('Booking site needs somebody');
    await page.getByRole('button', { name: 'Save' }).click();
    await expect(mine).toContainText('When it is slow, to Crew chat');
    await mine.getByRole('button', { name: 'Delete' }).click();
    await page.getByRole('button', { name: 'Yes, do it' }).click();
    await expect(mine).toHaveCount(0);
  });

  test('a channel speaks the language it was given', async () => {
    await openDesk(page, `${product.base}/messages`);
    await row('Crew chat').getByRole('link', { name: 'Change Crew chat' }).click();
    const change = page.getByRole('form', { name: 'Change a channel' });
    await change.getByLabel('Language').selectOption('Deutsch');
    await change.getByRole('button', { name: 'Send a test' }).click();
    await expect(change.getByText('It answered: taken')).toBeVisible();
    const bot = harbour.rooms.find(({ id }) => id === 'bot')!;
    expect(bot.messages.map(({ text }) => text).join('\n')).toContain('Ein Test von Calm Lantern');
    await change.getByRole('link', { name: 'Leave it' }).click();
    await page.waitForURL(`${product.base}/messages`);
  });

  test('what holds where nothing is typed stands in the form', async () => {
    await kind('IRC room');
    await expect(form().getByLabel('TLS')).toBeChecked();
    await expect(form().getByLabel('Port')).toHaveValue('6697');
    await form().getByLabel('Server', { exact: true }).fill('127.0.0.1');
    await form().getByLabel('Port').fill('1');
    await form().getByLabel('Room', { exact: true }).fill('#crew');
    await form().getByRole('button', { name: 'Send a test' }).click();
    await expect(form().getByText(/It did not arrive\. The answer was: .*ECONNREFUSED/)).toBeVisible();
  });

  test('a script is run where whoever runs the server allowed it', async () => {
    await kind('script on this machine');
    await form().getByLabel('Name', { exact: true }).fill('The horn');
    await form().getByLabel('Script', { exact: true }).fill('sound-the-horn');
    await form().getByRole('button', { name: 'Send a test' }).click();
    await expect(
      form().getByText('It answered: It ended with 0: the horn sounds: A test from Calm Lantern'),
    ).toBeVisible();
  });

  test('a device is switched on with the key of this desk, and hears what is pushed', async () => {
    const told = harbour.phone.subscription(`${rooms}/phone`);
    await page.context().grantPermissions(['notifications'], { origin: product.base });
    // No browser here reaches a push service; what it would say is said by the phone of the harbour.
    await page.evaluate(({ endpoint, p256dh, auth }) => {
      PushManager.prototype.getSubscription = async () => null;
      PushManager.prototype.subscribe = async (options) => {
        (window as never as Record<string, unknown>)['asked'] = options?.applicationServerKey;
        return { toJSON: () => ({ endpoint, keys: { p256dh, auth } }) } as never;
      };
    }, told);
    await kind('phone or browser');
    await form().getByRole('button', { name: 'Switch this device on' }).click();
    await expect(form().getByText(/The browser said where this device is pushed to/)).toBeVisible();
    const asked = await page.evaluate(() => (window as never as Record<string, unknown>)['asked'] as string);
    expect(Buffer.from(asked, 'base64url')).toHaveLength(65);
    await form().getByLabel('Name', { exact: true }).fill('Ines’s phone');
    await form().getByRole('button', { name: 'Send a test' }).click();
    await expect(form().getByText('It answered: taken by the push service')).toBeVisible();
    expect(harbour.phone.messages[0]!.text).toContain('If you can read this, messages reach you here.');
    await form().getByRole('button', { name: 'Connect', exact: true }).click();
    await expect(row('Ines’s phone')).toContainText('phone or browser: a device');
  });

  test('what is pushed is shown by the device, and leads to the desk', async () => {
    const shown = await page.evaluate(async () => {
      const worker = await navigator.serviceWorker.ready;
      return { scope: worker.scope, script: worker.active?.scriptURL };
    });
    expect(shown.script).toBe(`${product.base}/sw.js`);
    const session = await page.context().newCDPSession(page);
    let registrationId = '';
    session.on('ServiceWorker.workerRegistrationUpdated', ({ registrations }) => {
      registrationId =
        registrations.find(({ scopeURL }) => scopeURL === shown.scope)?.registrationId ?? registrationId;
    });
    await session.send('ServiceWorker.enable');
    await until(() => registrationId !== '', 'the registration');
    // A worker that is only just there may miss the first; what is pushed again is shown again.
    const push = (data: string, titles: string[]) =>
      until(async () => {
        await session.send('ServiceWorker.deliverPushMessage', {
          origin: product.base,
          registrationId,
          data,
        });
        return (await titlesShown()).join() === titles.join();
      }, titles.join());
    const titlesShown = () =>
      page.evaluate(async () => {
        const worker = await navigator.serviceWorker.ready;
        return (await worker.getNotifications()).map(({ title }) => title).toSorted();
      });
    const told = (title: string, nth: number, tone: string) =>
      JSON.stringify({ title, body: 'Nothing listens.', tag: 'w1.1', link: '/watches/1', tone, nth });
    await push(told('Booking site is down', 1, 'bad'), ['Booking site is down']);
    await push(told('Booking site is up again', 3, 'fine'), ['Booking site is up again']);
    await push(told('Booking site is down still', 2, 'bad'), ['Booking site is up again']);
    await push('not JSON', ['Booking site is up again', 'Calm Lantern']);
    const manifest = await page.evaluate(async () => (await fetch('/manifest.webmanifest')).text());
    expect(JSON.parse(manifest)).toMatchObject({
      name: 'Calm Lantern',
      start_url: '/',
      display: 'standalone',
    });
  });

  test('a notice comes up wherever the desk is open, and is put away', async () => {
    await kind('this desk');
    await form().getByLabel('Name', { exact: true }).fill('Everybody at the desk');
    await form().getByLabel('With a sound').check();
    await form().getByRole('button', { name: 'Connect', exact: true }).click();
    await expect(row('Everybody at the desk')).toBeVisible();
    const other = await page.context().newPage();
    // What is said before a window follows along is not for it.
    const follows = other.waitForResponse(`${product.base}/live`);
    await openDesk(other, `${product.base}/sections`);
    await follows;
    await row('Everybody at the desk').getByRole('button', { name: 'Send a test' }).click();
    for (const one of [page, other]) {
      await expect(one.getByRole('region', { name: 'Messages as they come' })).toContainText(
        'A test from Calm Lantern',
      );
    }
    await other.getByRole('button', { name: 'Put away: A test from Calm Lantern' }).click();
    await expect(other.getByText('A test from Calm Lantern')).toHaveCount(0);
    await other.close();
  });

  test('a watch that went down is read of in one place: what was said, to whom, why, and why not', async () => {
    const settings = { host: '127.0.0.1', port: 1 };
    const made = await product.api('POST', '/watches', {
      kind: 'port',
      name: 'Slipway',
      settings,
      secondLooks: 0,
    });
    expect(made.status).toBe(201);
    const crew = harbour.rooms.find(({ id }) => id === 'bot')!;
    await until(() => crew.messages.some(({ text }) => text.includes('Slipway is down')), 'told');
    await openDesk(page, `${product.base}/messages/sent`);
    await expect(page.getByRole('heading', { level: 1 })).toHaveText('All that was sent.');
    await page.getByLabel('Channel').selectOption('Crew chat');
    await expect(page.getByRole('heading', { level: 1 })).toHaveText('Messages to Crew chat.');
    await page.getByLabel('Says').selectOption('it is down');
    await expect(page.getByRole('row')).toHaveCount(2);
    await page.getByRole('link', { name: 'Slipway is down' }).click();
    await expect(page.getByRole('heading', { level: 1 })).toHaveText('Slipway is down.');
    await expect(page.getByText('Nothing listens on port 1.')).toBeVisible();
    await expect(
      page.getByText('By the route Everyone, at once: it is its turn on the route.'),
    ).toBeVisible();
    await expect(page.getByText('taken', { exact: true })).toBeVisible();
    const before = crew.messages.length;
    await page.getByRole('button', { name: 'Send it once more' }).click();
    await expect(page.getByText('somebody sent it once more')).toBeVisible();
    await until(() => crew.messages.length === before + 1, 'sent again');
    await openDesk(page, `${product.base}/messages/sent?outcome=given-up`);
    await expect(page.getByText('No message is like this.')).toBeVisible();
    await page.getByRole('link', { name: 'Show all' }).click();
    await expect(page.getByRole('heading', { level: 1 })).toHaveText('All that was sent.');
  });

  test('a drill shows who would hear before it is sent, and then what arrived', async () => {
    await openDesk(page, `${product.base}/messages`);
    await page.getByRole('link', { name: 'Drill', exact: true }).click();
    const drill = page.getByRole('form', { name: 'A drill' });
    await drill.getByRole('button', { name: 'Show who would hear' }).click();
    await expect(drill.getByText('Expected at least one watch.')).toBeVisible();
    await drill.getByRole('checkbox').first().check();
    await drill.getByRole('button', { name: 'Show who would hear' }).click();
    await expect(drill.getByRole('row').nth(1)).toContainText(/at once.*Drill: .* is down/);
    await drill.getByRole('button', { name: /^Send \d+ messages for practice$/ }).click();
    await page.waitForURL(/\/messages\/drills\/\d+$/);
    await expect(page.getByRole('row').nth(1)).toContainText(/Drill: .* is down.*(arrived|on its way)/);
    await page.getByRole('button', { name: 'End the drill' }).click();
    await expect(page.getByRole('button', { name: 'End the drill' })).toHaveCount(0);
    await expect(page.getByRole('row').filter({ hasText: 'is up again' }).first()).toBeVisible();
  });

  test('a route takes days off from a calendar, and is tried on the past before it is saved', async () => {
    await openDesk(page, `${product.base}/messages/routes/new`);
    await page.getByLabel('Name', { exact: true }).fill('Office hours');
    await page.getByLabel('When it speaks').selectOption('at some hours');
    await page.getByText('Days off').click();
    const year = new Date().getFullYear() + 1;
    const holiday = [
      'BEGIN:VEVENT',
      'UID:1',
      `DTSTART;VALUE=DATE:${year}1225`,
      'SUMMARY:Christmas',
      'END:VEVENT',
    ];
    const calendar = ['BEGIN:VCALENDAR', 'VERSION:2.0', ...holiday, 'END:VCALENDAR', ''].join('\r\n');
    await page.getByLabel('iCalendar file of holidays').setInputFiles({
      name: 'holidays.ics',
      mimeType: 'text/calendar',
      buffer: Buffer.from(calendar),
    });
    await expect(page.getByText('One day read.')).toBeVisible();
    await expect(page.getByLabel('On these days it does not speak')).toHaveValue(`${year}-12-25`);
    await page.getByRole('checkbox', { name: 'Crew chat' }).check();
    await page.getByRole('button', { name: 'Try it' }).click();
    const tried = page.getByRole('region', { name: 'Tried on the past' });
    await expect(tried.getByText(/outages? would have made .* messages?, .* now\./)).toBeVisible();
    await page.getByRole('checkbox', { name: 'Crew chat' }).uncheck();
    await expect(tried.getByText('Something was changed since it was tried.')).toBeVisible();
    await page.getByRole('button', { name: 'Add the route' }).click();
    await page.waitForURL(`${product.base}/messages`);
    await expect(page.getByText(/07:00 to 18:00, but not on one day off/)).toBeVisible();
  });
});
