import { beforeAll, describe, expect, it } from 'vitest';
import { makeAuthority } from '@/standins/certificates';
import { Harbour } from '@/standins/harbour';
import { freePort, until } from '../helpers';
import { HAS_PAGES, withEither, type Within } from '../within';
import { createServer, type Server } from 'node:net';

describe('the link in a message', () => {
  let product: Within;
  let harbour: Harbour;
  let slipway: number;
  let port: number;
  withEither((started) => (product = started));
  const texts = () => harbour.room.messages.map(({ text }) => text);
  const linkIn = (text: string) => /I have it: (\S+)/.exec(text)?.[1] ?? '';
  /** Opened at the address of the product under test, whatever public address it says. */
  const tokenOf = (link: string) => new URL(link).pathname.replace('/take/', '');
  const take = (body: object | null, headers: Record<string, string> = { origin: product.base }) =>
    fetch(`${product.base}/api/take`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', ...headers },
      body: JSON.stringify(body),
    });
  const page = async (token: string) => (await fetch(`${product.base}/take/${token}`)).text();
  const conversation = async () =>
    (await product.api('GET', `/watches/${slipway}/conversation`)).body as { taken: { by: string } | null };

  beforeAll(async () => {
    harbour = await Harbour.start({ basePort: 0, authority: await makeAuthority(), jobs: [] });
    port = await freePort();
    const address = `http://127.0.0.1:${harbour.port}/room/hook`;
    await product.api('POST', '/channels', { kind: 'webhook', name: 'Crew room', settings: { address } });
    const settings = { host: '127.0.0.1', port };
    const made = await product.api('POST', '/watches', {
      kind: 'port',
      name: 'Slipway',
      settings,
      secondLooks: 0,
      everySeconds: 5,
    });
    slipway = (made.body as { id: number }).id;
    await until(() => texts().some((text) => text.includes('Slipway is down')), 'told');
    return () => harbour.stop();
  });

  it('shows what it is about to whoever opens it, changes nothing by that, and lets nobody farther in', async () => {
    const token = tokenOf(linkIn(texts()[0]!));
    if (HAS_PAGES) {
      const html = await page(token);
      expect(html).toContain('Slipway is down.');
      expect(html).toContain('Nobody has it yet.');
      for (const inside of ['Add watch', '127.0.0.1:' + port, 'Crew room'])
        expect(html).not.toContain(inside);
    }
    expect((await conversation()).taken).toBeNull();
    expect(
      (await fetch(`${product.base}/api/v1/watches`, { headers: { authorization: `Bearer ${token}` } }))
        .status,
    ).toBe(401);
  });

  it('is refused without a name, from another site, and where it was made up', async () => {
    const token = tokenOf(linkIn(texts()[0]!));
    const nameless = await take({ token, by: ' ' });
    expect(nameless.status).toBe(422);
    expect(((await nameless.json()) as { errors: object[] }).errors).toEqual([
      { field: 'by', message: 'Expected your name, so that the others know who has it.' },
    ]);
    expect(
      (await take({ token, by: 'Ines' }, { origin: 'https://bad.example', 'sec-fetch-site': 'cross-site' }))
        .status,
    ).toBe(403);
    const made = token.replace(/.$/, (last) => (last === 'A' ? 'Q' : 'A'));
    expect((await take({ token: made, by: 'Ines' })).status).toBe(410);
    expect((await take({ token: 'x'.repeat(300), by: 'Ines' })).status).toBe(422);
    if (HAS_PAGES) expect(await page('nothing')).toContain('There is nothing to take here.');
    for (const nothing of [null, ['Ines'], { token, by: ['Ines'] }])
      expect((await take(nothing)).status).toBe(422);
    expect((await conversation()).taken).toBeNull();
  });

  it('takes it with a name, tells the others, and is noted with who did it', async () => {
    const token = tokenOf(linkIn(texts()[0]!));
    expect((await take({ token, by: ' Ines ' })).status).toBe(204);
    await until(async () => (await conversation()).taken?.by === 'Ines', 'taken');
    await until(() => texts().some((text) => text.startsWith('Ines has Slipway')), 'told');
    expect(linkIn(texts().find((text) => text.startsWith('Ines has'))!)).toBe('');
    if (HAS_PAGES) expect(await page(token)).toContain('Ines has it. You may take it over.');
    const lastBy = async () =>
      ((await product.api('GET', '/deeds')).body as { by: { kind: string; name: string } }[])[0]!.by;
    expect(await lastBy()).toMatchObject({ kind: 'link', name: 'Ines' });
    // Taken for text, as all that is asked of the API in its place is; the same name stands with the trouble and the deed.
    for (const by of [7, true]) {
      expect((await take({ token, by })).status).toBe(204);
      expect(await lastBy()).toMatchObject({ kind: 'link', name: String(by) });
      expect((await conversation()).taken?.by).toBe(String(by));
    }
  });

  it('takes nothing once that trouble is over, nor the next one', async () => {
    const token = tokenOf(linkIn(texts()[0]!));
    const server: Server = createServer((socket) => socket.end());
    await new Promise<void>((resolve) => server.listen(port, '127.0.0.1', resolve));
    await until(() => texts().some((text) => text.startsWith('Slipway is up again')), 'up');
    expect((await take({ token, by: 'Rui' })).status).toBe(410);
    await new Promise((resolve) => server.close(resolve));
    await until(
      () => texts().filter((text) => text.startsWith('Slipway is down')).length === 2,
      'down again',
    );
    expect((await take({ token, by: 'Rui' })).status).toBe(410);
    const next = tokenOf(linkIn(texts().findLast((text) => text.startsWith('Slipway is down'))!));
    expect((await take({ token: next, by: 'Rui' })).status).toBe(204);
  });
});
