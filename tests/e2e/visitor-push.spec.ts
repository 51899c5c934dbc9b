import { rmSync } from 'node:fs';
import { expect, test, type BrowserContext } from '@playwright/test';
import { makeAuthority } from '../../src/standins/certificates';
import { Harbour } from '../../src/standins/harbour';
import { startProduct, until, type Product } from '../integration/helpers';
import { WHOLE_BROWSER } from './browser';

// What is pushed is shown.
test.use(WHOLE_BROWSER);

test.describe('a visitor who is told in the browser', () => {
  let harbour: Harbour;
  let product: Product;
  let context: BrowserContext;
  let pageId = 0;

  test.beforeAll(async ({ browser }) => {
    harbour = await Harbour.start({ basePort: 0, authority: await makeAuthority(), jobs: [] });
    product = await startProduct({ env: { LANTERN_NEAR_PUSHES: 'yes' } });
    const { body } = await product.api('POST', '/pages', { title: 'Ferries', slug: 'ferries', pushes: true });
    pageId = (body as { id: number }).id;
    context = await browser.newContext();
    await context.grantPermissions(['notifications'], { origin: product.base });
  });

  test.afterAll(async () => {
    await context.close();
    await product.stop();
    await harbour.stop();
    rmSync(product.folder, { recursive: true, force: true });
  });

  const followers = async () =>
    (await product.api('GET', `/pages/${pageId}/followers`)).body as { kind: string; maintenance: boolean }[];

  test('says yes on the page, is shown what is told, and ends it there', async () => {
    const told = harbour.phone.subscription(`http://127.0.0.1:${harbour.port}/rooms/phone`);
    const page = await context.newPage();
    // No browser here reaches a push service; what it would say is said by the phone of the harbour.
    await page.addInitScript(({ endpoint, p256dh, auth }) => {
      let made: object | null = null;
      const subscription = {
        endpoint,
        toJSON: () => ({ endpoint, keys: { p256dh, auth } }),
        unsubscribe: async () => {
          made = null;
          return true;
        },
      };
      PushManager.prototype.getSubscription = async () => made as never;
      PushManager.prototype.subscribe = async (options) => {
        (window as never as Record<string, unknown>)['asked'] = options?.applicationServerKey;
        made = subscription;
        return subscription as never;
      };
    }, told);
    await page.goto(`${product.base}/p/ferries/`);
    await page.getByRole('link', { name: 'In your browser' }).click();
    await page.getByRole('checkbox', { name: 'Maintenance too' }).uncheck();
    await page.getByRole('button', { name: 'Tell me in this browser' }).click();
    await expect(page.getByText('This browser is told from now on.')).toBeVisible();
    const asked = await page.evaluate(() => (window as never as Record<string, unknown>)['asked'] as string);
    expect(Buffer.from(asked, 'base64url')).toHaveLength(65);
    expect(await followers()).toMatchObject([{ kind: 'push', maintenance: false }]);

    const scope = `${product.base}/p/ferries/`;
    const session = await context.newCDPSession(page);
    let registrationId = '';
    session.on('ServiceWorker.workerRegistrationUpdated', ({ registrations }) => {
      registrationId =
        registrations.find(({ scopeURL }) => scopeURL === scope)?.registrationId ?? registrationId;
    });
    await session.send('ServiceWorker.enable');
    await until(() => registrationId !== '', 'the registration');
    const shown = () =>
      page.evaluate(async () => {
        const worker = await navigator.serviceWorker.ready;
        const there = await worker.getNotifications();
        return there
          .map(({ title, body, tag }) => ({ title, body, tag }))
          .toSorted((a, b) => a.title.localeCompare(b.title));
      });
    // A worker that is only just there may miss the first; what is pushed again is shown again.
    const push = (title: string, nth: number, tag: string, seen: string[]) =>
      until(async () => {
        const data = JSON.stringify({ title, body: 'We look.', link: `${scope}incident/1`, tag, nth });
        await session.send('ServiceWorker.deliverPushMessage', {
          origin: product.base,
          registrationId,
          data,
        });
        return (await shown()).map((one) => one.title).join() === seen.join();
      }, seen.join());
    await push('The winch rests', 1, 'i1', ['The winch rests']);
    await push('The winch turns again', 3, 'i1', ['The winch turns again']);
    await push('The winch is oiled', 2, 'i1', ['The winch turns again']);
    await push('The ramp rests', 2, 'i2', ['The ramp rests', 'The winch turns again']);
    expect(await shown()).toContainEqual({ title: 'The winch turns again', body: 'We look.', tag: 'i1' });

    await page.getByRole('button', { name: 'Tell me no more' }).click();
    await expect(page.getByText('This browser is told no more.')).toBeVisible();
    expect(await followers()).toEqual([]);
  });

  test('who allows nothing is told why nothing comes', async ({ browser }) => {
    const shy = await browser.newContext({ permissions: [] });
    const page = await shy.newPage();
    await page.addInitScript(() => {
      Notification.requestPermission = async () => 'denied';
    });
    await page.goto(`${product.base}/p/ferries/follow`);
    await page.getByRole('button', { name: 'Tell me in this browser' }).click();
    await expect(page.getByText(/was told to show no messages of this page/)).toBeVisible();
    expect(await followers()).toEqual([]);
    await shy.close();
  });
});
