import { rmSync } from 'node:fs';
import { gunzipSync } from 'node:zlib';
import { describe, expect, it } from 'vitest';
import { ask, makeCheckin, TOKEN, until } from '../helpers';
import { rawAsk as raw } from '../raw-ask';
import { startWithin, withinProcess, type Within } from '../within';

describe('the public pages of a product', () => {
  it('are drawn once, and never later than what they show', async () => {
    const product = await startWithin();
    const { id, checkinAddress } = await makeCheckin(product, { name: 'Passenger manifest' });
    const section = { title: '', items: [{ watchIds: [id], label: 'Manifest' }] };
    const { body: made } = await product.api('POST', '/pages', {
      title: 'Tern Island Ferries',
      slug: 'ferries',
      sections: [section],
    });
    const { id: pageId } = made as { id: number };
    const read = async () => (await ask(`${product.base}/p/ferries/`)).text;
    const shows = async (words: string) => (await read()).includes(words);
    const first = await read();
    expect(await shows('Not looked at yet.')).toBe(true);
    expect((await read()) === first).toBe(true);

    expect((await ask(checkinAddress, { method: 'POST' })).status).toBe(200);
    await until(async () => !(await shows('Not looked at yet.')), 'the check-in shows');

    await product.api('POST', `/pages/${pageId}/incidents`, {
      title: 'Booking is slow',
      stage: 'looking',
      body: 'We look into it.',
    });
    expect(await shows('Booking is slow')).toBe(true);

    const hour = 3_600_000;
    const { body: window } = await product.api('POST', '/windows', {
      title: 'New pier',
      watchIds: [id],
      from: new Date(Date.now() + hour).toISOString(),
      until: new Date(Date.now() + 2 * hour).toISOString(),
    });
    expect(await shows('New pier')).toBe(true);
    await product.api('DELETE', `/windows/${(window as { id: number }).id}`);
    expect(await shows('New pier')).toBe(false);

    await product.api('PATCH', `/pages/${pageId}`, { title: 'The ferries' });
    expect(await shows('The ferries')).toBe(true);
    await product.api('DELETE', `/pages/${pageId}`);
    expect((await ask(`${product.base}/p/ferries/`)).status).toBe(404);
    await product.stop();
    rmSync(product.folder, { recursive: true, force: true });
  });
});

