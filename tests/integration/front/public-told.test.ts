import { describe, expect, it } from 'vitest';
import { ask, makeCheckin, TOKEN } from '../helpers';
import { rawAsk as raw } from '../raw-ask';
import { withinProcess, type Within } from '../within';

describe('a page that is being typed', () => {
  let product: Within;
  withinProcess((started) => (product = started), {
    LANTERN_ADMIN_EMAIL: 'ines@ternferry.test',
    LANTERN_ADMIN_PASSWORD: 'the boats sail at dawn',
  });

  const signIn = async () => {
    const body = JSON.stringify({ email: 'ines@ternferry.test', password: 'the boats sail at dawn' });
    const headers = { 'content-type': 'application/json', origin: product.base };
    const { headers: got } = await raw(`${product.base}/api/session`, headers, 'POST', body);
    return (got['set-cookie'] as string[])[0]!.split(';', 1)[0]!;
  };

  it('is shown to whoever types it, and to nobody else; nothing of it is published', async () => {
    const { id } = await makeCheckin(product);
    const cookie = await signIn();
    const headers = { cookie, 'content-type': 'application/json', origin: product.base };
    const page = {
      title: 'Not yet',
      slug: 'not-yet',
      audience: 'password',
      sections: [{ items: [{ watchIds: [id], label: 'Manifest' }] }],
    };
    const incident = {
      title: 'Fog on the quay',
      body: 'We **look**.',
      affected: [{ watchId: id, how: 'slow' }],
    };
    const sent = JSON.stringify({ page, incident });
    const made = await raw(`${product.base}/api/v1/page-previews`, headers, 'POST', sent);
    expect(made.status).toBe(200);
    const { path } = JSON.parse(made.body.toString()) as { path: string };
    const shown = await raw(product.base + path, { cookie });
    const html = shown.body.toString();
    expect(html).toContain('Fog on the quay');
    expect(html).toContain('Manifest (slow)');
    expect(html).not.toContain('<script');
    expect(shown.headers['x-frame-options']).toBe('SAMEORIGIN');
    expect(shown.headers['content-security-policy']).toContain("frame-ancestors 'self'");
    expect((await raw(`${product.base}${path}?light=dark`, { cookie })).body.toString()).toContain(
      'data-theme="dark"',
    );
    const strangers: Record<string, string>[] = [
      {},
      { authorization: `Bearer ${TOKEN}` },
      { cookie: `${cookie}x` },
    ];
    for (const others of strangers) {
      expect((await raw(product.base + path, others)).status).toBe(404);
    }
    expect((await ask(`${product.base}/p/not-yet/`)).status).toBe(404);
    expect((await product.api('GET', '/incidents')).body).toEqual([]);
    const wrong = JSON.stringify({ page: { title: '', slug: 'x' } });
    expect((await raw(`${product.base}/api/v1/page-previews`, headers, 'POST', wrong)).status).toBe(422);
  });
});

describe('what is told the public', () => {
  let product: Within;
  withinProcess((started) => (product = started));

  it('is taken with whatever is named twice, and dated as things were', async () => {
    const { id: watchId } = await makeCheckin(product);
    const { body: page } = await product.api('POST', '/pages', { title: 'Ferries', slug: 'ferries' });
    const pageId = (page as { id: number }).id;
    const sent = {
      title: 'Fog',
      body: 'We look.',
      pageIds: [pageId, pageId],
      affected: [
        { watchId, how: 'out' },
        { watchId, how: 'slow' },
      ],
      beganAt: '2026-01-01T00:00:00Z',
    };
    const { status, body } = await product.api('POST', '/incidents', sent);
    expect([status, body]).toMatchObject([
      201,
      {
        pageIds: [pageId],
        affected: [{ watchId, how: 'slow' }],
        beganAt: '2026-01-01T00:00:00.000Z',
        endedAt: null,
      },
    ]);
    const ahead = new Date(Date.now() + 3_600_000).toISOString();
    const refused = async (change: object) => {
      const answer = await product.api('POST', '/incidents', { ...sent, ...change });
      const [first] = (answer.body as { errors: { field: string }[] }).errors;
      return [answer.status, first!.field];
    };
    expect(await refused({ beganAt: ahead })).toEqual([422, 'beganAt']);
    expect(await refused({ stage: 'over', endedAt: ahead })).toEqual([422, 'endedAt']);
    expect(await refused({ endedAt: '2025-12-31T00:00:00Z', stage: 'over' })).toEqual([422, 'endedAt']);
    expect(await refused({ pageIds: [999] })).toEqual([422, 'pageIds']);
    expect(await refused({ affected: [{ watchId: 999 }] })).toEqual([422, 'affected']);
    expect(await refused({ outageId: 999 })).toEqual([422, 'outageId']);
    const notice = await product.api('POST', '/incidents', { ...sent, kind: 'notice', beganAt: ahead });
    expect(notice.status).toBe(201);
  });

  it('is corrected with a mark, closed since when it ended, and changed by who has read it', async () => {
    const read = async () => (await product.api('GET', '/incidents/1')).body as Record<string, never>;
    const { updates, version } = (await read()) as unknown as { updates: { id: number }[]; version: string };
    const path = `/incidents/1/updates/${updates[0]!.id}`;
    const corrected = await product.api('PATCH', path, { body: 'We look closely.' });
    expect(corrected.body).toMatchObject({
      updates: [{ body: 'We look closely.', correctedAt: expect.any(String) as string }],
    });
    expect((await product.api('GET', '/incidents/1/earlier-texts')).body).toMatchObject([
      { body: 'We look.' },
    ]);
    const late = await product.api('PATCH', path, { body: 'Mine.' }, { 'if-match': `"${version}"` });
    expect(late.status).toBe(412);
    expect((await product.api('PATCH', '/incidents/1/updates/999', { body: 'x' })).status).toBe(404);
    const open = await product.api('PATCH', '/incidents/1', { endedAt: '2026-01-01T02:00:00Z' });
    expect(open.status).toBe(422);
    const over = { stage: 'over', body: 'Gone.', endedAt: '2026-01-01T01:00:00Z' };
    expect((await product.api('POST', '/incidents/1/updates', over)).body).toMatchObject({
      endedAt: '2026-01-01T01:00:00.000Z',
    });
    expect((await product.api('PATCH', '/incidents/1', { account: 'It **lifted**.' })).body).toMatchObject({
      account: 'It **lifted**.',
      accountAt: expect.any(String) as string,
    });
    const draft = (await product.api('GET', '/incidents/1/account-draft')).body as { account: string };
    expect(draft.account).toContain(
      'It began at Thu 1 Jan, 00:00:00 (UTC). It was over at Thu 1 Jan, 01:00:00.',
    );
  });
});
