import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { probeKinds } from '@/probes/kinds/registry';
import { makeAuthority } from '@/standins/certificates';
import { Harbour } from '@/standins/harbour';
import { openStore } from '@/store/db/open';
import { isSealed, openVault } from '@/store/db/vault';
import { until } from '../helpers';
import { withinProcess, type Within } from '../within';

interface Made {
  id: number;
  name: string;
  settings: Record<string, unknown>;
  restsOn: number[];
  everySeconds: number;
  state: string;
}

interface Refused {
  errors: { field: string; message: string }[];
}

describe('the API of kinds, ties and evidence', () => {
  let product: Within;
  let harbour: Harbour;
  let site: string;

  withinProcess((started) => (product = started));
  beforeAll(async () => {
    harbour = await Harbour.start({ basePort: 0, authority: await makeAuthority(), jobs: [] });
    site = harbour.find('booking')!.address;
  });
  afterAll(() => harbour.stop());

  async function made(body: object): Promise<Made> {
    const answer = await product.api('POST', '/watches', body);
    if (answer.status !== 201) throw new Error(JSON.stringify(answer.body));
    return answer.body as Made;
  }
  const refused = async (method: string, path: string, body: object) => {
    const answer = await product.api(method, path, body);
    expect(answer.status).toBe(422);
    return (answer.body as Refused).errors;
  };

  it('a secret is sealed in the database, shown as kept, stays when not named, and is used', async () => {
    const secrets = { bearer: 'a-token-nobody-sees', secretHeaders: 'X-Key: hush' };
    const watch = await made({ name: 'Office', settings: { address: site, ...secrets } });
    expect(watch.settings).toMatchObject({
      bearer: { kept: true },
      secretHeaders: { kept: true },
      password: '',
    });

    const db = await openStore(product.folder, { migrate: false });
    const stored = async () => {
      const row = await db('watches').where({ id: watch.id }).first('config');
      return (JSON.parse(row!.config) as { settings: Record<string, string> }).settings;
    };
    const before = (await stored()).bearer!;
    expect(isSealed(before)).toBe(true);
    expect(openVault(product.folder).open(before)).toBe(secrets.bearer);

    const kept = await product.api('PATCH', `/watches/${watch.id}`, {
      settings: { bearer: { kept: true }, words: 'Choose' },
    });
    expect(kept.status).toBe(200);
    expect((await stored()).bearer).toBe(before);
    await product.api('PATCH', `/watches/${watch.id}`, { settings: { bearer: '' } });
    expect((await stored()).bearer).toBe('');
    await db.destroy();
    // A trial with kept secrets takes them from the watch that is named.
    const trial = await product.api('POST', `/looks?watch=${watch.id}`, {
      settings: { address: site, secretHeaders: { kept: true } },
    });
    expect(trial).toMatchObject({
      status: 200,
      body: { verdict: 'fine', settings: { secretHeaders: { kept: true } } },
    });
  });

  it('each kind says its settings in the OpenAPI document and sets its own pace', async () => {
    const document = (await product.api('GET', '/openapi.json')).body as {
      components: {
        schemas: {
          CreateWatchBody: {
            anyOf: { properties: { kind: { enum: string[] }; settings?: { properties: object } } }[];
          };
        };
      };
    };
    const bodies = document.components.schemas.CreateWatchBody.anyOf;
    for (const kind of probeKinds()) {
      const body = bodies.find((b) => b.properties.kind.enum.includes(kind.id))!;
      expect(Object.keys(body.properties.settings!.properties)).toEqual(
        expect.arrayContaining(kind.fields.map((f) => f.name)),
      );
    }
    const name = await made({ kind: 'name', settings: { name: 'ternferry.test' } });
    expect(name.everySeconds).toBe(3600);
  });

  it('ties lead to watches there are, and never in a circle', async () => {
    const router = await made({ kind: 'ping', name: 'Router', settings: { host: '127.0.0.1' } });
    const office = await made({ name: 'Office page', settings: { address: site }, restsOn: [router.id] });
    expect(office.restsOn).toEqual([router.id]);
    expect(await refused('PATCH', `/watches/${router.id}`, { restsOn: [office.id] })).toEqual([
      { field: 'restsOn', message: 'Expected no circle, got Router → Office page → Router.' },
    ]);
    expect(
      (await refused('POST', '/watches', { settings: { address: site }, restsOn: [9999] }))[0],
    ).toMatchObject({ field: 'restsOn' });
    const both = await made({ kind: 'combined', name: 'Both', settings: { parts: [router.id, office.id] } });
    expect((await refused('PATCH', `/watches/${office.id}`, { restsOn: [both.id] }))[0]!.message).toContain(
      'Expected no circle',
    );
    expect((await refused('POST', '/watches', { kind: 'combined', settings: { parts: [] } }))[0]!.field).toBe(
      'settings.parts',
    );
  });

  it('looks at set times are refused with what was expected', async () => {
    const at = (when: object) => refused('POST', '/watches', { settings: { address: site }, when });
    expect((await at({ expression: '61 * * * *', zone: 'UTC' }))[0]!.field).toBe('when.expression');
    expect((await at({ expression: '0 * * * *', zone: 'Nowhere' }))[0]!.field).toBe('when.zone');
    const timed = await made({
      name: 'Timed',
      settings: { address: site },
      when: { expression: '5 * * * *', zone: 'UTC' },
    });
    expect(timed).toMatchObject({ when: { expression: '5 * * * *', zone: 'UTC' } });
  });

  it('evidence and ladder of the first failure can be read; secrets are not in it', async () => {
    const watch = await made({
      name: 'Breaks',
      secondLooks: 0,
      settings: { address: site, secretHeaders: 'X-Key: hush-hush' },
    });
    await until(
      async () => ((await product.api('GET', `/watches/${watch.id}`)).body as Made).state === 'up',
      'up',
    );
    await harbour.find('booking')!.setMode('status 500');
    await product.api('POST', `/watches/${watch.id}/look`);
    const evidence = (await product.api('GET', `/watches/${watch.id}/evidence`)).body as {
      cause: string;
      sentence: string;
      evidence: { walk: { rung: string }[] };
    }[];
    expect(evidence).toHaveLength(1);
    expect(evidence[0]!.sentence).toMatch(
      /^The host answers ping and port \d+ is open; the server answers, but replies 500\.$/,
    );
    expect(evidence[0]!.evidence.walk.map((r) => r.rung)).toEqual(['name', 'host', 'port', 'reply']);
    expect(JSON.stringify(evidence)).not.toContain('hush');
    await harbour.find('booking')!.setMode('fine');
  });

  it('an address is offered what fits, with names that do not collide', async () => {
    const typed = site.replace('http://', '').replace(/\/$/, '');
    const offers = (await product.api('POST', '/offers', { address: typed })).body as {
      kind: string;
      name: string;
      fits: boolean;
      settings: object;
    }[];
    expect(Object.fromEntries(offers.map((o) => [o.kind, o.fits]))).toEqual({
      web: true,
      certificate: false,
      port: true,
      ping: true,
    });
    for (const offer of offers.filter((o) => o.fits))
      await made({ kind: offer.kind, name: offer.name, settings: offer.settings });
    const again = (await product.api('POST', '/offers', { address: typed })).body as { name: string }[];
    const names = ((await product.api('GET', '/watches')).body as Made[]).map((watch) => watch.name);
    for (const { name } of again) expect(names).not.toContain(name);
    for (const address of ['', 'two words', 'ftp://ternferry.test']) {
      expect((await refused('POST', '/offers', { address }))[0]).toMatchObject({
        field: 'address',
        message: expect.stringMatching(/^Expected an address/) as string,
      });
    }
  });

  it('a page is fetched to choose words from, and weak words are doubted with the proof', async () => {
    const page = (words: string, address = site) =>
      product
        .api('POST', '/page-words', { settings: { address, words } })
        .then((answer) => answer.body as Record<string, never>);
    const good = await page('Choose your crossing');
    expect(good).toMatchObject({ problem: null, advice: [] });
    expect(good.visible).toContain('Choose your crossing');
    expect(good.source).toContain('<h1>');
    expect(await page('There is')).toMatchObject({ advice: [{ reason: 'absent' }] });
    expect(await page('Choose', `${site}no-such-thing`)).toMatchObject({ advice: [{ reason: 'absent' }] });
    expect(await page('There is nothing', `${site}no-such-thing`)).toMatchObject({
      advice: [{ reason: 'not-found-page' }],
    });
    const closed = await page('x', 'http://127.0.0.1:9/');
    expect(closed).toMatchObject({
      problem: 'The host is there, but nothing listens on port 9.',
      source: '',
    });
  });

  it('a pasted list is judged line by line, and nothing is made by that', async () => {
    const count = async () => ((await product.api('GET', '/watches')).body as Made[]).length;
    const before = await count();
    await made({ name: 'tides.ternferry.test', settings: { address: 'https://tides.ternferry.test/' } });
    const text = [
      'address,name,kind,every',
      'tides.ternferry.test,,,',
      'tides.ternferry.test/feed,tides.ternferry.test,,',
      'kiosk-north.ternferry.test:9100,North kiosk,,',
      'mail.ternferry.test,,certificate,7200',
      'two words,,,',
      'db.ternferry.test,,database,',
      'db.ternferry.test,,oracle,',
      'db.ternferry.test,,ping,1',
    ].join('\n');
    const verdicts = (await product.api('POST', '/bulk-drafts', { text })).body as {
      line: number;
      kind: string;
      name: string;
      problem: string | null;
      note: string | null;
      watch: { everySeconds?: number } | null;
    }[];
    expect(verdicts.map((v) => [v.line, v.kind, v.name])).toEqual([
      [2, 'web', 'tides.ternferry.test 2'],
      [3, 'web', 'tides.ternferry.test 3'],
      [4, 'port', 'North kiosk'],
      [5, 'certificate', 'mail.ternferry.test (certificate)'],
      [6, '', ''],
      [7, 'database', ''],
      [8, 'oracle', ''],
      [9, 'ping', ''],
    ]);
    expect(verdicts[0]!.note).toContain('watched already');
    expect(verdicts[1]!.note).toBe('Another watch is called “tides.ternferry.test”.');
    expect(verdicts[3]!.watch!.everySeconds).toBe(7200);
    expect(verdicts.slice(4).map((v) => v.problem)).toEqual([
      'Expected an address such as booking.ternferry.test, got “two words”.',
      'A watch of the kind database needs more than an address; make it by hand.',
      'Expected kind to be web, port, certificate, ping or name, got “oracle”.',
      expect.stringMatching(/^Expected everySeconds to be a whole number of seconds from 5/) as string,
    ]);
    expect(await count()).toBe(before + 1);
  });

  it('one more like another takes its secrets along, sealed', async () => {
    const first = await made({
      name: 'Office A',
      settings: { address: site, bearer: 'a-token-nobody-sees' },
    });
    const body = { name: 'Office B', settings: { ...first.settings, words: 'Choose' } };
    const second = (await product.api('POST', `/watches?watch=${first.id}`, body)).body as Made;
    expect(second.settings).toMatchObject({ bearer: { kept: true }, words: 'Choose' });
    // Without saying like which, there is nothing to keep.
    expect((await made(body)).settings.bearer).toBe('');
  });

  it('the own line is kept, asked at once, and bounded', async () => {
    const port = new URL(site).port;
    const none = await product.api('GET', '/own-line');
    const change = (addresses: string[], headers = { 'if-match': '*' }) =>
      product.api('PATCH', '/own-line', { addresses }, headers);
    // The whole list is written over: only by somebody who says which one they have read.
    expect((await product.api('PATCH', '/own-line', { addresses: [] })).status).toBe(428);
    const read = { 'if-match': none.headers.get('etag')! };
    expect((await change([`127.0.0.1:${port}`], read)).body).toMatchObject({
      addresses: [`127.0.0.1:${port}`],
      out: false,
    } as object);
    expect((await change(['127.0.0.1'], read)).status).toBe(412);
    expect((await product.api('GET', '/own-line')).body).toMatchObject({
      addresses: [`127.0.0.1:${port}`],
    } as object);
    expect((await product.api('GET', '/own-line/losses')).body).toEqual([]);
    const errorsOf = async (addresses: string[]) =>
      ((await change(addresses)).body as { errors: { field: string; message: string }[] }).errors[0]!;
    expect((await errorsOf(['a b'])).field).toBe('addresses[0]');
    expect((await errorsOf(Array<string>(6).fill('127.0.0.1'))).message).toBe(
      'Expected at most 5 addresses.',
    );
    expect((await change([])).status).toBe(200);
  });

  it('a deleted watch is listed, and comes back as it was', async () => {
    const watch = await made({ name: 'Gone for a moment', settings: { address: site } });
    expect((await product.api('DELETE', `/watches/${watch.id}`)).status).toBe(204);
    expect((await product.api('GET', '/deleted-watches')).body).toMatchObject([
      { id: watch.id, name: 'Gone for a moment' },
    ]);
    const back = await product.api('POST', `/deleted-watches/${watch.id}/restore`);
    expect(back).toMatchObject({ status: 200, body: { id: watch.id, settings: { address: site } } });
    await until(
      async () => ((await product.api('GET', `/watches/${watch.id}`)).body as Made).state === 'up',
      'looked at again',
    );
    expect((await product.api('POST', `/deleted-watches/${watch.id}/restore`)).status).toBe(404);
  });

  it('a channel is kept sealed, and its test still arrives', async () => {
    const address = `http://127.0.0.1:${harbour.port}/room/hook`;
    const channel = await product.api('POST', '/channels', {
      kind: 'webhook',
      name: 'Crew room',
      settings: { address },
    });
    const { id } = channel.body as { id: number };
    const db = await openStore(product.folder, { migrate: false });
    expect((await db('channels').where({ id }).first('settings'))!.settings).not.toContain('/room/hook');
    await db.destroy();
    expect(await product.api('POST', `/channels/${id}/test`)).toMatchObject({
      status: 200,
      body: { ok: true },
    });
    await product.api('DELETE', `/channels/${id}`);
  });
});