describe('who may see a page', () => {
  let product: Within;
  let watchId = 0;
  withinProcess((started) => (product = started));

  async function make(slug: string, rest: object): Promise<{ id: number; address: string }> {
    watchId ||= (await makeCheckin(product, { name: 'Inner name of the manifest' })).id;
    const sections = [{ title: '', items: [{ watchIds: [watchId], label: 'Manifest' }] }];
    const { status, body } = await product.api('POST', '/pages', {
      title: `Page ${slug}`,
      slug,
      sections,
      ...rest,
    });
    expect(status).toBe(201);
    return body;
  }
  const BELOW = [
    '',
    'diary',
    'day/2026-11-25',
    'feed.atom',
    'feed.json',
    'maintenance.ics',
    'state.json',
    'live',
  ];

  it('is everybody, where it says so', async () => {
    const { address } = await make('open', {});
    expect(address).toBe(`${product.base}/p/open/`);
    const page = await raw(address);
    expect(page.status).toBe(200);
    expect(page.body.toString()).toContain('Manifest');
    expect(page.body.toString()).not.toContain('Inner name');
    expect(page.headers['cache-control']).toMatch(/^public/);
    expect(page.headers['content-security-policy']).not.toContain('unsafe');
  });

  it('is who has the secret link, until that is renewed', async () => {
    const { id, address } = await make('linked', { audience: 'link' });
    expect(address).toMatch(/\/p\/linked\.[\w-]{32}\/$/);
    expect((await raw(address)).status).toBe(200);
    expect((await raw(`${address}state.json`)).headers['cache-control']).toBe('private, no-cache');
    for (const below of BELOW) {
      const shut = await raw(`${product.base}/p/linked/${below}`);
      expect([shut.status, shut.body.toString()], below).toEqual([404, 'There is no such page.\n']);
      const guessed = await raw(`${product.base}/p/linked.${'a'.repeat(32)}/${below}`);
      expect(guessed.status, below).toBe(404);
    }
    const { body } = await product.api('POST', `/pages/${id}/new-link`);
    expect((await raw(address)).status).toBe(404);
    expect((await raw((body as { address: string }).address)).status).toBe(200);
  });

  it('is found where it was before, until another page takes that name', async () => {
    const { id, address } = await make('ferries-of-old', {});
    const led = async (path: string) => {
      const { status, headers } = await raw(product.base + path);
      const { location } = headers as { location?: string };
      return [status, location && new URL(location, product.base + path).pathname];
    };
    const change = (body: object) => product.api('PATCH', `/pages/${id}`, body);
    for (const slug of ['ferries-between', 'ferries-now']) expect((await change({ slug })).status).toBe(200);
    for (const old of ['/p/ferries-of-old', '/p/ferries-between']) {
      expect(await led(old)).toEqual([308, '/p/ferries-now/']);
      expect(await led(`${old}/`)).toEqual([308, '/p/ferries-now/']);
      expect(await led(`${old}/day/2026-11-25?lang=de`)).toEqual([308, '/p/ferries-now/day/2026-11-25']);
    }
    // What a mail program sends to an old link is not led about.
    const sent = await fetch(`${address}follow/none`, { method: 'POST', redirect: 'manual' });
    expect([302, 303, 307, 308]).not.toContain(sent.status);
    // With a secret link, the name without it leads nowhere.
    const { secret } = ((await change({ audience: 'link' })).body as { address: string }).address.match(
      /\.(?<secret>[\w-]+)\/$/,
    )!.groups as { secret: string };
    expect(await led('/p/ferries-of-old/')).toEqual([404, undefined]);
    expect(await led(`/p/ferries-of-old.${secret}/`)).toEqual([308, `/p/ferries-now.${secret}/`]);
    expect(await led(`/p/ferries-of-old.${'x'.repeat(secret.length)}/`)).toEqual([404, undefined]);
    await change({ audience: 'everyone' });
    await make('ferries-of-old', {});
    expect(await led('/p/ferries-of-old/')).toEqual([200, undefined]);
    await change({ slug: 'ferries-between' });
    expect(await led('/p/ferries-between/')).toEqual([200, undefined]);
    expect(await led('/p/ferries-now/')).toEqual([308, '/p/ferries-between/']);
    expect((await product.api('DELETE', `/pages/${id}`)).status).toBe(204);
    expect(await led('/p/ferries-now/')).toEqual([404, undefined]);
  });

  it('is who knows the password, on every sheet and file of it', async () => {
    const { id, address } = await make('locked', { audience: 'password', password: 'gulls at dawn' });
    for (const below of BELOW) {
      const shut = await raw(address + below);
      expect(shut.status, below).toBe(403);
      expect(shut.body.toString(), below).not.toContain('Manifest');
    }
    const post = (password: string, headers = {}) =>
      raw(`${address}password`, headers, 'POST', new URLSearchParams({ password }).toString());
    const wrong = await post('gulls at noon');
    expect([wrong.status, wrong.headers['set-cookie']]).toEqual([403, undefined]);
    expect(wrong.body.toString()).toContain('That is not the password');
    const right = await post('gulls at dawn');
    expect([right.status, right.headers.location]).toEqual([303, './']);
    const [cookie = ''] = right.headers['set-cookie'] as string[];
    expect(cookie).toMatch(/; Path=\/p\/locked\/; Max-Age=2592000; HttpOnly; SameSite=Lax$/);
    const opened = cookie.split(';', 1)[0]!;
    for (const below of ['', 'diary', 'state.json']) {
      expect((await raw(address + below, { cookie: opened })).status, below).toBe(200);
    }
    // Neither another page's cookie, nor one that was written by hand, nor one that was changed.
    const [name, value = ''] = opened.split('=');
    const [until_, mark] = value.split('.');
    for (const forged of [
      `${name}=${Number(until_) + 1}.${mark}`,
      `${name}=9999999999999.x`,
      `${name}=`,
      'x=1',
    ]) {
      expect((await raw(address, { cookie: forged })).status, forged).toBe(403);
    }
    await product.api('PATCH', `/pages/${id}`, { password: 'gulls at dusk' });
    expect((await raw(address, { cookie: opened })).status).toBe(403);
  });

  it('is not whoever tries a thousand passwords', async () => {
    const { address } = await make('guessed', { audience: 'password', password: 'the right one' });
    const guess = (i: number) => raw(`${address}password`, {}, 'POST', `password=guess+number+${i}`);
    const statuses: number[] = [];
    for (let i = 0; i < 4; i += 1) statuses.push((await guess(i)).status);
    expect(statuses.slice(0, 3)).toEqual([403, 403, 403]);
    // One may come when the wait is just over, and begins the next, longer one: of many at once the rest has to wait.
    const [late, ...others] = (
      await Promise.all([
        ...[4, 5, 6, 7].map(guess),
        raw(`${address}password`, {}, 'POST', 'password=the+right+one'),
      ])
    ).toReversed();
    expect([late!.status, Number(late!.headers['retry-after']) > 0]).toEqual([429, true]);
    const waiting = others.filter(({ status }) => status === 429);
    expect(waiting.length).toBeGreaterThanOrEqual(3);
    expect(others.every(({ status }) => status === 429 || status === 403)).toBe(true);
    const long = await raw(`${address}password`, {}, 'POST', `password=${'x'.repeat(100_000)}`);
    expect(long.status).toBe(413);
  });

  it('is who is signed in', async () => {
    const { address } = await make('inside', { audience: 'signed-in' });
    const shut = await raw(address);
    expect([shut.status, shut.body.toString().includes('Manifest')]).toEqual([403, false]);
    const known = await raw(address, { authorization: `Bearer ${TOKEN}` });
    expect(known.status).toBe(200);
    expect(known.headers['cache-control']).toBe('private, no-cache');
  });

  it('is a question of rights for figures, whoever the page is for', async () => {
    const { address } = await make('counted', {});
    expect((await raw(`${address}metrics`)).status).toBe(401);
    expect((await raw(`${address}metrics`, { authorization: 'Bearer nobody' })).status).toBe(401);
    expect((await raw(`${address}metrics`, { authorization: `Bearer ${TOKEN}` })).status).toBe(200);
  });

  it('asks for a password that opens it, and keeps the one that stands', async () => {
    const page = { title: 'T', slug: 'no-password', audience: 'password' };
    const refused = await product.api('POST', '/pages', page);
    expect([refused.status, (refused.body as { errors: object[] }).errors]).toEqual([
      422,
      [{ field: 'password', message: 'Expected a password that opens the page, got nothing.' }],
    ]);
    const short = await product.api('POST', '/pages', { ...page, password: 'short' });
    expect(short.status).toBe(422);
    const { id } = await make('kept', { audience: 'password', password: 'gulls at dawn' });
    const { body } = await product.api('PATCH', `/pages/${id}`, { title: 'Renamed' });
    expect(body).toMatchObject({ hasPassword: true, audience: 'password' });
    expect(JSON.stringify(body)).not.toMatch(/scrypt|gulls/);
  });
});

