import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { MOST_PICTURE_BYTES } from '@/core/pages/picture';
import { DAY_MS } from '@/core/time/units';
import { deleteUnusedPictures } from '@/store/pages/pictures';
import { openStore } from '@/store/db/open';
import { makeCheckin, TOKEN } from '../helpers';
import { rawAsk as raw } from '../raw-ask';
import { withinProcess, type Within } from '../within';

const SVG =
  '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 4 1"><rect width="4" height="1" fill="#1c5d7d"/></svg>';

describe('pictures of a page', () => {
  let product: Within;
  withinProcess((started) => (product = started));

  async function send(bytes: Buffer | string, { use = 'logo', type = 'image/png', token = TOKEN } = {}) {
    const response = await fetch(`${product.base}/api/v1/pictures?use=${use}`, {
      method: 'POST',
      headers: { 'content-type': type, ...(token && { authorization: `Bearer ${token}` }) },
      body: typeof bytes === 'string' ? bytes : new Uint8Array(bytes),
    });
    const body = (await response.json()) as { name: string; use: string; code?: string; detail?: string };
    return { status: response.status, body };
  }
  const png = (rgb: string, wide = 400) =>
    sharp({ create: { width: wide, height: 100, channels: 3, background: rgb } })
      .png()
      .toBuffer();
  const make = async (slug: string, rest: object) => {
    const { status, body } = await product.api('POST', '/pages', { title: `Page ${slug}`, slug, ...rest });
    return { status, body: body as { id: number; address: string; errors?: { field: string }[] } };
  };

  it('are taken in once, by their content, and shown by whoever may see the page', async () => {
    const logo = await send(await png('#1c5d7d'));
    expect(logo).toMatchObject({ status: 200, body: { use: 'logo' } });
    // What it says of itself counts for nothing.
    expect((await send(await png('#1c5d7d'), { type: 'image/gif' })).body).toEqual(logo.body);
    const night = (await send(SVG, { type: 'image/svg+xml' })).body.name;
    const favicon = (await send(await png('#e5b55e'), { use: 'favicon' })).body.name;
    const cover = (await send(await png('#23405c', 1600), { use: 'cover' })).body.name;
    const pictures = { logo: logo.body.name, logoDark: night, favicon, cover };
    const made = await make('shown', pictures);
    expect(made.body).toMatchObject(pictures);
    const { address } = made.body;
    const html = (await raw(address)).body.toString();
    for (const name of Object.values(pictures)) {
      expect(html).toContain(`picture/${name}`);
      const { status, headers, body } = await raw(`${address}picture/${name}`);
      expect([status, headers['cache-control']]).toEqual([200, 'public, max-age=31536000, immutable']);
      expect(`image/${(await sharp(body).metadata()).format}`).toBe(headers['content-type']);
      expect(headers['x-content-type-options']).toBe('nosniff');
      expect((await raw(`${address}picture/${name}`, {}, 'HEAD')).body).toHaveLength(0);
    }
    expect(html).toMatch(/<img class="by-night"[^>]*alt=""/);
    // The title is said by the logo where it does not stand beside it.
    await product.api('PATCH', `/pages/${made.body.id}`, { titleShown: false, logoDark: null });
    const bare = (await raw(address)).body.toString();
    expect(bare).toMatch(/<p class="brand"><a[^>]*><img[^>]*alt="Page shown"[^>]*\/><\/a>/);
    // What was taken off a page is not found by it any more; what never was on it neither.
    expect((await raw(`${address}picture/${night}`)).status).toBe(404);
    const other = await make('other', {});
    expect((await raw(`${other.body.address}picture/${cover}`)).status).toBe(404);
  });

  it('are nothing to whoever may not see the page', async () => {
    const { name } = (await send(await png('#8d4281'))).body;
    const locked = await make('locked', { audience: 'password', password: 'gulls at dawn', logo: name });
    const { address } = locked.body;
    expect((await raw(`${address}picture/${name}`)).status).toBe(403);
    expect((await raw(`${address}social.png`)).status).toBe(403);
    const door = await raw(address);
    expect([door.status, door.body.toString().includes(name)]).toEqual([403, false]);
    // At the desk, whoever writes sees what they chose; nobody else does.
    expect((await raw(`${product.base}/picture/${name}`)).status).toBe(404);
    const at = { authorization: `Bearer ${TOKEN}` };
    expect((await raw(`${product.base}/picture/${name}`, at)).status).toBe(200);
    expect((await raw(`${product.base}/picture/${name}`, at, 'POST')).status).toBe(404);
  });

  it('are refused with what was expected', async () => {
    const refusals = [
      [await send('<script>alert(1)</script>'), 422, 'this is none'],
      [await send(SVG.replace('<rect', '<script/><rect'), { type: 'image/svg+xml' }), 422, 'a script'],
      [await send(SVG, { type: 'text/html' }), 415, 'image/png, image/jpeg'],
      [await send('', {}), 422, 'this is none'],
      [await send(SVG, { use: 'banner' }), 422, 'one of'],
      [await send(Buffer.alloc(MOST_PICTURE_BYTES + 1)), 413, 'at most 12 MB'],
      [await send(SVG, { token: '' }), 401, 'token'],
    ] as const;
    for (const [{ status, body }, expected, words] of refusals) {
      expect([status, body.detail], words).toEqual([expected, expect.stringContaining(words)]);
    }
    const { name } = (await send(await png('#2b7a78'))).body;
    const wrong = await make('wrong', { cover: name, logo: `${'x'.repeat(22)}.10x10.webp` });
    expect([wrong.status, wrong.body.errors?.map(({ field }) => field)]).toEqual([422, ['logo', 'cover']]);
    expect((await make('wrong', { logo: '../../secrets.key' })).status).toBe(422);
  });

  it('are let go of a day later where they stand on no page', async () => {
    const [kept, left] = [await send(await png('#111111')), await send(await png('#222222'))];
    await make('keeps', { logo: kept.body.name });
    const db = await openStore(product.folder, { migrate: false });
    const names = async () => (await db('pictures').pluck('name')) as string[];
    expect(await names()).toEqual(expect.arrayContaining([kept.body.name, left.body.name]));
    await deleteUnusedPictures(db, Date.now() - DAY_MS);
    expect(await names()).toContain(left.body.name);
    await db('pictures').update({ made_at: Date.now() - DAY_MS - 60_000 });
    // With the next that comes.
    const next = (await send(await png('#333333'))).body.name;
    const after = await names();
    expect([after.includes(kept.body.name), after.includes(left.body.name), after.includes(next)]).toEqual([
      true,
      false,
      true,
    ]);
    await db.destroy();
  });

  it('show how the page stands, to other sites', async () => {
    const { id } = await makeCheckin(product, { name: 'Inner winch' });
    const sections = [{ title: '', items: [{ watchIds: [id], label: 'Winch' }] }];
    const { address } = (await make('linked-to', { sections })).body;
    const { status, headers, body } = await raw(`${address}social.png`, { 'accept-language': 'de' });
    expect([status, headers['content-type'], headers['cross-origin-resource-policy']]).toEqual([
      ...[200, 'image/png', 'cross-origin'],
    ]);
    expect(await sharp(body).metadata()).toMatchObject({ width: 1200, height: 630 });
    const tag = headers.etag as string;
    expect((await raw(`${address}social.png`, { 'if-none-match': tag })).status).toBe(304);
    const said = await product.api('POST', '/incidents', {
      ...{ title: 'The winch rests', body: 'We look into it.', pageIds: [4] },
      affected: [{ watchId: id, how: 'out' }],
    });
    expect(said.status).toBe(201);
    expect((await raw(address)).body.toString()).toMatch(/<meta property="og:image" content="social.png"\/>/);
  });
});

