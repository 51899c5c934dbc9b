import type { SMTPServer } from 'smtp-server';
import { HtmlValidate } from 'html-validate';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { openStore } from '@/store/db/open';
import { makeCheckin, TOKEN, until } from '../helpers';
import { withinProcess, type Within } from '../within';
import { startMailServer, type CameByMail } from '../../unit/channels/mailbox';

interface Follower {
  id: number;
  address: string;
  state: string;
  labels: string[] | null;
  maintenance: boolean;
  consent: string;
}

const PASSWORD = 'the tide waits for nobody';

describe('following a page', () => {
  let product: Within;
  let server: SMTPServer;
  let port: number;
  const came: CameByMail[] = [];
  let pageId: number;
  let channelId: number;
  withinProcess((one) => (product = one));

  const api = async <T>(method: string, path: string, body?: object) =>
    product.api(method, path, body) as Promise<{ status: number; body: T }>;
  const post = (
    path: string,
    form: Record<string, string | string[]>,
    headers: Record<string, string> = {},
  ) => {
    const body = new URLSearchParams();
    for (const [name, value] of Object.entries(form))
      for (const one of [value].flat()) body.append(name, one);
    return fetch(`${product.base}${path}`, { method: 'POST', body, redirect: 'manual', headers });
  };
  const ask = (mail: string, rest: Record<string, string | string[]> = {}, path = '/p/ferries/follow') =>
    post(path, { mail, which: 'all', maintenance: 'yes', ...rest });
  const heading = (html: string) => /<h1[^>]*>([^<]*)/.exec(html)?.[1];
  const followers = async (query = '') =>
    (await api<Follower[]>('GET', `/pages/${pageId}/followers${query}`)).body;
  /** The link of a letter that came to an address, below this product. */
  const linkTo = async (address: string, step: string) => {
    const found = await until(
      () => came.findLast(({ to, mail }) => to[0] === address && mail.text?.includes(`/follow/${step}/`)),
      `a letter to ${address}`,
    );
    return new URL(new RegExp(`http\\S+/follow/${step}/\\S+`).exec(found.mail.text!)![0]).pathname;
  };
  const get = async (path: string) => {
    const response = await fetch(`${product.base}${path}`);
    return { status: response.status, headers: response.headers, html: await response.text() };
  };
  const say = async (body: object) =>
    api<{ id: number }>('POST', '/incidents', { pageIds: [pageId], ...body });

  beforeAll(async () => {
    ({ server, port } = await startMailServer(came));
    const { id: one } = await makeCheckin(product, { name: 'Winch' });
    const { id: two } = await makeCheckin(product, { name: 'Crane' });
    channelId = (
      await api<{ id: number }>('POST', '/channels', {
        ...{ kind: 'mail', name: 'Letters' },
        settings: {
          host: '127.0.0.1',
          port,
          security: 'none',
          from: 'letters@ternferry.test',
          to: 'office@ternferry.test',
        },
      })
    ).body.id;
    const item = (watchId: number, label: string) => ({ watchIds: [watchId], label });
    const made = await api<{ id: number }>('POST', '/pages', {
      ...{ slug: 'ferries', title: 'Tern Island Ferries', intro: '' },
      sections: [{ title: '', items: [item(one, 'The winch'), item(two, 'The <crane>')] }],
      follow: { channelId, perHour: 1000 },
    });
    expect(made.status, JSON.stringify(made.body)).toBe(201);
    pageId = made.body.id;
  });
  afterAll(() => new Promise<void>((resolve) => server.close(() => resolve())));

  it('is asked for, said yes to, chosen and ended without any script', async () => {
    const form = await get('/p/ferries/follow');
    expect(form.status).toBe(200);
    expect(form.headers.get('content-security-policy')).not.toContain('unsafe');
    expect(form.html).toContain('The &lt;crane&gt;');
    const report = await new HtmlValidate({ extends: ['html-validate:standard'] }).validateString(form.html);
    expect(
      report.results.flatMap(({ messages }) =>
        messages.map(({ ruleId, message }) => `${ruleId}: ${message}`),
      ),
    ).toEqual([]);
    const asked = await ask('Ines@TernFerry.test', {
      which: 'some',
      label: ['The <crane>', 'Nothing there'],
    });
    expect([asked.status, heading(await asked.text())]).toEqual([200, 'Look into your mailbox.']);
    expect(await followers()).toMatchObject([
      {
        address: 'ines@ternferry.test',
        state: 'asked',
        labels: ['The <crane>'],
        maintenance: true,
        consent: '',
      },
    ]);
    const yes = await linkTo('ines@ternferry.test', 'yes');
    // Opening it, as programs that look at links do, says nothing yet.
    expect(heading((await get(yes)).html)).toBe('Do you want to be told by mail?');
    expect((await followers())[0]).toMatchObject({ state: 'asked' });
    const said = await post(yes, {});
    expect(said.status).toBe(303);
    expect((await followers())[0]).toMatchObject({
      state: 'follows',
      consent: 'said yes by the link in a mail',
    });
    const own = new URL(said.headers.get('location')!, `${product.base}${yes}`).pathname;
    const choice = await get(own);
    expect(choice.html).toMatch(
      /value="The &lt;crane&gt;" checked|checked="" value="The &lt;crane&gt;"|name="label" checked=""/,
    );
    await post(own, { which: 'all' });
    expect((await followers())[0]).toMatchObject({ labels: null, maintenance: false });
    const off = new URL(/href="(\.\.\/off\/[^"]+)"/.exec(choice.html)![1]!, `${product.base}${own}`).pathname;
    expect(heading((await get(off)).html)).toContain('Write to me no more');
    expect(await followers()).toHaveLength(1);
    // As a mail program does with one click: no cookie, no redirect (RFC 8058).
    const ended = await post(off, { 'List-Unsubscribe': 'One-Click' });
    expect(ended.status).toBe(200);
    expect(await followers()).toEqual([]);
    for (const link of [yes, own, off]) {
      expect((await get(link)).status, link).toBe(404);
      expect((await post(link, {})).status, link).toBe(404);
    }
  });

  it('keeps what was typed where it is no mailbox, and says what was expected', async () => {
    const refused = await ask('ines, rui', { which: 'some', label: 'The winch' });
    const html = await refused.text();
    expect(refused.status).toBe(422);
    expect(html).toContain('value="ines, rui"');
    expect(html).toContain('Expected one mail address such as ines@ternferry.test.');
    expect(html).toMatch(/value="some"[^>]*checked|checked=""[^>]*value="some"/);
    expect((await post('/p/ferries/follow', { mail: 'x'.repeat(100_000) })).status).toBe(413);
    expect((await fetch(`${product.base}/p/ferries/follow`, { method: 'PUT' })).status).toBe(405);
  });

  it('tells nobody who follows, and fills no mailbox', async () => {
    await api('POST', `/pages/${pageId}/followers`, {
      address: 'rui@ternferry.test',
      consent: 'at the counter',
    });
    const texts = await Promise.all(
      ['rui@ternferry.test', 'new@ternferry.test'].map(async (mail) =>
        (await (await ask(mail)).text()).replaceAll(mail, '…'),
      ),
    );
    expect(texts[0]).toBe(texts[1]);
    await linkTo('rui@ternferry.test', 'own');
    await linkTo('new@ternferry.test', 'yes');
    const before = came.length;
    // Whoever types somebody's address over and over changes nothing, and sends nothing.
    await ask('rui@ternferry.test', { which: 'some', label: 'The winch' });
    await ask('new@ternferry.test');
    await new Promise((resolve) => setTimeout(resolve, 500));
    expect(came.length).toBe(before);
    expect((await followers('?words=rui'))[0]).toMatchObject({ labels: null, state: 'follows' });
    // Six from one place in a row, and then one a minute.
    const answers = await Promise.all([7, 8, 9].map((i) => ask(`more${i}@ternferry.test`)));
    expect(answers.at(-1)!.status).toBe(429);
    expect(answers.at(-1)!.headers.get('retry-after')).toBe('60');
  });

  it('opens nothing with a link that was made up, or made for something else', async () => {
    const yes = await linkTo('new@ternferry.test', 'yes');
    const token = yes.split('/').at(-1)!;
    for (const path of [
      `/p/ferries/follow/off/${token}`,
      `/p/ferries/follow/own/${token}`,
      `${yes}x`,
      '/p/ferries/follow/yes/1.aaaaaaaaaaaa.bbbbbbbbbbbbbbbbbbbbbb',
    ]) {
      expect((await get(path)).status, path).toBe(404);
      expect((await post(path, {})).status, path).toBe(404);
    }
    expect((await followers('?words=new@'))[0]).toMatchObject({ state: 'asked' });
  });

  it('is not offered where no mailbox writes, and its links work behind a password', async () => {
    const other = await api<{ id: number }>('POST', '/pages', {
      ...{ slug: 'partners', title: 'Partners', intro: '', audience: 'password', password: PASSWORD },
      sections: [{ title: '', items: [] }],
    });
    expect(other.status).toBe(201);
    expect((await get('/p/partners/follow')).status).toBe(403);
    expect((await ask('x@ternferry.test', {}, '/p/partners/follow')).status).toBe(403);
    await api('PATCH', `/pages/${other.body.id}`, { follow: { channelId, perHour: 10 } });
    await api('POST', `/pages/${other.body.id}/followers`, {
      address: 'agent@ternferry.test',
      consent: 'asked',
    });
    // Somebody who has the link of their own page of choices need not know the password.
    const { id } = (await api<Follower[]>('GET', `/pages/${other.body.id}/followers`)).body[0]!;
    const db = await openStore(product.folder);
    const { mark } = (await db('followers').where({ id }).first())!;
    await db.destroy();
    expect(mark).toMatch(/^[\w-]{12}$/);
    const wrong = { channelId: 999, perHour: 10 };
    expect((await api('PATCH', `/pages/${other.body.id}`, { follow: wrong })).status).toBe(422);
    await api('PATCH', `/pages/${pageId}`, { follow: null });
    expect((await get('/p/ferries/follow')).status).toBe(404);
    expect((await get('/p/ferries/')).html).not.toContain('href="follow"');
    await api('PATCH', `/pages/${pageId}`, { follow: { channelId, perHour: 1000 } });
    expect((await get('/p/ferries/')).html).toContain('href="follow"');
  });

  it('takes lists in with how it is known, shows all of one, and erases all of it', async () => {
    const list = 'address,name\nquay@ternferry.test,Quay\nrui@ternferry.test,\nnot one';
    const imported = await api('POST', `/pages/${pageId}/followers/import`, {
      list,
      consent: 'signed up at the fair',
    });
    expect(imported.body).toEqual({ added: 1, known: 1, refused: [{ line: 4, text: 'not one' }] });
    expect((await api('POST', `/pages/${pageId}/followers/import`, { list, consent: '' })).status).toBe(422);
    const [quay] = await followers('?words=quay');
    expect(quay).toMatchObject({ state: 'follows', consent: 'signed up at the fair' });
    const whole = await api<object>('GET', `/followers/${quay!.id}`);
    expect(whole.body).toMatchObject({ address: 'quay@ternferry.test', letters: [] });
    expect(JSON.stringify(whole.body)).not.toMatch(/mark|secret/);
    const csv = await fetch(`${product.base}/api/v1/pages/${pageId}/followers?as=csv`, {
      headers: { authorization: `Bearer ${TOKEN}` },
    });
    expect(await csv.text()).toContain('quay@ternferry.test');
    expect((await api('DELETE', `/followers/${quay!.id}`)).status).toBe(204);
    expect((await api('GET', `/followers/${quay!.id}`)).status).toBe(404);
    // Nor does the record of what was done name anybody.
    expect(JSON.stringify((await api('GET', '/deeds?limit=200')).body)).not.toMatch(/quay@|ines@|rui@/);
  });

  it('adds programs, whose secret is shown once', async () => {
    const add = (address: string) =>
      api<{ id: number; secret: string | null; address: string }>('POST', `/pages/${pageId}/followers`, {
        ...{ kind: 'webhook', address, consent: 'theirs' },
      });
    const made = await add('https://crew.ternferry.test/events');
    expect(made.body.secret).toMatch(/^whsec_/);
    expect(JSON.stringify(await followers())).not.toContain(made.body.secret!);
    expect((await add('https://crew.ternferry.test/events')).status).toBe(422);
    expect((await add('ftp://crew.ternferry.test/events')).status).toBe(422);
    expect((await add('ines@ternferry.test')).status).toBe(422);
  });

  it('is told half a minute after something was published; till then it can be kept from them, and put right', async () => {
    const { body: incident } = await say({ title: 'Winch is out', body: 'We look.', affected: [] });
    const waiting = async () =>
      (await api<{ title: string; dueAt: string }[]>('GET', `/incidents/${incident.id}/letters`)).body;
    const [letter] = await waiting();
    const leftMs = Date.parse(letter!.dueAt) - Date.now();
    expect(leftMs).toBeGreaterThan(20_000);
    expect(leftMs).toBeLessThanOrEqual(30_000);
    await api('PATCH', `/incidents/${incident.id}`, { title: 'The winch is out' });
    expect(await waiting()).toMatchObject([{ title: 'The winch is out' }]);
    expect((await api('POST', `/incidents/${incident.id}/letters/take-back`)).body).toEqual({ taken: 1 });
    expect(await waiting()).toEqual([]);
    // It is published all the same.
    expect((await get('/p/ferries/')).html).toContain('The winch is out');
    await api('POST', `/incidents/${incident.id}/updates`, { body: 'It turns again.', stage: 'over' });
    expect(await waiting()).toHaveLength(1);
    await api('DELETE', `/incidents/${incident.id}`);
    const db = await openStore(product.folder);
    expect(await db('letters').whereNull('spread_at')).toEqual([]);
    await db.destroy();
  });

  it('is of what was chosen, whatever that is called by now', async () => {
    const add = async (address: string, labels: string[]) =>
      api('POST', `/pages/${pageId}/followers`, { address, labels, consent: 'at the counter' });
    const chosen = async (words: string) => (await followers(`?words=${words}`))[0]!.labels;
    const { id: lift } = await makeCheckin(product, { name: 'Lift' });
    await api('PATCH', `/watches/${lift}`, { section: 'Ashore' });
    const sections = (await api<{ sections: { items: { label: string }[] }[] }>('GET', `/pages/${pageId}`))
      .body.sections;
    const [section] = (await api<{ id: number }[]>('GET', '/sections')).body;
    const ashore = { title: 'Ashore', items: [], follows: { sectionId: section!.id } };
    await api('PATCH', `/pages/${pageId}`, { sections: [...sections, ashore] });
    await add('winch@ternferry.test', ['The winch', 'Lift']);
    await add('crane@ternferry.test', ['The <crane>']);
    // By the page, where it stands under a name for the public …
    sections[0]!.items[0]!.label = 'Hoist';
    await api('PATCH', `/pages/${pageId}`, { sections: [...sections, ashore] });
    expect(await chosen('winch')).toEqual(['Hoist', 'Lift']);
    // … and on the desk, where it came by itself.
    await api('PATCH', `/watches/${lift}`, { name: 'Goods lift' });
    expect([await chosen('winch'), await chosen('crane')]).toEqual([
      ['Hoist', 'Goods lift'],
      ['The <crane>'],
    ]);
  });
});