describe('what is asked of a page', () => {
  let product: Within;
  let address = '';
  withinProcess((started) => (product = started));

  const ready = async () => {
    if (address) return address;
    const { id } = await makeCheckin(product);
    const sections = [{ title: 'On the water', items: [{ watchIds: [id], label: 'Manifest' }] }];
    const { body } = await product.api('POST', '/pages', {
      title: 'Tern Island Ferries',
      slug: 'ferries',
      sections,
    });
    return (address = (body as { address: string }).address);
  };

  it('begins with a slash, to which anybody without is led', async () => {
    await ready();
    const led = await raw(`${product.base}/p/ferries?lang=de`);
    expect([led.status, led.headers.location]).toEqual([308, 'ferries/?lang=de']);
  });

  it('leads from today and yesterday to their days', async () => {
    await ready();
    const near = await raw(`${address}day/today?lang=de`);
    expect([near.status, near.headers.location]).toEqual([
      307,
      `${new Date().toISOString().slice(0, 10)}?lang=de`,
    ]);
    expect((await raw(`${address}day/${near.headers.location as string}`)).status).toBe(200);
    expect((await raw(`${address}day/yesterday`)).status).toBe(307);
  });

  it('is sent once, and told to be the same after that', async () => {
    const first = await raw(await ready());
    const { etag = '' } = first.headers as { etag?: string };
    expect(etag).toMatch(/^"[\w-]{22}"$/);
    const again = await raw(address, { 'if-none-match': etag });
    expect([again.status, again.body.length, again.headers.etag]).toEqual([304, 0, etag]);
    const packed = await raw(address, { 'accept-encoding': 'gzip' });
    expect(packed.headers['content-encoding']).toBe('gzip');
    expect(packed.headers.etag).not.toBe(etag);
    expect(gunzipSync(packed.body).equals(first.body)).toBe(true);
    const head = await raw(address, {}, 'HEAD');
    expect([head.status, head.body.length, head.headers['content-length']]).toEqual([
      200,
      0,
      String(first.body.length),
    ]);
  });

  it('is spoken in the language of the visitor, or the one that was chosen', async () => {
    await ready();
    const lang = async (path: string, accept?: string) => {
      const { body, headers } = await raw(address + path, accept ? { 'accept-language': accept } : {});
      expect(headers.vary).toContain('accept-language');
      return /<html lang="([\w-]+)"/.exec(body.toString())?.[1];
    };
    expect(await lang('')).toBe('en-GB');
    expect(await lang('', 'de-AT, en;q=0.5')).toBe('de');
    expect(await lang('?lang=pt', 'de')).toBe('pt');
    expect(await lang('diary?lang=fr')).toBe('fr');
  });

  it('is answered alike whatever else is sent along', async () => {
    const { body, headers } = await raw(await ready());
    const strange = {
      'x-middleware-prefetch': '1',
      rsc: '1',
      'x-forwarded-host': 'evil.example',
      'content-security-policy': "script-src 'nonce-mine'",
      cookie: 'lantern_theme=dark',
    };
    const spoiled = await raw(`${address}?_rsc=1&days=99`, strange);
    expect(spoiled.body.equals(body)).toBe(true);
    expect(spoiled.headers['content-security-policy']).toBe(headers['content-security-policy']);
    expect(spoiled.body.toString()).not.toContain('evil.example');
  });

  it.each([
    ['POST', '', 405],
    ['DELETE', 'diary', 405],
    ['HEAD', 'live', 200],
    ['GET', 'password', 405],
    ['POST', 'password', 404],
    ['GET', 'nothing', 404],
    ['GET', 'assets/nothing.js', 404],
    ['GET', 'assets/..%2f..%2fpackage.json', 404],
    ['GET', 'incident/1', 404],
    ['GET', 'day/2020-01-01', 404],
    ['GET', 'diary/2026-99', 404],
    ['GET', 'diary?words=%00%25', 200],
  ])('%s %s is %i', async (method, path, status) => {
    const answer = await raw(
      (await ready()) + path,
      {},
      method,
      method === 'POST' ? 'password=x' : undefined,
    );
    expect(answer.status).toBe(status);
    if (method === 'GET' && status === 404 && !path.startsWith('assets'))
      expect(answer.body.toString()).toContain('There is no such page.');
  });

  it('is slowed where somebody asks for more than anybody reads', async () => {
    await ready();
    const statuses: number[] = [];
    for (let i = 0; i < 45; i += 1) statuses.push((await raw(`${address}diary?words=gull${i}`)).status);
    expect(statuses.slice(0, 10)).toEqual(Array(10).fill(200));
    expect(statuses.slice(-5)).toEqual(Array(5).fill(429));
    // What is there for everybody is not.
    expect((await raw(`${address}diary`)).status).toBe(200);
    expect((await raw(address)).status).toBe(200);
  });

  it('brings its style, script and letters from beside it, kept for good', async () => {
    const html = (await raw(await ready())).body.toString();
    const files = [...html.matchAll(/(?:href|src)="(assets\/[^"]+)"/g)].map(([, file]) => file!);
    expect(files.length).toBeGreaterThanOrEqual(4);
    const css = await raw(address + files.find((file) => file.endsWith('.css'))!);
    const letters = [...css.body.toString().matchAll(/url\("?\.?\/?([\w.-]+\.woff2)/g)].map(
      ([, file]) => `assets/${file}`,
    );
    expect(letters.length).toBeGreaterThanOrEqual(4);
    for (const file of [...files, ...letters]) {
      const got = await raw(address + file);
      expect([got.status, got.headers['cache-control']], file).toEqual([
        200,
        'public, max-age=31536000, immutable',
      ]);
    }
    expect(html).not.toMatch(/style=|<style|onclick|https?:\/\//);
  });

  it('has a name of its own where it has one, and nothing else has that', async () => {
    await ready();
    const host = 'status.ternferry.test';
    const { body } = await product.api('PATCH', '/pages/1', { host });
    expect((body as { address: string }).address).toBe(`http://${host}/`);
    const at = (path: string, headers = {}) => raw(product.base + path, { host, ...headers });
    expect((await at('/')).body.toString()).toContain('Manifest');
    expect((await at('/diary')).status).toBe(200);
    const feed = (await at('/feed.json')).body.toString();
    expect(JSON.parse(feed)).toMatchObject({ home_page_url: `http://${host}/` });
    for (const path of ['/watches', '/sign-in', '/api/v1/watches', '/_next/static/x.js', '/p/ferries/']) {
      const inner = await at(path, { authorization: `Bearer ${TOKEN}` });
      expect([inner.status, inner.body.toString().includes('There is no such page.')], path).toEqual([
        404,
        true,
      ]);
    }
    expect((await raw(`${product.base}/`, { host: 'nobody.example' })).status).toBe(307);
    // A page that went by a name of the desk would shut everybody out of it.
    for (const desk of ['127.0.0.1', '10.0.0.7']) {
      const shut = await product.api('PATCH', '/pages/1', { host: desk });
      expect([shut.status, JSON.stringify(shut.body).includes('a name the desk does not go by')]).toEqual([
        422,
        true,
      ]);
    }
    const other = await product.api('POST', '/pages', { title: 'Other', slug: 'other', host });
    expect([other.status, JSON.stringify(other.body).includes('belongs to “Tern Island Ferries”')]).toEqual([
      422,
      true,
    ]);
    await product.api('PATCH', '/pages/1', { host: null });
  });

  it('looks as the person chose, by rules that can do no harm', async () => {
    await ready();
    const look = {
      accent: '#ffe066',
      letters: 'book',
      density: 'dense',
      theme: 'dark',
      css: '.lead { color: #f00 }',
    };
    const { status } = await product.api('PATCH', '/pages/1', look);
    expect(status).toBe(200);
    const html = (await raw(address)).body.toString();
    expect(html).toMatch(/<html [^>]*class="letters-book dense wide" data-theme="dark"/);
    const file = /href="(look-[0-9a-f]{12}\.css)"/.exec(html)![1]!;
    const css = (await raw(address + file)).body.toString();
    expect(css).toContain('.lead{color:#f00}');
    expect(css).toContain('--accent:');
    const bad = await product.api('PATCH', '/pages/1', { css: '.lead { position: fixed }' });
    expect([bad.status, JSON.stringify(bad.body)]).toEqual([
      422,
      expect.stringContaining('Line 1: “position” is not for a page to set.'),
    ]);
  });

  it('is led by the person’s own words for as long as they stand', async () => {
    await ready();
    const lead = (words: string, until_: number) =>
      product.api('PATCH', '/pages/1', { lead: { words, until: new Date(until_).toISOString() } });
    await lead('We are moving house.', Date.now() + 3_600_000);
    expect((await raw(address)).body.toString()).toContain('>We are moving house.</h1>');
    await lead('We were moving house.', Date.now() - 1000);
    expect((await raw(address)).body.toString()).not.toContain('moving house');
  });
});

describe('what others show of a page', () => {
  let product: Within;
  withinProcess((started) => (product = started));
  const KINDS = [
    'badge/page.svg',
    'badge/1.svg',
    'badge/1-1.svg?shows=uptime',
    'badge/1-1.svg?shows=line',
    'badge/1-1.png?shows=uptime&light=dark',
    'social.png',
    'embed',
    'bar.js',
  ];

  async function make(slug: string, rest: object = {}): Promise<string> {
    const { id } = await makeCheckin(product, { name: `Inner ${slug}` });
    const items = [
      { watchIds: [id], label: 'Manifest' },
      { watchIds: [id], label: 'Shy', shows: 'state' },
    ];
    const sections = [{ title: 'On the water', items }];
    const { body } = await product.api('POST', '/pages', { title: 'Ferries', slug, sections, ...rest });
    return (body as { address: string }).address;
  }

  it('is what stands on it, for everyone', async () => {
    const address = await make('shared');
    for (const kind of KINDS) {
      const { status, headers, body } = await raw(address + kind, { 'accept-language': 'de' });
      expect([status, headers['cross-origin-resource-policy']], kind).toEqual([200, 'cross-origin']);
      expect(body.toString(), kind).not.toContain('Inner');
    }
    const badge = await raw(`${address}badge/1-1.svg`, { 'accept-language': 'de' });
    expect(badge.headers['content-type']).toBe('image/svg+xml');
    expect(badge.body.toString()).toContain('<title>Manifest: not known</title>');
    expect((await raw(`${address}badge/1-1.svg?lang=de`)).body.toString()).toContain(
      'Manifest: nicht bekannt',
    );
    const frame = await raw(`${address}embed`);
    expect(frame.headers['x-frame-options']).toBeUndefined();
    expect(frame.headers['content-security-policy']).toContain('frame-ancestors *');
    expect(frame.body.toString()).not.toContain('<script');
    const bar = await raw(`${address}bar.js`);
    expect(bar.body.length).toBeLessThan(3000);
    expect((await raw(`${address}state.json`)).headers['access-control-allow-origin']).toBe('*');
    expect((await raw(address)).headers['x-frame-options']).toBe('DENY');
  });

  it('is nothing that is not on it', async () => {
    const address = await make('less');
    for (const none of [
      'badge/1-3.svg',
      'badge/2.svg',
      'badge/1-2.svg?shows=uptime',
      'badge/1-2.svg?shows=line',
      'badge/1-1.svg?shows=time',
    ]) {
      expect((await raw(address + none)).status, none).toBe(404);
    }
    expect((await raw(`${address}badge/1-2.svg`)).status).toBe(200);
  });

  it('is nothing of a page that is not for whoever asks', async () => {
    const locked = await make('locked', { audience: 'password', password: 'gulls at dawn' });
    const linked = await make('linked', { audience: 'link' });
    for (const kind of KINDS) {
      const shut = await raw(locked + kind);
      expect([shut.status, shut.headers['cross-origin-resource-policy']], kind).toEqual([403, undefined]);
      expect((await raw(`${product.base}/p/linked/${kind}`)).status, kind).toBe(404);
      expect((await raw(linked + kind)).status, kind).toBe(200);
    }
  });
});