describe('badges with a secret', () => {
  let product: Within;
  withinProcess((started) => (product = started));

  it('are of what stands on no page, and of nothing once they are taken away', async () => {
    const { id } = await makeCheckin(product, { name: 'Nightly backup' });
    const section = (await product.api('POST', '/sections', { name: 'Behind the counter' })).body as {
      id: number;
    };
    await product.api('PATCH', `/watches/${id}`, { section: 'Behind the counter', tags: ['night'] });
    const [tag] = (await product.api('GET', '/tags')).body as { id: number }[];
    const made: { id: number; address: string; name: string }[] = [];
    for (const of of [{ watchId: id }, { sectionId: section.id }, { tagId: tag!.id }]) {
      const { status, body } = await product.api('POST', '/private-badges', of);
      expect(status).toBe(201);
      made.push(body as (typeof made)[number]);
    }
    expect(made.map(({ name }) => name)).toEqual(['Nightly backup', 'Behind the counter', 'night']);
    const [first] = made;
    for (const { address, name } of made) {
      const { status, headers, body } = await raw(address);
      expect([status, headers['content-type'], headers['cross-origin-resource-policy']]).toEqual([
        ...[200, 'image/svg+xml', 'cross-origin'],
      ]);
      expect(body.toString()).toContain(`<title>${name}: not known</title>`);
      const dots = await raw(address.replace('.svg', '.png?shows=uptime&size=2&lang=de'));
      expect([(await sharp(dots.body).metadata()).height, dots.headers['x-robots-tag']]).toEqual([
        ...[56, 'noindex, nofollow'],
      ]);
    }
    expect((await raw(first!.address, {}, 'POST')).status).toBe(405);
    const tagOf = (await raw(first!.address)).headers.etag as string;
    expect((await raw(first!.address, { 'if-none-match': tagOf })).status).toBe(304);
    // Nobody without a right reads the list of them.
    expect((await fetch(`${product.base}/api/v1/private-badges`)).status).toBe(401);
    for (const guess of ['x'.repeat(22), first!.address.split('/').at(-1)!.replace('.svg', '').slice(0, -1)])
      expect((await raw(`${product.base}/badge/${guess}.svg`)).status).toBe(404);
    await product.api('DELETE', `/private-badges/${first!.id}`);
    expect((await raw(`${first!.address}?label=anew`)).status).toBe(404);
    await product.api('DELETE', `/watches/${id}`);
    expect((await raw(`${made[1]!.address}?label=anew`)).status).toBe(404);
  });

  it('are of one thing there is', async () => {
    for (const of of [{}, { watchId: 99_999 }, { watchId: 1, tagId: 1 }, { sectionId: 'x' }])
      expect((await product.api('POST', '/private-badges', of)).status, JSON.stringify(of)).toBe(422);
    expect((await product.api('GET', '/private-badges')).body).toHaveLength(2);
  });
});
