import type { ParsedMail } from 'mailparser';
import type { SMTPServer } from 'smtp-server';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { consentOf } from '@/engine/messages/consent';
import { keepKnownAddresses } from '@/cases/messages/consent';
import { openVault } from '@/store/db/vault';
import { isConfirmed, saveConfirmed } from '@/store/messages/addresses';
import { saveNewChannel, sealSettings } from '@/store/messages/channels';
import { readConfirmLink, signConfirmLink } from '@/store/messages/confirm-links';
import { EMAIL, PASSWORD, tempStore, type Product, type TempStore } from '../helpers';
import { startMailServer, type CameByMail } from '../../unit/channels/mailbox';
import { withProduct } from '../with-product';

const DAY_MS = 86_400_000;
const NOW = Date.parse('2026-11-26T08:00:00Z');

describe('a mailbox of somebody else', () => {
  let product: Product;
  let server: SMTPServer;
  let port: number;
  let came: CameByMail[];
  withProduct((started) => (product = started), {
    env: { LANTERN_ADMIN_EMAIL: EMAIL, LANTERN_ADMIN_PASSWORD: PASSWORD },
  });
  const settings = (to: string) => ({
    host: '127.0.0.1',
    port,
    security: 'none',
    from: 'lantern@ternferry.test',
    to,
  });
  const test = async (to: string) =>
    (await product.api('POST', '/channel-tests', { kind: 'mail', name: 'Mail', settings: settings(to) }))
      .body as { ok: boolean; said: string };
  const confirm = (token: string, headers: Record<string, string> = { origin: product.base }) =>
    fetch(`${product.base}/api/confirm`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', ...headers },
      body: JSON.stringify({ token }),
    });
  const tokenIn = (mail: ParsedMail) => /\/confirm\/(\S+)/.exec(mail.text ?? '')![1]!;

  beforeAll(async () => {
    came = [];
    ({ server, port } = await startMailServer(came));
  });
  afterAll(() => new Promise<void>((resolve) => server.close(() => resolve())));

  it('is asked first; saying yes by the link lets everything else through', async () => {
    expect(await test('office@ternferry.test')).toMatchObject({
      ok: false,
      said: 'Not sent yet: office@ternferry.test was asked by mail, and is sent nothing else before saying yes',
    });
    expect(await test('OFFICE@ternferry.test')).toMatchObject({ ok: false });
    expect(came).toHaveLength(1);
    const token = tokenIn(came[0]!.mail);
    // Opening it, as previews of links do, says nothing yet.
    const page = await fetch(`${product.base}/confirm/${token}`);
    expect(page.status).toBe(200);
    const html = await page.text();
    expect(html).toContain('Do you want these messages?');
    expect(html).toContain('office@ternferry.test');
    expect(html).not.toContain('Add watch');
    expect(await test('office@ternferry.test')).toMatchObject({ ok: false });
    expect((await confirm(token)).status).toBe(204);
    expect(await test('The Office <office@ternferry.test>')).toMatchObject({ ok: true });
    expect(came.at(-1)!.mail.subject).toBe('A test from Calm Lantern');
    const { body } = await product.api('GET', '/deeds?limit=5');
    expect(JSON.stringify(body)).toContain('confirmAddress');
  });

  it('opens nothing else, and nothing that was made up', async () => {
    await test('crew@ternferry.test');
    const token = tokenIn(came.at(-1)!.mail);
    const inside = await fetch(`${product.base}/api/v1/watches`, {
      headers: { authorization: `Bearer ${token}` },
    });
    expect(inside.status).toBe(401);
    expect((await confirm(token, { origin: 'https://elsewhere.test' })).status).toBe(403);
    expect((await confirm(token.replace(/.$/, (c) => (c === 'a' ? 'b' : 'a')))).status).toBe(410);
    expect((await confirm('nonsense')).status).toBe(410);
    const nothing = await (await fetch(`${product.base}/confirm/nonsense`)).text();
    expect(nothing).toContain('This link says nothing any more.');
    expect(await test('crew@ternferry.test')).toMatchObject({ ok: false });
  });

  it('need not be asked where it is that of an account', async () => {
    const before = came.length;
    expect(await test(EMAIL.toUpperCase())).toMatchObject({ ok: true });
    expect(came.slice(before).map(({ mail }) => mail.subject)).toEqual(['A test from Calm Lantern']);
  });
});

describe('the consent of mailboxes', () => {
  let store: TempStore;
  let now: number;
  beforeAll(async () => {
    store = await tempStore();
    now = NOW;
  });
  afterAll(() => store.close());
  const consent = () =>
    consentOf({
      db: store.db,
      vault: openVault(store.folder),
      now: () => now,
      linkBase: 'https://watch.test',
    });

  it('is asked for once a day, and at once where the question did not go, or the clock was set back', async () => {
    const ask = () => consent().ask('office@ternferry.test');
    expect(await ask()).toMatch(/^https:\/\/watch\.test\/confirm\/[\w.-]+$/);
    expect(await ask()).toBeNull();
    now += DAY_MS - 1;
    expect(await ask()).toBeNull();
    now += 1;
    expect(await ask()).not.toBeNull();
    await consent().forget('office@ternferry.test');
    expect(await ask()).not.toBeNull();
    now -= 400 * DAY_MS;
    expect(await ask()).not.toBeNull();
    now = NOW;
  });

  it('is not lost by asking again', async () => {
    await saveConfirmed(store.db, 'Crew@ternferry.test', NOW);
    await consent().ask('crew@ternferry.test');
    await consent().forget('crew@ternferry.test');
    expect(await consent().isGiven('CREW@ternferry.test')).toBe(true);
    expect(await consent().isGiven('other@ternferry.test')).toBe(false);
  });

  it('is held by a link for two weeks, for one address, by one key', () => {
    const key = Buffer.alloc(32, 1);
    const token = signConfirmLink('office@ternferry.test', NOW + 1, key);
    expect(token).toMatch(/^[\w.-]+$/);
    expect(readConfirmLink(token, key, NOW)).toBe('office@ternferry.test');
    expect(readConfirmLink(token, key, NOW + 1)).toBeNull();
    expect(readConfirmLink(token, Buffer.alloc(32, 2), NOW)).toBeNull();
    for (let at = 0; at < token.length; at += 1) {
      const other = token[at] === 'a' ? 'b' : 'a';
      const changed = `${token.slice(0, at)}${other}${token.slice(at + 1)}`;
      expect(readConfirmLink(changed, key, NOW), `character ${at}`).toBeNull();
    }
    const [, until, mac] = token.split('.');
    const other = Buffer.from('crew@ternferry.test').toString('base64url');
    expect(readConfirmLink(`${other}.${until}.${mac}`, key, NOW)).toBeNull();
  });

  it('is taken as given, once, for those who were sent messages before anybody was asked', async () => {
    const vault = openVault(store.folder);
    const mailbox = (to: string) =>
      saveNewChannel(store.db, {
        kind: 'mail',
        name: to,
        settings: sealSettings(vault, { host: 'mail.test', to }),
        enabled: true,
        createdAt: NOW,
      });
    await mailbox('Pier <pier@ternferry.test>, slip@ternferry.test');
    await keepKnownAddresses(store.db, vault, NOW);
    await mailbox('later@ternferry.test');
    await keepKnownAddresses(store.db, vault, NOW);
    const given = ['pier', 'slip', 'later'].map((name) => isConfirmed(store.db, `${name}@ternferry.test`));
    expect(await Promise.all(given)).toEqual([true, true, false]);
  });
});
