import { generateKeyPairSync } from 'node:crypto';
import { createServer, type IncomingMessage, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import type { SMTPServer } from 'smtp-server';
import { Webhook } from 'standardwebhooks';
import webPush from 'web-push';
import { pushFor } from '@/engine/followers/letter-post';
import { makeAuthority } from '@/standins/certificates';
import { Harbour } from '@/standins/harbour';
import { PracticePhone } from '@/standins/rooms/phone';
import { ensurePushKeys } from '@/store/messages/push-keys';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { FollowerPost } from '@/engine/followers/follower-post';
import { saveWindowLetters } from '@/engine/followers/window-letters';
import { WHOLE_PAGE, type FollowerChoice } from '@/core/followers/follower';
import type { LetterFacts } from '@/core/followers/letter';
import { DAY_MS, HOUR_MS, MINUTE_MS } from '@/core/time/units';
import { transaction } from '@/store/db/connection';
import { openVault, type Vault } from '@/store/db/vault';
import { readFollowLink } from '@/store/followers/follow-links';
import { fetchFollower, saveNewFollower, type NewFollower } from '@/store/followers/followers';
import {
  deleteUnspread,
  fetchLettersOf,
  saveLetterTo,
  saveNewLetter,
  URGENCY,
} from '@/store/followers/letters';
import { fetchDueLetters, spreadLetter } from '@/store/followers/spreading';
import { saveNewWindow, deleteWindow } from '@/store/maintenance/windows';
import { saveNewChannel } from '@/store/messages/channels';
import { ensureTakeKey } from '@/store/messages/take-links';
import { saveNewPage } from '@/store/pages/pages';
import { line, pageContent } from '../../integration/pages';
import { makeWatch, tempStore, until, webConfig, type TempStore } from '../../integration/helpers';
import { startMailServer, type CameByMail } from '../channels/mailbox';

const T0 = Date.parse('2026-11-27T08:00:00Z');
const SECRET = `whsec_${Buffer.from('the boats sail at dawn, all of them').toString('base64')}`;
/** Making one takes longer than most that is done with it. */
const { privateKey } = generateKeyPairSync('rsa', { modulusLength: 2048 });
const SIGNING = {
  dkimSelector: 'lantern',
  dkimKey: privateKey.export({ type: 'pkcs8', format: 'pem' }).toString(),
};

describe('letters to those who follow', () => {
  let store: TempStore;
  let vault: Vault;
  let server: SMTPServer;
  let port: number;
  let came: CameByMail[];
  let refuse: ((address: string) => [number, string] | null) | null;
  let post: FollowerPost;
  let now: number;
  let pageId: number;
  let channelId: number;
  let watchId: number;
  const servers: Server[] = [];

  let nearPushes: boolean;
  const begin = () => {
    post = new FollowerPost({
      ...{
        db: store.db,
        vault,
        now: () => now,
        monotonic: () => now,
        linkBase: 'https://lantern.ternferry.test',
      },
      zone: 'UTC',
      nearPushes,
      onError: (error) => {
        throw error;
      },
    });
    return post.open();
  };

  beforeEach(async () => {
    store = await tempStore();
    vault = openVault(store.folder);
    [now, came, refuse, nearPushes] = [T0, [], null, true];
    ({ server, port } = await startMailServer(came, {
      onRcptTo: ({ address }, _, next) => {
        const [responseCode, text] = refuse?.(address) ?? [0, ''];
        next(responseCode === 0 ? null : Object.assign(new Error(text), { responseCode }));
      },
    }));
    const settings = {
      ...SIGNING,
      host: '127.0.0.1',
      port,
      security: 'none',
      user: '',
      password: '',
      authority: '',
    };
    channelId = await saveNewChannel(store.db, {
      ...{ kind: 'mail', name: 'Letters', enabled: true, createdAt: T0 },
      settings: { ...settings, from: 'Tern <letters@ternferry.test>', to: 'office@ternferry.test' },
    });
    watchId = await makeWatch(store.db, webConfig('http://booking.ternferry.test/'), { createdAt: T0 });
    pageId = await saveNewPage(
      store.db,
      pageContent([line(watchId, 'Booking')], { follow: { channelId, perHour: 1000, bounced: false } }),
    );
  });
  afterEach(async () => {
    await post.close(0);
    await new Promise<void>((resolve) => server.close(() => resolve()));
    for (const one of servers.splice(0)) one.closeAllConnections();
    await store.close();
  });

  const follow = (address: string, rest: Partial<NewFollower> = {}) =>
    saveNewFollower(store.db, {
      ...{
        pageId,
        kind: 'mail',
        address,
        secret: null,
        choice: WHOLE_PAGE,
        language: 'en',
        state: 'follows',
      },
      ...{ consent: 'said so', madeAt: T0, askedAt: null, confirmedAt: T0, ...rest },
    });
  const rowFor = (id: number) => ({
    ...{
      id,
      page_id: pageId,
      kind: 'mail' as const,
      address: `a${id}@ternferry.test`,
      state: 'follows' as const,
    },
    ...{ choice: JSON.stringify(WHOLE_PAGE), language: 'en', mark: 'm', consent: 'said so', made_at: T0 },
  });
  const incident = (title: string): LetterFacts => ({
    ...{ kind: 'incident', notice: false, title, stage: 'looking', body: 'We look.', at: T0 },
    affected: [{ label: 'Booking', how: 'out' }],
  });
  const tell = (
    key: string,
    facts = incident(`Told by ${key}`),
    dueAt = now,
    urgency: number = URGENCY.trouble,
  ) =>
    transaction(store.db, (trx) =>
      saveNewLetter(trx, { pageId, key, facts, about: 'incident/1', urgency, madeAt: now, dueAt }),
    );
  const addresses = () => came.flatMap(({ to }) => to).sort();
  const sent = (number: number) => until(() => came.length >= number, `${number} letters came`);
  /** Whatever might still come has had its chance. */
  const quiet = async () => {
    post.wake();
    await new Promise((resolve) => setTimeout(resolve, 400));
  };
  const answering = async (answer: (request: IncomingMessage, body: string) => Promise<number> | number) => {
    const one = createServer((request, response) => {
      let body = '';
      request.on('data', (chunk: Buffer) => (body += chunk.toString()));
      request.on(
        'end',
        () => void Promise.resolve(answer(request, body)).then((status) => response.writeHead(status).end()),
      );
    });
    servers.push(one);
    await new Promise<void>((resolve) => one.listen(0, '127.0.0.1', resolve));
    return `http://127.0.0.1:${(one.address() as AddressInfo).port}/events`;
  };

  it('go once to each who wants them, and say how they end (RFC 8058)', async () => {
    const booking: FollowerChoice = { labels: ['Booking'], maintenance: true };
    const id = await follow('ines@ternferry.test', { choice: booking });
    await follow('rui@ternferry.test', { language: 'pt' });
    await follow('asked@ternferry.test', { state: 'asked' });
    await follow('aside@ternferry.test', { state: 'aside' });
    expect(await tell('i1.1')).toBe(true);
    expect(await tell('i1.1')).toBe(false);
    await begin();
    await sent(2);
    await quiet();
    expect(addresses()).toEqual(['ines@ternferry.test', 'rui@ternferry.test']);
    const { mail } = came.find(({ to }) => to[0] === 'ines@ternferry.test')!;
    expect(mail.subject).toBe('Told by i1.1 · Tern Island Ferries');
    expect(mail.headers.get('auto-submitted')).toBe('auto-generated');
    const list = mail.headers.get('list') as unknown as Record<string, { url?: string; id?: string }>;
    const off = /^https:\/\/lantern\.ternferry\.test\/p\/ferries\/follow\/off\/(.+)$/.exec(
      list.unsubscribe!.url!,
    )!;
    expect(mail.headerLines.find(({ key }) => key === 'list-unsubscribe-post')!.line).toBe(
      'List-Unsubscribe-Post: List-Unsubscribe=One-Click',
    );
    // Nobody on the way can put another address there (RFC 8058, section 4).
    const signature = mail.headerLines.find(({ key }) => key === 'dkim-signature')!.line;
    const signed = /;h=([^;]+);/.exec(signature.replace(/\s+/g, ''))![1]!.toLowerCase().split(':');
    expect(signed).toEqual(expect.arrayContaining(['list-unsubscribe', 'list-unsubscribe-post', 'list-id']));
    const key = await ensureTakeKey(store.db, vault);
    expect(readFollowLink('off', off[1]!, key)!.id).toBe(id);
    expect(readFollowLink('own', off[1]!, key)).toBe(null);
    expect(mail.text).toContain('https://lantern.ternferry.test/p/ferries/incident/1');
    expect((await fetchLettersOf(store.db, id))[0]).toMatchObject({ state: 'sent', at: now });
  });

  it('are given out once, whoever finds them due', async () => {
    await follow('ines@ternferry.test');
    await tell('i1.1');
    const [letter] = await fetchDueLetters(store.db, now);
    const give = () => spreadLetter(store.db, letter!, new Set(['Booking']), now);
    expect([await give(), await give()]).toEqual([1, 0]);
    await begin();
    await sent(1);
  });

  it('are given to many in steps, and gone on with where that was cut short', async () => {
    const many = Array.from({ length: 2400 }, (_, i) => i + 1);
    await transaction(store.db, async (trx) => {
      for (const i of many) await trx('followers').insert(rowFor(i));
    });
    await tell('i1.1');
    const [letter] = await fetchDueLetters(store.db, now);
    const give = () => spreadLetter(store.db, letter!, new Set(['Booking']), now);
    await store.db.raw(
      `CREATE TRIGGER breaks BEFORE INSERT ON letter_deliveries WHEN new.follower_id = 1500 BEGIN SELECT RAISE(ABORT, 'cut'); END`,
    );
    await expect(give()).rejects.toThrow('cut');
    const given = () => store.db('letter_deliveries').orderBy('follower_id').pluck('follower_id');
    // A step is whole, or not there.
    expect(await given()).toHaveLength(1000);
    // What has begun is not taken back any more, and is found again.
    expect(await transaction(store.db, (trx) => deleteUnspread(trx, 'i1.'))).toBe(0);
    expect((await fetchDueLetters(store.db, now)).map(({ id }) => id)).toEqual([letter!.id]);
    await store.db.raw('DROP TRIGGER breaks');
    expect(await give()).toBe(1400);
    expect(await given()).toEqual(many);
    expect([await fetchDueLetters(store.db, now), await give()]).toEqual([[], 0]);
  });

  it('wait until they are due, and do not go at all once they were taken back', async () => {
    await follow('ines@ternferry.test');
    await tell('i1.1', incident('Taken back'), now + 30_000);
    await tell('i2.2', incident('Kept'), now + 30_000);
    await begin();
    await quiet();
    expect(came).toEqual([]);
    expect(await transaction(store.db, (trx) => deleteUnspread(trx, 'i1.'))).toBe(1);
    now += 30_000;
    post.wake();
    await sent(1);
    await quiet();
    expect(came.map(({ mail }) => mail.subject)).toEqual(['Kept · Tern Island Ferries']);
    // What went out is not taken back any more.
    expect(await transaction(store.db, (trx) => deleteUnspread(trx, 'i2.'))).toBe(0);
  });

  it('keep within what the account takes an hour, trouble before everything else', async () => {
    await store.db('pages').update({ settings: JSON.stringify({ follow: { channelId, perHour: 3 } }) });
    for (const name of ['a', 'b']) await follow(`${name}@ternferry.test`);
    await tell('n1', incident('Opening hours'), now, URGENCY.usual);
    await tell('i1.1', incident('Booking is out'));
    await begin();
    await sent(3);
    await quiet();
    expect(came.map(({ mail }) => mail.subject!.split(' ·')[0])).toEqual([
      'Booking is out',
      'Booking is out',
      'Opening hours',
    ]);
    now += HOUR_MS - 1000;
    await quiet();
    expect(came).toHaveLength(3);
    now += 2000;
    post.wake();
    await sent(4);
  });

  it('are looked for again at the moment the account that rests may send again', async () => {
    await store.db('pages').update({ settings: JSON.stringify({ follow: { channelId, perHour: 1 } }) });
    for (const name of ['a', 'b']) await follow(`${name}@ternferry.test`);
    await tell('i1.1', incident('Booking is out'));
    await begin();
    await sent(1);
    now += HOUR_MS - 20_000;
    await quiet();
    const planned = vi.spyOn(globalThis, 'setTimeout');
    post.wake();
    await expect.poll(() => planned.mock.calls.map(([, ms]) => ms)).toContain(20_000);
    planned.mockRestore();
  });

  it('put an address aside that is refused for good three times, and none for what the sender did', async () => {
    const gone = await follow('gone@ternferry.test');
    const blamed = await follow('blamed@ternferry.test');
    refuse = (address) =>
      address.startsWith('gone') ? [550, '5.1.1 nobody of that name'] : [550, '5.7.1 we do not like you'];
    await begin();
    for (const key of ['i1.1', 'i1.2', 'i1.3', 'i1.4']) {
      await tell(key);
      post.wake();
      await until(
        async () =>
          (await fetchLettersOf(store.db, blamed)).filter(({ state }) => state === 'given-up').length ===
          Number(key.slice(3)),
        `${key} was given up`,
      );
    }
    expect(await fetchFollower(store.db, gone)).toMatchObject({ state: 'aside', refusals: 3 });
    expect((await fetchFollower(store.db, gone))!.asideWhy).toContain('5.1.1 nobody of that name');
    // The fourth was not meant for it any more.
    expect(await fetchLettersOf(store.db, gone)).toHaveLength(3);
    expect(await fetchFollower(store.db, blamed)).toMatchObject({ state: 'follows', refusals: 0 });
  });

  it('forget refusals once something arrives', async () => {
    const id = await follow('ines@ternferry.test');
    refuse = () => [550, '5.1.1 nobody of that name'];
    await begin();
    await tell('i1.1');
    post.wake();
    await until(async () => (await fetchFollower(store.db, id))!.refusals === 1, 'one refusal');
    refuse = null;
    await tell('i1.2');
    post.wake();
    await sent(1);
    await until(async () => (await fetchFollower(store.db, id))!.refusals === 0, 'no refusal');
  });

  it('try again what may pass, and do not hold up the others for it', async () => {
    const slow = await follow('a-slow@ternferry.test');
    await follow('b@ternferry.test');
    await follow('c@ternferry.test');
    let closed = true;
    const tried: string[] = [];
    refuse = (address) => {
      tried.push(address.split('@')[0]!);
      return closed && address.startsWith('a-slow') ? [451, '4.2.1 come back later'] : null;
    };
    await tell('i1.1');
    await begin();
    await until(async () => {
      now += 1000;
      post.wake();
      await new Promise((resolve) => setTimeout(resolve, 50));
      return came.length === 2;
    }, 'the others are told');
    expect(addresses()).toEqual(['b@ternferry.test', 'c@ternferry.test']);
    // What its account was judged by once goes behind what has not been tried.
    expect(tried.slice(0, 3)).toEqual(['a-slow', 'b', 'c']);
    expect((await fetchLettersOf(store.db, slow))[0]).toMatchObject({ state: 'waiting' });
    closed = false;
    await until(async () => {
      now += 10_000;
      post.wake();
      await new Promise((resolve) => setTimeout(resolve, 50));
      return came.length === 3;
    }, 'the slow one is told');
  });

  it('are given up after a day, with what the server said last', async () => {
    const id = await follow('ines@ternferry.test');
    refuse = () => [451, '4.3.0 not now'];
    await tell('i1.1');
    await begin();
    await until(async () => (await fetchLettersOf(store.db, id))[0]?.said.includes('not now'), 'a first try');
    now += DAY_MS + HOUR_MS;
    post.wake();
    await until(async () => (await fetchLettersOf(store.db, id))[0]?.state === 'given-up', 'given up');
  });

  it('go as signed events to programs, which hold up nobody by being slow', async () => {
    const heard: string[] = [];
    const fine = await answering((request, body) => {
      const headers = Object.fromEntries(
        Object.entries(request.headers).map(([name, value]) => [name, String(value)]),
      );
      new Webhook(SECRET).verify(body, headers);
      heard.push(body);
      return 204;
    });
    const hanging = await answering(() => new Promise<number>(() => undefined));
    await follow(hanging, { kind: 'webhook', secret: vault.seal(SECRET) });
    await follow(fine, { kind: 'webhook', secret: vault.seal(SECRET) });
    await follow('ines@ternferry.test');
    await tell('i1.1');
    await begin();
    await sent(1);
    await until(() => heard.length === 1, 'the program heard');
    expect(JSON.parse(heard[0]!)).toMatchObject({
      specversion: '1.0',
      source: 'https://lantern.ternferry.test/p/ferries/',
      type: 'lantern.page.incident',
      data: {
        title: 'Told by i1.1',
        stage: 'looking',
        at: '2026-11-27T08:00:00.000Z',
        link: 'https://lantern.ternferry.test/p/ferries/incident/1',
      },
    });
  });

  it('go no more to a program that says it is gone', async () => {
    const gone = await answering(() => 410);
    const id = await follow(gone, { kind: 'webhook', secret: vault.seal(SECRET) });
    await tell('i1.1');
    await begin();
    await until(async () => (await fetchFollower(store.db, id))!.state === 'aside', 'put aside');
  });

  it('outlast the end of the engine: what was not handed over goes after the next start', async () => {
    await follow('ines@ternferry.test');
    await tell('i1.1', incident('After a start'), now + MINUTE_MS);
    await begin();
    await post.close(0);
    now += 2 * MINUTE_MS;
    await begin();
    await sent(1);
    await post.close(0);
    await begin();
    await quiet();
    expect(came).toHaveLength(1);
  });

  it('are asked for before everything else, and those who say nothing are forgotten after two weeks', async () => {
    const id = await follow('new@ternferry.test', { state: 'asked', askedAt: T0, confirmedAt: null });
    await transaction(store.db, (trx) => saveLetterTo(trx, { id, pageId }, { kind: 'confirm' }, now));
    await begin();
    await sent(1);
    expect(came[0]!.mail.text).toMatch(/\/follow\/yes\/\S+/);
    expect(came[0]!.mail.headers.has('list')).toBe(false);
    await post.close(0);
    now = T0 + 14 * DAY_MS - 1000;
    await begin();
    await quiet();
    expect(await fetchFollower(store.db, id)).not.toBe(null);
    await post.close(0);
    now = T0 + 14 * DAY_MS + 1000;
    await begin();
    await until(async () => (await fetchFollower(store.db, id)) === null, 'forgotten');
  });

  describe('of maintenance', () => {
    const subjects = async () => (await store.db('letters').orderBy('id').pluck('key')) as string[];

    it('are told ahead, at its beginning and at its end: each once', async () => {
      await follow('ines@ternferry.test');
      const window = {
        title: 'New mast',
        watchIds: [watchId],
        begins: T0 + 3 * DAY_MS,
        ends: T0 + 3 * DAY_MS + HOUR_MS,
      };
      const id = await saveNewWindow(store.db, { ...window, announceDays: 2, madeAt: T0 });
      await saveNewWindow(store.db, { ...window, title: 'Elsewhere', watchIds: [9999], announceDays: 9 });
      const at = async (time: number) => {
        await saveWindowLetters(store.db, time);
        await saveWindowLetters(store.db, time);
        return subjects();
      };
      expect(await at(T0 + DAY_MS - 1)).toEqual([]);
      expect(await at(T0 + DAY_MS)).toEqual([`w${id}.ahead`]);
      expect(await at(T0 + 3 * DAY_MS)).toEqual([`w${id}.ahead`, `w${id}.begins`]);
      expect(await at(T0 + 3 * DAY_MS + HOUR_MS)).toHaveLength(3);
      expect(await at(T0 + 4 * DAY_MS)).toHaveLength(3);
      await begin();
      await sent(3);
    });

    it('say nothing of an end nobody was told the beginning of, of what is called off, or to nobody', async () => {
      const past = { title: 'Over', watchIds: [watchId], begins: T0 - HOUR_MS, ends: T0 - MINUTE_MS };
      await saveNewWindow(store.db, past);
      const id = await saveNewWindow(store.db, {
        ...past,
        title: 'Off',
        begins: T0 + HOUR_MS,
        ends: T0 + 2 * HOUR_MS,
      });
      expect(await saveWindowLetters(store.db, T0)).toBe(false);
      await follow('ines@ternferry.test');
      await deleteWindow(store.db, id);
      expect(await saveWindowLetters(store.db, T0)).toBe(false);
      expect(await subjects()).toEqual([]);
      await begin();
    });
  });

  describe('to browsers', () => {
    const browser = new PracticePhone();
    const keep = (address: string) => {
      const { p256dh, auth } = browser.subscription('');
      return follow(address, { kind: 'push', secret: vault.seal(JSON.stringify({ p256dh, auth })) });
    };
    const follower = async (id: number) => (await fetchFollower(store.db, id))!;
    const withKeys = () => ensurePushKeys(store.db, vault, webPush.generateVAPIDKeys);

    it('are sealed for each, in two lines, and lead to what they tell of', async () => {
      await withKeys();
      const harbour = await Harbour.start({ basePort: 0, authority: await makeAuthority(), jobs: [] });
      const { endpoint } = harbour.phone.subscription(`http://127.0.0.1:${harbour.port}/rooms/phone`);
      await keep(endpoint);
      await begin();
      await tell('i1.1');
      post.wake();
      await until(() => harbour.phone.messages.length > 0, 'a push');
      expect(harbour.phone.messages.map(({ text }) => text)).toEqual([
        'Told by i1.1 · Tern Island Ferries\nWe look.',
      ]);
      await quiet();
      expect(harbour.phone.messages).toHaveLength(1);
      await harbour.stop();
    });

    it('are the newest of what they tell of, and no longer than a browser takes', async () => {
      const page = { ...pageContent([]), id: pageId, title: 'Ferries' };
      const place = { linkBase: 'https://x.test', zone: 'UTC', key: Buffer.alloc(32), nearPushes: true };
      const long = { ...incident('W'.repeat(500)), body: '**Word** '.repeat(900) } as LetterFacts;
      const of = (key: string, facts: LetterFacts) =>
        pushFor(
          {
            letter: { id: 1, pageId, key, facts, about: 'incident/1' },
            follower: { id: 2, mark: 'abcdefghijkl', language: 'en' },
          } as never,
          page,
          { ...place, signal: new AbortController().signal },
        );
      const pushed = of('i7.12', long);
      expect(Buffer.byteLength(JSON.stringify(pushed))).toBeLessThan(2000);
      expect(pushed.body).toMatch(/^Word Word/);
      expect([pushed.link, pushed.tag, pushed.nth]).toEqual([
        'https://x.test/p/ferries/incident/1',
        'https://x.test/p/ferries/i7',
        1,
      ]);
      expect(of('i7.13', long).tag).toBe(pushed.tag);
    });

    it('go no more where the browser ended it', async () => {
      await withKeys();
      let asked = 0;
      const ended = await answering(() => {
        asked += 1;
        return 410;
      });
      const id = await keep(ended);
      await begin();
      await tell('i1.1');
      post.wake();
      await until(async () => (await follower(id)).state === 'aside', 'put aside');
      expect(asked).toBe(1);
    });

    it('go nowhere but to the open web', async () => {
      await withKeys();
      let asked = 0;
      const near = await answering(() => {
        asked += 1;
        return 201;
      });
      nearPushes = false;
      const id = await keep(near);
      // A name that leads here is found out when it is looked up.
      const named = await keep(`https://push.localtest.example/x`);
      await begin();
      await tell('i1.1');
      post.wake();
      await until(async () => (await follower(id)).state === 'aside', 'put aside');
      await quiet();
      expect(asked).toBe(0);
      expect((await follower(named)).state).toBe('follows');
    });
  });
});
