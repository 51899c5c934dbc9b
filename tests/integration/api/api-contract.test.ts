import { describe, expect, it } from 'vitest';
import { ROUTES } from '@/api/routes';
import { openStore } from '@/store/db/open';
import { makeCheckin, TOKEN } from '../helpers';
import { withEither, type Within } from '../within';

interface Watch {
  id: number;
  name: string;
  version: string;
  everySeconds: number;
  sources: Record<string, string>;
  section: { id: number; name: string } | null;
  settings: Record<string, unknown>;
}

interface Problem {
  code: string;
  type: string;
  detail: string;
  errors?: { field: string; message: string }[];
}

/** What a program may rely on, whatever it asks for. */
describe('the contract of the API', () => {
  let product: Within;
  withEither((one) => (product = one));

  const api = (...asked: Parameters<Within['api']>) => product.api(...asked);
  const made = async (name: string, rest: object = {}) =>
    (
      await api('POST', '/watches', {
        kind: 'port',
        name,
        settings: { host: '127.0.0.1', port: 9 },
        everySeconds: 86_400,
        ...rest,
      })
    ).body as Watch;
  const raw = (method: string, path: string, headers: Record<string, string> = {}, body?: string) =>
    fetch(`${product.base}${path}`, {
      method,
      headers: { authorization: `Bearer ${TOKEN}`, ...headers },
      ...(body !== undefined && { body }),
    });
  const problemOf = async (response: Response) => (await response.json()) as Problem;

  describe('what was read can be sent back', () => {
    it('whole, and changes only what was edited; what comes from farther away stays there', async () => {
      const watch = await made('Read and sent', { section: 'Counter', everySeconds: undefined });
      const read = (await api('GET', `/watches/${watch.id}`)).body as Watch;
      expect(read.sources.everySeconds).toBe('product');
      const sent = { ...read, name: 'Read and sent back' };
      const changed = await api('PATCH', `/watches/${watch.id}`, sent);
      expect(changed.status).toBe(200);
      const now = changed.body as Watch;
      expect(now.name).toBe('Read and sent back');
      expect(now.sources).toEqual(read.sources);
      expect(now.section).toEqual(read.section);
      // What was edited becomes its own.
      const own = await api('PATCH', `/watches/${watch.id}`, { ...now, everySeconds: 120 });
      expect((own.body as Watch).sources).toMatchObject({ everySeconds: 'watch', timeoutSeconds: 'product' });
    });

    it.each([
      ['sections', { name: 'North pier' }, { name: 'South pier' }],
      ['tags', { name: 'boats' }, { colour: 'plum' }],
      [
        'channels',
        { kind: 'webhook', name: 'Room', settings: { address: 'http://127.0.0.1:9/' } },
        { name: 'Crew' },
      ],
      ['pages', { title: 'Ferries', slug: 'sent-back' }, { intro: 'How we are doing.' }],
    ])('of %s too', async (list, body, edit) => {
      const { id } = (await api('POST', `/${list}`, body)).body as { id: number };
      const read = await api('GET', `/${list}/${id}`);
      const etag = read.headers.get('etag')!;
      expect(etag).toMatch(/^"[\w-]{16}"$/);
      const changed = await api('PATCH', `/${list}/${id}`, { ...(read.body as object), ...edit });
      expect(changed.status).toBe(200);
      expect(changed.body).toMatchObject(edit as object);
      expect(changed.headers.get('etag')).not.toBe(etag);
      // The second of two editors is told, by what they sent back and by If-Match; with neither they are not asked.
      const late = await api('PATCH', `/${list}/${id}`, { ...(read.body as object) });
      expect([late.status, (late.body as Problem).code]).toEqual([412, 'state.changed']);
      expect((await api('PATCH', `/${list}/${id}`, edit, { 'if-match': etag })).status).toBe(412);
      expect((await api('DELETE', `/${list}/${id}`, undefined, { 'if-match': etag })).status).toBe(412);
      const present = changed.headers.get('etag')!;
      expect((await api('PATCH', `/${list}/${id}`, edit, { 'if-match': `W/${present}` })).status).toBe(412);
      const either = { 'if-match': `${etag}, ${present}` };
      expect((await api('PATCH', `/${list}/${id}`, edit, either)).status).toBe(200);
      expect((await api('PATCH', `/${list}/${id}`, edit, { 'if-match': '*' })).status).toBe(200);
      expect((await api('DELETE', `/${list}/${id}`)).status).toBe(204);
    });

    it('under its own id only', async () => {
      const watch = await made('Own id');
      const other = await api('PATCH', `/watches/${watch.id}`, { id: watch.id + 1 });
      expect((other.body as Problem).errors![0]!.field).toBe('id');
    });

    it('and a look in between does not count as a change', async () => {
      const watch = await made('Looked at');
      await api('POST', `/watches/${watch.id}/look`, {});
      const etag = `"${watch.version}"`;
      expect(
        (await api('PATCH', `/watches/${watch.id}`, { name: 'Still mine' }, { 'if-match': etag })).status,
      ).toBe(200);
    });

    it('need not be sent again to whoever has it', async () => {
      const { id } = (await api('POST', '/pages', { title: 'Still', slug: 'still' })).body as { id: number };
      const read = await raw('GET', `/api/v1/pages/${id}`);
      const again = await raw('GET', `/api/v1/pages/${id}`, { 'if-none-match': read.headers.get('etag')! });
      expect([again.status, await again.text()]).toEqual([304, '']);
      expect((await raw('GET', `/api/v1/pages/${id}`, { 'if-none-match': '"other"' })).status).toBe(200);
    });
  });

  describe('lists', () => {
    const next = (response: { headers: Headers }) =>
      /<([^>]+)>; rel="next"/.exec(response.headers.get('link') ?? '')?.[1] ?? null;
    async function walk(path: string): Promise<{ pages: number; ids: number[] }> {
      const ids: number[] = [];
      let pages = 0;
      for (let url: string | null = `${product.base}/api/v1${path}`; url !== null; pages += 1) {
        const response: Response = await fetch(url, { headers: { authorization: `Bearer ${TOKEN}` } });
        expect(response.status).toBe(200);
        ids.push(...((await response.json()) as { id: number }[]).map((one) => one.id));
        url = next(response);
      }
      return { pages, ids };
    }

    it('are gone through page by page to the first day, each row once, in either order', async () => {
      const job = await makeCheckin(product);
      const { id } = (await api('GET', '/watches?kind=checkin')).body[0] as { id: number };
      for (let i = 0; i < 7; i += 1) await fetch(`${job.checkinAddress}?is=note`);
      const newestFirst = await walk(`/watches/${id}/reports?limit=3`);
      expect(newestFirst.pages).toBe(3);
      expect(newestFirst.ids).toHaveLength(7);
      expect(newestFirst.ids).toEqual(newestFirst.ids.toSorted((a, b) => b - a));
      const oldestFirst = await walk(`/watches/${id}/reports?limit=2&order=asc`);
      expect(oldestFirst.ids).toEqual(newestFirst.ids.toReversed());
    });

    it('of equal times neither lose nor double a row', async () => {
      const db = await openStore(product.folder, { migrate: false });
      const at = Date.parse('2026-11-01T00:00:00Z');
      const rows = Array.from({ length: 5 }, (_, i) => ({
        watch_id: null,
        kind: 'test',
        text: JSON.stringify({ title: `Message ${i}`, lines: [], link: '' }),
        created_at: at,
      }));
      await db('messages').insert(rows);
      const room = (
        await api('POST', '/channels', {
          kind: 'webhook',
          name: 'Equal times',
          settings: { address: 'http://127.0.0.1:9/' },
          enabled: false,
        })
      ).body as { id: number };
      const ids = (await db('messages').where('kind', 'test').select('id')) as { id: number }[];
      await db('deliveries').insert(
        ids.map(({ id }) => ({
          message_id: id,
          channel_id: room.id,
          state: 'delivered',
          attempts: 1,
          next_at: at,
        })),
      );
      await db.destroy();
      const seen = await walk('/deliveries?limit=2&until=2026-11-02T00:00:00Z');
      expect(new Set(seen.ids).size).toBe(5);
      expect(seen.ids).toHaveLength(5);
    });

    it('in an order of their own go on behind the last one shown, also when it is gone', async () => {
      for (const name of ['List A', 'List B', 'List C', 'List D']) await made(name, { section: 'Listed' });
      const first = await api('GET', '/watches?section=Listed&limit=2');
      const shown = first.body as unknown as Watch[];
      expect(shown.map((watch) => watch.name)).toEqual(['List A', 'List B']);
      const url = next(first)!;
      expect(url).toContain('section=Listed');
      expect(url).toContain('limit=2');
      const names = async () =>
        ((await (await fetch(url, { headers: { authorization: `Bearer ${TOKEN}` } })).json()) as Watch[]).map(
          (watch) => watch.name,
        );
      expect(await names()).toEqual(['List C', 'List D']);
      await api('DELETE', `/watches/${shown[1]!.id}`);
      expect(await names()).toEqual(['List D']);
    });

    it.each(ROUTES.filter((route) => route.list).map((route) => [route.path, route] as const))(
      '%s know their parameters, and refuse others by name',
      async (path, route) => {
        const at = path.replace('{id}', '1');
        const field = async (query: string) => {
          const answer = await api('GET', `${at}?${query}`);
          expect(answer.status, query).toBe(422);
          expect((answer.body as Problem).code).toBe('input.query');
          return (answer.body as Problem).errors![0]!.field;
        };
        expect(await field('colour=red')).toBe('colour');
        expect(await field('limit=0')).toBe('limit');
        expect(await field('limit=1001')).toBe('limit');
        expect(await field('limit=many')).toBe('limit');
        expect(await field('order=up')).toBe('order');
        expect(await field('cursor=nonsense')).toBe('cursor');
        expect(await field('limit=1&limit=2')).toBe('limit');
        if (route.list?.by !== 'time') return;
        expect(await field('since=yesterday')).toBe('since');
        // A time without a zone would mean another moment to each reader; there is no 30 February.
        expect(await field('until=2026-11-26T12:00:00')).toBe('until');
        expect(await field('until=2026-02-30T12:00:00Z')).toBe('until');
      },
    );

    it('refuse a state there is none of', async () => {
      const answer = await api('GET', '/watches?state=sleeping');
      expect([answer.status, (answer.body as Problem).errors![0]!.field]).toEqual([422, 'state[0]']);
    });
  });

  describe('times', () => {
    it.each([
      '2036-12-01T06:00:00',
      '2036-02-30T06:00:00Z',
      '2036-13-01T06:00:00Z',
      '2036-12-01',
      'soon',
      '2036-12-01T25:00:00Z',
    ])('%s is refused where a moment is needed', async (from) => {
      const watch = await made(`At ${from}`);
      const body = { title: 'New mast', watchIds: [watch.id], from, until: '2036-12-02T08:00:00Z' };
      const answer = await api('POST', '/windows', body);
      expect([answer.status, (answer.body as Problem).errors![0]!.field]).toEqual([422, 'from']);
    });

    it('are taken in any zone, and told in UTC', async () => {
      const watch = await made('In Lisbon');
      const body = {
        title: 'New mast',
        watchIds: [watch.id],
        from: '2036-12-01T08:00:00+02:00',
        until: '2036-12-01T08:30:00.5Z',
      };
      const window = (await api('POST', '/windows', body)).body as { id: number };
      expect(window).toMatchObject({ from: '2036-12-01T06:00:00.000Z', until: '2036-12-01T08:30:00.500Z' });
      const moved = await api('PATCH', `/windows/${window.id}`, { until: '2036-12-01T09:00:00Z' });
      expect(moved.body).toMatchObject({ title: 'New mast', until: '2036-12-01T09:00:00.000Z' } as object);
      const wrong = await api('PATCH', `/windows/${window.id}`, { until: '2036-12-01T05:00:00Z' });
      expect((wrong.body as Problem).errors![0]!.field).toBe('until');
    });

    it('of maintenance that is over are still there', async () => {
      const db = await openStore(product.folder, { migrate: false });
      const [begins, ends] = ['2026-01-05T06:00:00Z', '2026-01-05T08:00:00Z'].map((text) => Date.parse(text));
      await db('windows').insert({ title: 'Old mast', watch_ids: '[1]', begins, ends });
      await db.destroy();
      const titles = async (query: string) =>
        ((await api('GET', `/windows${query}`)).body as unknown as { title: string }[]).map(
          (one) => one.title,
        );
      expect(await titles('')).toContain('Old mast');
      expect(await titles('?since=2026-01-05T07:00:00Z&until=2026-02-01T00:00:00Z')).toEqual(['Old mast']);
      expect(await titles('?since=2026-01-05T08:00:00Z&until=2026-02-01T00:00:00Z')).toEqual([]);
    });
  });

  describe('asking again', () => {
    const key = (text: string) => ({ 'idempotency-key': text });
    const count = async () => ((await api('GET', '/watches?limit=1000')).body as unknown as Watch[]).length;

    it('with the same key makes nothing twice, and answers as before', async () => {
      const body = { kind: 'port', name: 'Once', settings: { host: '127.0.0.1', port: 9 } };
      const first = await api('POST', '/watches', body, key('once'));
      const before = await count();
      const again = await api('POST', '/watches', body, key('once'));
      expect(again.body).toEqual(first.body);
      expect(again.headers.get('location')).toBe(first.headers.get('location'));
      expect(again.headers.get('idempotent-replayed')).toBe('true');
      expect(await count()).toBe(before);
      const other = await api('POST', '/watches', { ...body, name: 'Another' }, key('once'));
      expect([other.status, (other.body as Problem).code]).toEqual([422, 'key.reused']);
      // A refusal is not kept: mended, the same key may be used.
      const wrong = await api('POST', '/watches', { ...body, everySeconds: 1 }, key('mended'));
      expect(wrong.status).toBe(422);
      expect((await api('POST', '/watches', body, key('mended'))).status).toBe(201);
      expect((await api('POST', '/watches', body, key('x'.repeat(201)))).status).toBe(422);
    });

    it('is done again with the same key where nothing is made', async () => {
      const { id } = await made('Twice');
      const rename = async (name: string) =>
        ((await api('PATCH', `/watches/${id}`, { name }, key('rename'))).body as Watch).name;
      expect([await rename('Thrice'), await rename('Twice'), await rename('Thrice')]).toEqual([
        'Thrice',
        'Twice',
        'Thrice',
      ]);
    });

    it('at the same time does it once', async () => {
      const five = (path: string, body: object) =>
        Promise.all(Array.from({ length: 5 }, () => api('POST', path, body, key(`at once ${path}`))));
      const before = await count();
      const watches = await five('/watches', {
        ...{ kind: 'port', name: 'At once', settings: { host: '127.0.0.1', port: 9 } },
      });
      expect(await count()).toBe(before + 1);
      // A name that another section has would be refused, were that not the same request.
      const sections = await five('/sections', { name: 'By many at once' });
      for (const answers of [watches, sections]) {
        expect(answers.map(({ status }) => status)).toEqual([201, 201, 201, 201, 201]);
        expect(new Set(answers.map(({ body }) => (body as { id: number }).id)).size).toBe(1);
        const replayed = answers.filter(({ headers }) => headers.get('idempotent-replayed') === 'true');
        expect(replayed).toHaveLength(4);
      }
    });

    it('makes nothing where its answer cannot be kept with it', async () => {
      const body = { kind: 'port', name: 'Never kept', settings: { host: '127.0.0.1', port: 9 } };
      const before = await count();
      const db = await openStore(product.folder, { migrate: false });
      await db.raw(
        "CREATE TRIGGER full BEFORE INSERT ON answered_requests BEGIN SELECT RAISE(ABORT, 'no room'); END",
      );
      const failed = await api('POST', '/watches', body, key('unkept'));
      await db.raw('DROP TRIGGER full');
      await db.destroy();
      expect(failed.status).toBe(500);
      expect(await count()).toBe(before);
      const again = await api('POST', '/watches', body, key('unkept'));
      expect([again.status, again.headers.get('idempotent-replayed')]).toEqual([201, null]);
      expect(await count()).toBe(before + 1);
    });

    it('keeps a secret that is shown once sealed', async () => {
      const first = await api('POST', '/tokens', { name: 'asked twice' }, key('token'));
      const { secret } = first.body as { secret: string };
      expect(
        ((await api('POST', '/tokens', { name: 'asked twice' }, key('token'))).body as { secret: string })
          .secret,
      ).toBe(secret);
      const db = await openStore(product.folder, { migrate: false });
      const kept = JSON.stringify(await db('answered_requests').select('answer'));
      await db.destroy();
      expect(kept).not.toContain(secret);
    });
  });

  describe('methods and types', () => {
    it('HEAD answers as GET does, without a body', async () => {
      const [get, head] = [await raw('GET', '/api/v1/sections'), await raw('HEAD', '/api/v1/sections')];
      expect([head.status, await head.text()]).toEqual([200, '']);
      for (const name of ['content-type', 'link']) expect(head.headers.get(name)).toBe(get.headers.get(name));
    });

    it.each([...new Set(ROUTES.filter((route) => !route.stream).map((route) => route.path))])(
      'OPTIONS %s says what may be done, and the rest is refused with the same',
      async (path) => {
        const url = `/api/v1${path.replace(/\{\w+\}/g, '1')}`;
        const options = await raw('OPTIONS', url);
        expect(options.status).toBe(204);
        const allow = options.headers.get('allow')!.split(', ');
        for (const route of ROUTES) if (route.path === path) expect(allow).toContain(route.method);
        expect(allow.includes('HEAD')).toBe(allow.includes('GET'));
        const method = ['PUT', 'DELETE', 'PATCH', 'POST', 'GET'].find((one) => !allow.includes(one))!;
        const refused = await raw(
          method,
          url,
          { 'content-type': 'application/json' },
          method === 'GET' ? undefined : '{}',
        );
        expect([refused.status, refused.headers.get('allow')]).toEqual([405, allow.join(', ')]);
      },
    );

    it('what cannot be answered as asked is 406, and what is no JSON is 415', async () => {
      const other = await raw('GET', '/api/v1/sections', { accept: 'text/html' });
      expect([other.status, (await problemOf(other)).code]).toEqual([406, 'answer.unacceptable']);
      for (const accept of ['*/*', 'application/*', 'text/html, application/json;q=0.1', 'application/json'])
        expect((await raw('GET', '/api/v1/sections', { accept })).status, accept).toBe(200);
      expect((await raw('GET', '/api/v1/sections', { accept: 'application/json;q=0' })).status).toBe(406);
      for (const type of ['text/xml', 'xapplication/json', 'application/jsonx']) {
        const xml = await raw('POST', '/api/v1/sections', { 'content-type': type }, '{"name":"Typed"}');
        expect([xml.status, await problemOf(xml)], type).toEqual([
          415,
          expect.objectContaining({ code: 'body.type', detail: 'Expected a body of type application/json.' }),
        ]);
      }
    });

    it('what was made says where it is', async () => {
      const response = await raw(
        'POST',
        '/api/v1/sections',
        { 'content-type': 'application/json' },
        JSON.stringify({ name: 'Where it is' }),
      );
      const { id } = (await response.json()) as { id: number };
      expect(response.headers.get('location')).toBe(`${product.base}/api/v1/sections/${id}`);
    });

    it('ids are what they look like', async () => {
      const { id } = await made('Plain id');
      expect((await api('GET', `/watches/${id}`)).status).toBe(200);
      for (const text of [`0${id}`, `+${id}`, `${id}.0`, `${id}e0`, '-1', '0', '1'.repeat(20), `${id}%20`])
        expect((await api('GET', `/watches/${text}`)).status, text).toBe(404);
    });

    it('the entrance leads everywhere, and other versions are told apart', async () => {
      const { links } = (await api('GET', '')).body as { links: Record<string, string> };
      for (const [name, link] of Object.entries(links)) {
        if (name === 'events' || name === 'reference') continue;
        expect((await fetch(link, { headers: { authorization: `Bearer ${TOKEN}` } })).status, name).toBe(200);
      }
      for (const path of ['/api/v2', '/api/v2/watches', '/api/v11']) {
        const response = await raw('GET', path);
        expect(response.headers.get('content-type')).toBe('application/problem+json');
        expect([response.status, (await problemOf(response)).code]).toEqual([404, 'version.unknown']);
      }
      expect((await problemOf(await raw('GET', '/api/nowhere'))).code).toBe('not.found');
    });
  });

  describe('live events', () => {
    it('come by token, and to nobody without', async () => {
      expect((await fetch(`${product.base}/api/v1/events`)).status).toBe(401);
      const stop = new AbortController();
      const response = await fetch(`${product.base}/api/v1/events`, {
        headers: { authorization: `Bearer ${TOKEN}` },
        signal: stop.signal,
      });
      expect(response.headers.get('content-type')).toBe('text/event-stream');
      const reader = response.body!.getReader();
      let text = '';
      const heard = async (word: string) => {
        while (!text.includes(word)) text += new TextDecoder().decode((await reader.read()).value);
      };
      await heard('event: hello');
      const watch = await made('Heard of live');
      await heard(`"id":${watch.id}`);
      stop.abort();
    });
  });

  describe('refusals', () => {
    it('repeat no secret, and no megabyte', async () => {
      const secret = 'the-tide-is-a-secret-4711';
      const body = {
        settings: { address: 'http://127.0.0.1:9/', password: { of: secret } },
      };
      const text = JSON.stringify((await api('POST', '/watches', body)).body);
      expect(text).toContain('settings.password');
      expect(text).not.toContain(secret);
      const broken = await raw(
        'POST',
        '/api/v1/tokens',
        { 'content-type': 'application/json' },
        `{"name": ${secret}`,
      );
      expect(await broken.text()).not.toContain(secret);
      const room = await api('POST', '/channels', { name: 'Room', settings: { address: `ftp://${secret}` } });
      expect(JSON.stringify(room.body)).not.toContain(secret);
      const long = 'x'.repeat(400_000);
      for (const answer of [
        await api('POST', '/sections', { name: long }),
        await api('POST', '/sections', { [long]: 1 }),
        await api('POST', '/watches', { kind: long }),
        await api('PATCH', '/shared-settings', { level: 'kind', kind: long }),
        await api('POST', '/watches', { settings: { address: long } }),
      ]) {
        expect(answer.status).toBe(422);
        expect(JSON.stringify(answer.body).length).toBeLessThan(12_000);
      }
    });

    it('say where their code is explained', async () => {
      const { type, code } = (await api('GET', '/watches/999999')).body as Problem;
      expect([type, code]).toEqual(['/reference#refusal-not.found', 'not.found']);
    });
  });

  it('settings that are shared are not written over by whoever read them before', async () => {
    const shared = (await api('GET', '/shared-settings')).body as { version: string };
    const set = { level: 'instance', slowLooks: 4, version: shared.version };
    expect((await api('PATCH', '/shared-settings', set)).status).toBe(200);
    expect((await api('PATCH', '/shared-settings', { ...set, slowLooks: 5 })).status).toBe(412);
  });

  it('an incident that is over stays over when an update names no stage', async () => {
    const page = (await api('POST', '/pages', { title: 'Over', slug: 'over' })).body as { id: number };
    const incident = (
      await api('POST', `/pages/${page.id}/incidents`, {
        title: 'Slow',
        stage: 'over',
        body: 'Over at once.',
      })
    ).body as { id: number; endedAt: string };
    const later = await api('POST', `/incidents/${incident.id}/updates`, { body: 'A word more.' });
    expect(later.body).toMatchObject({
      endedAt: incident.endedAt,
      updates: [{ stage: 'over' }, {}],
    } as object);
    const again = await api('POST', `/incidents/${incident.id}/updates`, {
      stage: 'looking',
      body: 'It is back.',
    });
    expect(again.body).toMatchObject({ endedAt: null } as object);
    // The version that was read may stand in the body, as it does elsewhere.
    const { version } = again.body as { version: string };
    const more = (sent: string) =>
      api('POST', `/incidents/${incident.id}/updates`, { version: sent, body: 'We go on looking.' });
    expect((await more(version)).status).toBe(201);
    expect((await more(version)).status).toBe(412);
    const over = (await api('GET', '/incidents?open=true')).body as unknown as { id: number }[];
    expect(over.map((one) => one.id)).toEqual([incident.id]);
  });

  it('who changed what is noted, with the change or not at all', async () => {
    const section = (await api('POST', '/sections', { name: 'Noted' })).body as { id: number };
    await api('PATCH', `/sections/${section.id}`, { name: '' });
    await api('DELETE', `/sections/${section.id}`);
    const deeds = (await api('GET', '/deeds?limit=2')).body as unknown as object[];
    expect(deeds).toMatchObject([
      {
        deed: 'deleteSection',
        subject: { kind: 'section', id: section.id, name: 'Noted' },
        by: { kind: 'token' },
      },
      { deed: 'createSection', subject: { id: section.id } },
    ]);
  });

  it('figures stand on the span they name, and on no time before the watch', async () => {
    const watch = await made('Figures');
    const ask = (query: string) => api('GET', `/watches/${watch.id}/figures${query}`);
    await api('POST', `/watches/${watch.id}/look`, {});
    const all = (await ask('')).body as { from: string; spanSeconds: number };
    expect(Date.now() - Date.parse(all.from)).toBeLessThan(60_000);
    expect(all.spanSeconds).toBeLessThan(60);
    expect((await ask('?from=2020-01-01T00:00:00Z&until=2020-02-01T00:00:00Z')).body).toMatchObject({
      spanSeconds: 0,
      uptime: null,
      times: null,
      outages: { count: 0 },
    } as object);
    expect((await ask('?from=yesterday')).status).toBe(422);
  });
});
