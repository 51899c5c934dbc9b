import { describe, expect, it } from 'vitest';
import { makeAuthority } from '@/standins/certificates';
import { Harbour } from '@/standins/harbour';
import { PracticePhone } from '@/standins/rooms/phone';
import { openStore } from '@/store/db/open';
import { until } from '../helpers';
import { withinProcess, type Within } from '../within';

const KEYS = (({ p256dh, auth }) => ({ p256dh, auth }))(new PracticePhone().subscription(''));
const FAR = { endpoint: 'https://push.ternferry.example/send/abc', ...KEYS };

function saying(product: () => Within) {
  return (
    body: unknown,
    { slug = 'ferries', type = 'application/json', method = 'POST', language = 'en' } = {},
  ) =>
    fetch(`${product().base}/p/${slug}/follow/push`, {
      method,
      headers: { 'content-type': type, 'accept-language': language },
      ...(method === 'POST' && { body: typeof body === 'string' ? body : JSON.stringify(body) }),
    }).then(async (response) => ({ status: response.status, text: await response.text() }));
}

describe('visitors who are told in their browsers', () => {
  let product: Within;
  withinProcess((one) => (product = one), { LANTERN_NEAR_PUSHES: 'yes' });
  const say = saying(() => product);

  it('hear what a page tells, until they end it', async () => {
    const harbour = await Harbour.start({ basePort: 0, authority: await makeAuthority(), jobs: [] });
    const { body } = await product.api('POST', '/pages', { title: 'Ferries', slug: 'ferries', pushes: true });
    const pageId = (body as { id: number }).id;
    const sheet = await (await fetch(`${product.base}/p/ferries/follow`)).text();
    const key = /data-push-key="([\w-]+)"/.exec(sheet)![1]!;
    expect(Buffer.from(key, 'base64url')).toHaveLength(65);
    // Nothing of it shows before a script found out that the browser can, and no mail is asked for.
    expect(sheet).toMatch(/<section hidden=""/);
    expect(sheet).not.toContain('type="email"');
    expect(await (await fetch(`${product.base}/p/ferries/`)).text()).toContain('href="follow"');
    const told = harbour.phone.subscription(`http://127.0.0.1:${harbour.port}/rooms/phone`);
    expect((await say({ ...told, labels: null, maintenance: true }, { language: 'de' })).status).toBe(204);
    // Said twice, it is told once.
    expect((await say({ ...told, labels: null, maintenance: false })).status).toBe(204);
    const followers = async () =>
      (await product.api('GET', `/pages/${pageId}/followers`)).body as Record<string, unknown>[];
    const [one, ...others] = await followers();
    expect(others).toEqual([]);
    expect(one).toMatchObject({
      kind: 'push',
      state: 'follows',
      consent: 'said yes in the browser',
      maintenance: false,
    });
    // Where a browser is pushed to is a key to it.
    expect(JSON.stringify(await followers())).not.toContain('push/ines');
    const { body: incident } = await product.api('POST', '/incidents', {
      ...{ title: 'The winch rests', body: 'We look into it.', pageIds: [pageId] },
    });
    const db = await openStore(product.folder, { migrate: false });
    // Half a minute in which it may be taken back is over.
    await db('letters').update({ due_at: Date.now() - 1 });
    await product.api('PATCH', `/incidents/${(incident as { id: number }).id}`, { title: 'The winch rests' });
    await until(() => harbour.phone.messages.length > 0, 'a push', 70_000);
    await db.destroy();
    expect(harbour.phone.messages[0]!.text).toBe('The winch rests · Ferries\nWe look into it.');
    expect((await say({ endpoint: 'https://push.ternferry.example/other', off: true })).status).toBe(204);
    expect(await followers()).toHaveLength(1);
    expect((await say({ endpoint: told.endpoint, off: true })).status).toBe(204);
    expect(await followers()).toEqual([]);
    await harbour.stop();
  });
});

describe('what a stranger says a browser is', () => {
  let product: Within;
  withinProcess((one) => (product = one));
  const say = saying(() => product);

  it('has to be on the open web, and to have keys', async () => {
    const { body } = await product.api('POST', '/pages', { title: 'Ferries', slug: 'ferries', pushes: true });
    await product.api('POST', '/pages', { title: 'Shy', slug: 'shy' });
    await product.api('POST', '/pages', {
      ...{ title: 'Locked', slug: 'locked', pushes: true, audience: 'password', password: 'gulls at dawn' },
    });
    const { p256dh: _, ...keyless } = FAR;
    const tried: [number, Awaited<ReturnType<typeof say>>][] = [
      [422, await say({ ...FAR, endpoint: `${product.base}/api/v1/watches` })],
      [422, await say({ ...FAR, endpoint: 'https://localhost/' })],
      [422, await say(keyless)],
      [422, await say({ ...FAR, auth: 'short' })],
      [422, await say('null')],
      [422, await say('[1]')],
      [422, await say('{')],
      [413, await say(`{"endpoint":"${'x'.repeat(70_000)}"}`)],
      [415, await say(FAR, { type: 'text/plain' })],
      [404, await say(FAR, { slug: 'shy' })],
      [403, await say(FAR, { slug: 'locked' })],
      [405, await say(null, { method: 'GET' })],
    ];
    expect(tried.map(([, { status }]) => status)).toEqual(tried.map(([status]) => status));
    const page = body as { id: number };
    expect((await product.api('GET', `/pages/${page.id}/followers`)).body).toEqual([]);
    // A handful from one place, and then one a minute.
    const statuses: number[] = [];
    for (let i = 0; i < 8; i += 1) {
      statuses.push((await say({ ...FAR, endpoint: `${FAR.endpoint}${i}` })).status);
    }
    expect(statuses).toContain(429);
    expect(statuses.filter((status) => status === 204).length).toBeLessThanOrEqual(6);
    // Nobody at the desk says for a browser that it wants it.
    const added = { kind: 'push', address: FAR.endpoint, consent: 'said so' };
    expect((await product.api('POST', `/pages/${page.id}/followers`, added)).status).toBe(422);
  });

  it('gets the script that shows what is pushed, for its page alone', async () => {
    const script = await fetch(`${product.base}/p/ferries/push.js`);
    expect([script.status, script.headers.get('content-type')]).toEqual([
      200,
      'text/javascript; charset=utf-8',
    ]);
    expect(await script.text()).toContain('showNotification');
    expect((await fetch(`${product.base}/p/locked/push.js`)).status).toBe(403);
    expect(
      (await fetch(`${product.base}/p/ferries/follow`)).headers.get('content-security-policy'),
    ).toContain("worker-src 'self'");
  });
});
