import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, readFileSync, rmSync, statfsSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { PracticePhone } from '@/standins/rooms/phone';
import { ask, makeCheckin, startProduct, tempFolder, TOKEN, until, type Product } from '../helpers';

const mountable = process.getuid?.() === 0 && spawnSync('mount', ['--version']).status === 0;
if (!mountable) process.stderr.write('A small disk cannot be mounted here: its test is left out\n');

describe.runIf(mountable)('public pages on a disk that is full', () => {
  const place = tempFolder();
  const copies = join(place, 'copies');
  let product: Product;

  beforeAll(async () => {
    execFileSync('mount', ['-t', 'tmpfs', '-o', 'size=24m', 'tmpfs', place]);
    execFileSync('mkdir', [copies]);
    product = await startProduct({ folder: join(place, 'data'), env: { LANTERN_COPIES: copies } });
  });
  afterAll(async () => {
    await product.stop();
    execFileSync('umount', ['-l', place]);
    rmSync(place, { recursive: true, force: true });
  });

  const upload = async (seed: number) => {
    const noise = { type: 'gaussian' as const, mean: 100 + seed, sigma: 60 };
    const picture = await sharp({
      create: { width: 1800, height: 500, channels: 3, background: '#000', noise },
    })
      .png()
      .toBuffer();
    const response = await fetch(`${product.base}/api/v1/pictures?use=cover`, {
      method: 'POST',
      headers: { 'content-type': 'image/png', authorization: `Bearer ${TOKEN}` },
      body: new Uint8Array(picture),
    });
    return { status: response.status, body: (await response.json()) as { code?: string } };
  };

  it('are shown all the same, say what cannot be kept, and go on once there is room', async () => {
    const { id } = await makeCheckin(product, { name: 'Winch' });
    const sections = [{ title: '', items: [{ watchIds: [id], label: 'The winch' }] }];
    const page = { title: 'Ferries', slug: 'ferries', copied: true, pushes: true, sections };
    expect((await product.api('POST', '/pages', page)).status).toBe(201);
    const copy = join(copies, 'ferries', 'index.html');
    await until(
      () => existsSync(copy) && existsSync(join(place, 'data', 'reserve')),
      'a copy and a reserve',
      30_000,
    );

    const { bavail, bsize } = statfsSync(place);
    try {
      writeFileSync(join(place, 'ballast'), Buffer.alloc(Math.max(0, (bavail - 8) * bsize)));
    } catch (error) {
      // The product took some of it meanwhile: it is as full as it can be.
      if ((error as NodeJS.ErrnoException).code !== 'ENOSPC') throw error;
    }
    const refused = await until(async () => {
      const { status, body } = await upload(Math.floor(Math.random() * 100));
      return status === 200 ? null : { status, code: body.code };
    }, 'a picture has no room');
    expect(refused).toEqual({ status: 503, code: 'keep.full' });
    // What needs no room is there: sheets that were never drawn, and pictures made anew.
    for (const [path, status] of [
      ['', 200],
      ['?days=7', 200],
      ['social.png', 200],
      ['badge/page.png', 200],
      ['diary', 200],
      ['feed.atom', 200],
    ] as const) {
      expect((await ask(`${product.base}/p/ferries/${path}`)).status, path).toBe(status);
    }
    const { p256dh, auth } = new PracticePhone().subscription('');
    const subscribe = () =>
      fetch(`${product.base}/p/ferries/follow/push`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ endpoint: `https://push.ternferry.example/${'x'.repeat(900)}`, p256dh, auth }),
      });
    expect([503, 204]).toContain((await subscribe()).status);
    // A copy is whole, as it was or as it is now, and never half.
    expect(readFileSync(copy, 'utf8')).toMatch(/<\/html>\s*$/);

    rmSync(join(place, 'ballast'));
    await until(async () => (await upload(7)).status === 200, 'there is room again', 30_000);
    await until(async () => (await subscribe()).status === 204, 'a browser is kept', 30_000);
    expect((await product.api('PATCH', '/pages/1', { title: 'The ferries' })).status).toBe(200);
    expect(await product.stop()).toBe(0);
    product = await startProduct({ folder: join(place, 'data'), env: { LANTERN_COPIES: copies } });
    expect((await ask(`${product.base}/p/ferries/`)).status).toBe(200);
  });
});
