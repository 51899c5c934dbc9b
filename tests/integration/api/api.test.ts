import { rmSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ROUTES } from '@/api/routes';
import { makeAuthority } from '@/standins/certificates';
import { Harbour } from '@/standins/harbour';
import { EMAIL, PASSWORD, until } from '../helpers';
import { startWithin, type Within } from '../within';

interface ProblemBody {
  title: string;
  detail: string;
  status: number;
  errors?: { field: string; message: string }[];
}

describe('the HTTP API', () => {
  let product: Within;
  let harbour: Harbour;
  let site: string;
  let hook: string;

  beforeAll(async () => {
    harbour = await Harbour.start({ basePort: 0, authority: await makeAuthority(), jobs: [] });
    site = harbour.find('booking')!.address;
    hook = `http://127.0.0.1:${harbour.port}/room/hook`;
    product = await startWithin({ LANTERN_ADMIN_EMAIL: EMAIL, LANTERN_ADMIN_PASSWORD: PASSWORD });
  });
  afterAll(async () => {
    await product.stop();
    await harbour.stop();
    rmSync(product.folder, { recursive: true, force: true });
  });

  const api = (method: string, path: string, body?: unknown) => product.api(method, path, body);
  async function made<T extends object>(path: string, body: unknown): Promise<T & { id: number }> {
    const answer = await api('POST', path, body);
    expect(answer).toMatchObject({ status: 201 });
    return answer.body as T & { id: number };
  }
  async function refused(
    method: string,
    path: string,
    body: unknown,
    status = 422,
  ): Promise<Record<string, string>> {
    const answer = await api(method, path, body);
    expect(answer.status).toBe(status);
    const problem = answer.body as ProblemBody;
    expect(problem).toMatchObject({ status, code: expect.any(String) } as object);
    expect(problem.detail.length).toBeGreaterThan(10);
    return Object.fromEntries((problem.errors ?? []).map((e) => [e.field, e.message]));
  }

  describe('who may come in', () => {
    it.each(ROUTES.map((r) => [r.method, r.path] as const))(
      'refuses %s %s without a key',
      async (method, path) => {
        const url = `${product.base}/api/v1${path.replace(/\{\w+\}/g, '1')}`;
        const response = await fetch(url, {
          method,
          headers: { 'content-type': 'application/json' },
          ...(method !== 'GET' && { body: '{}' }),
        });
        expect(response.status).toBe(401);
        expect(response.headers.get('content-type')).toBe('application/problem+json');
      },
    );

    it('refuses an unknown token', async () => {
      const response = await fetch(`${product.base}/api/v1/watches`, {
        headers: { authorization: 'Bearer wrong' },
      });
      expect(response.status).toBe(401);
    });

    async function cookie(): Promise<string> {
      const response = await fetch(`${product.base}/api/session`, {
        method: 'POST',
        headers: { 'content-type': 'application/json', 'sec-fetch-site': 'same-origin' },
        body: JSON.stringify({ email: EMAIL, password: PASSWORD }),
      });
      expect(response.status).toBe(204);
      const set = response.headers.get('set-cookie')!;
      expect(set).toMatch(/HttpOnly; SameSite=Lax/);
      return set.split(';')[0]!;
    }

    it('lets a session write from the desk, and from no other site', async () => {
      const session = await cookie();
      const write = (headers: Record<string, string>) =>
        fetch(`${product.base}/api/v1/tokens`, {
          method: 'POST',
          headers: { cookie: session, 'content-type': 'application/json', ...headers },
          body: JSON.stringify({ name: 'by session' }),
        }).then((r) => r.status);
      expect(await write({ 'sec-fetch-site': 'same-origin' })).toBe(201);
      expect(await write({ origin: product.base })).toBe(201);
      expect(await write({ 'sec-fetch-site': 'cross-site' })).toBe(403);
      expect(await write({ 'sec-fetch-site': 'same-site' })).toBe(403);
      expect(await write({ origin: 'http://elsewhere.test' })).toBe(403);
      expect(await write({})).toBe(403);
      expect(await write({ origin: product.base, 'content-type': 'text/plain' })).toBe(415);
    });

    it('forgets a session that signed out', async () => {
      const session = await cookie();
      const read = () =>
        fetch(`${product.base}/api/v1/watches`, { headers: { cookie: session } }).then((r) => r.status);
      expect(await read()).toBe(200);
      await fetch(`${product.base}/api/session`, {
        method: 'DELETE',
        headers: { cookie: session, origin: product.base },
      });
      expect(await read()).toBe(401);
    });

    it('makes no second first account, and none from elsewhere', async () => {
      const post = (headers: Record<string, string>) =>
        fetch(`${product.base}/api/first-account`, {
          method: 'POST',
          headers: { 'content-type': 'application/json', ...headers },
          body: JSON.stringify({ email: 'other@ternferry.test', password: 'long enough by far' }),
        }).then((r) => r.status);
      expect(await post({ origin: product.base })).toBe(409);
      expect(await post({ origin: 'http://elsewhere.test' })).toBe(403);
    });

    it('slows sign-in down after failures, for unknown addresses too', async () => {
      const attempt = (email: string) =>
        fetch(`${product.base}/api/session`, {
          method: 'POST',
          headers: { 'content-type': 'application/json', origin: product.base },
          body: JSON.stringify({ email, password: 'not this one' }),
        });
      // Each failure makes the next wait longer: by then tries come too soon, however slow this machine is.
      const statuses: number[] = [];
      let last: Response | null = null;
      while (statuses.length < 20 && last?.status !== 429) {
        last = await attempt('nobody@ternferry.test');
        statuses.push(last.status);
      }
      expect(statuses.slice(0, 4)).toEqual([422, 422, 422, 422]);
      expect(last!.status).toBe(429);
      expect(Number(last!.headers.get('retry-after'))).toBeGreaterThan(0);
      expect(((await last!.json()) as ProblemBody).detail).toMatch(
        /^Too many tries\. Wait \d+ s, then try again\.$/,
      );
    });

    it('sends whoever is not signed in to sign in', async () => {
      for (const path of ['/', '/messages', '/watches/1', '/pages', '/access']) {
        const response = await fetch(product.base + path, { redirect: 'manual' });
        expect([response.status, response.headers.get('location')]).toEqual([307, '/sign-in']);
      }
      expect((await fetch(`${product.base}/live`)).status).toBe(401);
    });
  });

  describe('watches', () => {
    it('are made from an address and nothing else, and looked at once', async () => {
      const watch = await made<Record<string, unknown>>('/watches', {
        settings: { address: site.replace('http://', '') },
      });
      expect(watch).toMatchObject({
        kind: 'web',
        name: '127.0.0.1',
        everySeconds: 60,
        timeoutSeconds: 10,
        secondLooks: 2,
        secondLookGapSeconds: 10,
        settings: { address: site, words: '', accepted: '200-299' },
      });
      const up = await until(async () => {
        const { body } = await api('GET', `/watches/${watch.id}`);
        return (body as { state: string }).state === 'up' && (body as Record<string, unknown>);
      }, 'a first finding');
      expect(up.lastFinding).toMatchObject({
        verdict: 'fine',
        evidence: { status: 200, phases: { connectMs: expect.any(Number) as number } },
      });
      const findings = (await api('GET', `/watches/${watch.id}/findings`)).body as { at: string }[];
      expect(findings.length).toBeGreaterThan(0);
      const before = (await api('GET', `/watches/${watch.id}/findings?until=${findings.at(-1)!.at}`)).body;
      expect(before).toEqual([]);
    });

    it('can be looked at before they are saved, with what would count as failing', async () => {
      const answer = await api('POST', '/looks', {
        settings: { address: site, words: 'Choose your crossing' },
        timeoutSeconds: 4,
      });
      expect(answer.status).toBe(200);
      expect(answer.body).toMatchObject({
        verdict: 'fine',
        evidence: { status: 200, wordsFound: 1 },
        failsWhen:
          'Fails when there is no complete reply within 4 s, when the status is not 200-299, or when the words “Choose your crossing” are missing.',
      } as object);
    });

    it('can be changed in part, paused, resumed, looked at and deleted', async () => {
      const { id } = await made('/watches', { name: 'Changing', settings: { address: site } });
      const changed = await api('PATCH', `/watches/${id}`, {
        everySeconds: 300,
        settings: { words: 'Choose' },
        section: 'On the water',
      });
      expect(changed.body).toMatchObject({
        everySeconds: 300,
        timeoutSeconds: 10,
        name: 'Changing',
        section: { name: 'On the water' },
        settings: { address: site, words: 'Choose' },
      } as object);
      expect((await api('POST', `/watches/${id}/pause`, {})).body).toMatchObject({
        paused: true,
        state: 'paused',
      } as object);
      expect((await api('POST', `/watches/${id}/look`, {})).status).toBe(409);
      expect((await api('POST', `/watches/${id}/resume`, {})).body).toMatchObject({
        paused: false,
      } as object);
      expect((await api('POST', `/watches/${id}/look`, {})).body).toMatchObject({
        verdict: 'fine',
      } as object);
      expect((await api('DELETE', `/watches/${id}`)).status).toBe(204);
      for (const path of ['', '/findings', '/outages', '/reports']) {
        expect((await api('GET', `/watches/${id}${path}`)).status).toBe(404);
      }
      expect((await api('DELETE', `/watches/${id}`)).status).toBe(404);
    });

    it('that wait to hear cannot be looked at', async () => {
      const { id } = await made('/watches', {
        kind: 'checkin',
        name: 'Job',
        schedule: { type: 'period', everySeconds: 60 },
      });
      expect((await api('POST', `/watches/${id}/look`, {})).status).toBe(409);
      const fields = await refused('POST', '/looks', {
        kind: 'checkin',
        name: 'Job',
        schedule: { type: 'period', everySeconds: 60 },
      });
      expect(fields.kind).toBe('A check-in waits to hear; there is nothing to look at.');
    });

    it.each<[string, unknown, Record<string, string | RegExp>]>([
      ['no address', { settings: {} }, { 'settings.address': /^Expected a web address .*, got nothing\.$/ }],
      [
        'a wrong address',
        { settings: { address: 'two words' } },
        { 'settings.address': /got "two words"\.$/ },
      ],
      [
        'every 0',
        { settings: { address: 'http://a.test' }, everySeconds: 0 },
        { everySeconds: 'Expected everySeconds to be a whole number of seconds from 5 to 2592000, got 0.' },
      ],
      [
        'several wrong numbers',
        {
          settings: { address: 'http://a.test' },
          everySeconds: 'often',
          timeoutSeconds: 500,
          secondLooks: -1,
          secondLookGapSeconds: 1.5,
          slowAfterMs: 0,
        },
        {
          everySeconds:
            'Expected everySeconds to be a whole number of seconds from 5 to 2592000, got "often".',
          timeoutSeconds: 'Expected timeoutSeconds to be a whole number of seconds from 1 to 120, got 500.',
          secondLooks: 'Expected secondLooks to be a whole number from 0 to 20, got -1.',
          secondLookGapSeconds:
            'Expected secondLookGapSeconds to be a whole number of seconds from 1 to 3600, got 1.5.',
          slowAfterMs: 'Expected slowAfterMs to be a whole number of milliseconds from 1 to 120000, got 0.',
        },
      ],
      [
        'wrong status codes',
        { settings: { address: 'http://a.test', accepted: 'good' } },
        { 'settings.accepted': /got "good"\.$/ },
      ],
      [
        'an unknown kind',
        { kind: 'oracle' },
        { kind: /^Expected kind to be one of web, port, ping, .*, container, checkin, got "oracle"\.$/ },
      ],
      [
        'an unknown field',
        { settings: { address: 'http://a.test' }, colour: 'red' },
        { colour: /^Expected only kind, name, .*; got colour\.$/ },
      ],
      [
        'a wrong port',
        { kind: 'port', settings: { host: 'a.test', port: 70_000 } },
        { 'settings.port': 'Expected a port from 1 to 65535, got 70000.' },
      ],
      [
        'a wrong host',
        { kind: 'port', settings: { host: 'a b', port: 1 } },
        { 'settings.host': /got “a b”\.$/ },
      ],
      [
        'a job without a name',
        { kind: 'checkin', schedule: { type: 'period', everySeconds: 60 } },
        { name: /^Expected a name/ },
      ],
      [
        'a job without a schedule',
        { kind: 'checkin', name: 'Job' },
        { schedule: 'Expected a schedule, got nothing.' },
      ],
      [
        'a wrong cron expression',
        { kind: 'checkin', name: 'Job', schedule: { type: 'cron', expression: '61 * * * *', zone: 'UTC' } },
        { 'schedule.expression': /^Expected a minute .* at character 1, got “61”/ },
      ],
      [
        'a wrong zone',
        {
          kind: 'checkin',
          name: 'Job',
          schedule: { type: 'cron', expression: '* * * * *', zone: 'Atlantis' },
        },
        { 'schedule.zone': 'Expected a time zone such as Europe/Lisbon, got "Atlantis".' },
      ],
      [
        'too short a period',
        { kind: 'checkin', name: 'Job', schedule: { type: 'period', everySeconds: 1 } },
        {
          'schedule.everySeconds':
            /^Expected everySeconds to be a whole number of seconds from 10 to \d+, got 1\.$/,
        },
      ],
      [
        'an unknown schedule',
        { kind: 'checkin', name: 'Job', schedule: { type: 'moon' } },
        { 'schedule.type': 'Expected type to be period, cron or calendar, got "moon".' },
      ],
    ])('are refused with %s, naming the field', async (_, body, expected) => {
      const fields = await refused('POST', '/watches', body);
      for (const [field, message] of Object.entries(expected)) {
        if (typeof message === 'string') expect(fields[field]).toBe(message);
        else expect(fields[field]).toMatch(message);
      }
    });

    it('keep their kind', async () => {
      const { id } = await made('/watches', { settings: { address: site } });
      expect((await refused('PATCH', `/watches/${id}`, { kind: 'port' })).kind).toMatch(/cannot be changed/);
      expect((await refused('PATCH', `/watches/${id}`, { everySeconds: 1 })).everySeconds).toMatch(
        /got 1\.$/,
      );
      expect((await api('GET', `/watches/${id}`)).body).toMatchObject({ everySeconds: 60 } as object);
      expect((await refused('GET', `/watches/${id}/findings?until=yesterday`, undefined)).until).toMatch(
        /got "yesterday"/,
      );
    });
  });

  describe('channels', () => {
    it('can be tested before and after they are connected, and show no secret', async () => {
      const test = await api('POST', '/channel-tests', { settings: { address: hook } });
      expect(test.body).toEqual({ ok: true, retry: false, said: '200 received' });
      const channel = await made<{ shown: string }>('/channels', {
        name: 'Crew room',
        settings: { address: hook },
      });
      expect(channel.shown).toBe(`http://127.0.0.1:${harbour.port}/…`);
      expect((await api('POST', `/channels/${channel.id}/test`, {})).body).toMatchObject({
        ok: true,
      } as object);
      expect(harbour.room.messages.length).toBe(2);
      const list = JSON.stringify((await api('GET', '/channels')).body);
      expect(list).not.toContain('/room/hook');
      const rest = await api('PATCH', `/channels/${channel.id}`, { enabled: false });
      expect(rest.body).toMatchObject({ enabled: false, name: 'Crew room' } as object);
      expect((await api('DELETE', `/channels/${channel.id}`)).status).toBe(204);
      expect((await api('POST', `/channels/${channel.id}/test`, {})).status).toBe(404);
      expect((await api('GET', '/deliveries')).body).toEqual([]);
    });

    it('are refused with bad settings, naming the field', async () => {
      const fields = await refused('POST', '/channels', { name: '', settings: { address: 'crew room' } });
      expect(fields.name).toBe('Expected a name for the channel, got nothing.');
      expect(fields['settings.address']).toBe('Expected an address that begins with http:// or https://.');
      expect((await refused('POST', '/channels', { kind: 'pigeon' })).kind).toMatch(/got "pigeon"\.$/);
    });
  });

  describe('public pages and incidents', () => {
    it('go through their whole life', async () => {
      const { id: watchId } = await made('/watches', { name: 'Inner name', settings: { address: site } });
      const page = await made<{ address: string }>('/pages', {
        title: 'Tern Island Ferries',
        slug: 'ferries',
        sections: [{ title: 'On the water', items: [{ watchIds: [watchId], label: 'Booking' }] }],
      });
      expect(page.address).toBe(`${product.base}/p/ferries/`);
      expect((await refused('POST', '/pages', { title: 'Other', slug: 'ferries' })).slug).toMatch(
        /belongs to “Tern Island Ferries”/,
      );
      const incident = await made<{ endedAt: null }>(`/pages/${page.id}/incidents`, {
        title: 'Booking is away',
        body: 'We **look** into it. <script>alert(1)</script> [x](javascript:alert(1))',
      });
      expect(incident).toMatchObject({ endedAt: null, updates: [{ stage: 'looking' }] });
      const html = await (await fetch(page.address)).text();
      expect(html).toContain('Booking is away');
      expect(html).toContain('<strong>look</strong>');
      expect(html).not.toContain('<script>alert(1)');
      expect(html).not.toContain('href="javascript:');
      for (const inside of [
        'Inner name',
        site,
        harbour.find('booking')!.address.split('//')[1]!.replace('/', ''),
        'web page',
        'reply.status',
      ]) {
        expect(html).not.toContain(inside);
      }
      const over = await api('POST', `/incidents/${incident.id}/updates`, {
        stage: 'over',
        body: 'All is well.',
      });
      expect(over.status).toBe(201);
      expect((over.body as { endedAt: string }).endedAt).not.toBeNull();
      await api('PATCH', `/incidents/${incident.id}`, { title: 'Booking was away' });
      expect((await api('GET', `/pages/${page.id}/incidents`)).body).toMatchObject([
        { title: 'Booking was away' },
      ] as object[]);
      expect((await api('DELETE', `/incidents/${incident.id}`)).status).toBe(204);
      expect((await api('GET', `/incidents/${incident.id}`)).status).toBe(404);
      await api('DELETE', `/watches/${watchId}`);
      expect((await fetch(page.address)).status).toBe(200);
      expect(
        (await api('PATCH', `/pages/${page.id}`, { title: 'Ferries', sections: [] })).body,
      ).toMatchObject({ title: 'Ferries' } as object);
      expect((await api('DELETE', `/pages/${page.id}`)).status).toBe(204);
      expect((await fetch(page.address)).status).toBe(404);
    });

    it('are refused with bad content, naming the field', async () => {
      const fields = await refused('POST', '/pages', {
        title: ' ',
        slug: 'Not Good',
        sections: [{ title: 'x', items: [{ watchIds: [1], label: '' }] }],
      });
      expect(fields.title).toBe('Expected a title, got nothing.');
      expect(fields.slug).toMatch(/got "Not Good"\.$/);
      expect(fields['sections[0].items[0].label']).toBe('Expected a name for the public, got nothing.');
      const unknown = { title: 'T', slug: 't', sections: [{ items: [{ watchIds: [9999], label: 'x' }] }] };
      expect((await refused('POST', '/pages', unknown)).sections).toBe('Expected known watches, got 9999.');
      const page = await made('/pages', { title: 'T', slug: 't' });
      const incident = await refused('POST', `/pages/${page.id}/incidents`, {
        title: '',
        stage: 'panic',
        body: '',
      });
      expect(incident.stage).toBe('Expected stage to be looking, found, watching, over, got "panic".');
      expect(incident.body).toBe('Expected a few words for the public, got nothing.');
      expect(Object.keys(await refused('PATCH', `/pages/${page.id}`, { slug: '' }))).toEqual(['slug']);
    });
  });

  describe('maintenance windows and tokens', () => {
    it('can be planned and called off', async () => {
      const { id: watchId } = await made('/watches', { settings: { address: site } });
      const window = {
        title: 'New mast',
        watchIds: [watchId],
        from: '2036-11-26T13:00:00Z',
        until: '2036-11-26T15:00:00Z',
      };
      const { id } = await made('/windows', window);
      expect((await api('GET', '/windows')).body).toMatchObject([
        { title: 'New mast', from: '2036-11-26T13:00:00.000Z' },
      ] as object[]);
      expect((await api('DELETE', `/windows/${id}`)).status).toBe(204);
      expect((await api('DELETE', `/windows/${id}`)).status).toBe(404);
      expect((await refused('POST', '/windows', { ...window, until: window.from })).until).toBe(
        'Expected the end to come after the beginning.',
      );
      expect((await refused('POST', '/windows', { ...window, from: 'soon' })).from).toMatch(/got "soon"\.$/);
      expect((await refused('POST', '/windows', { ...window, watchIds: [] })).watchIds).toMatch(
        /got none\.$/,
      );
    });

    it('open the door and are revoked', async () => {
      const token = await made<{ secret: string }>('/tokens', { name: 'Deployment' });
      const read = () =>
        fetch(`${product.base}/api/v1/watches`, {
          headers: { authorization: `Bearer ${token.secret}` },
        }).then((r) => r.status);
      expect(await read()).toBe(200);
      const list = (await api('GET', '/tokens')).body as { id: number; name: string }[];
      expect(JSON.stringify(list)).not.toContain(token.secret);
      expect((await api('DELETE', `/tokens/${list.find((t) => t.name === 'Deployment')!.id}`)).status).toBe(
        204,
      );
      expect(await read()).toBe(401);
      expect((await refused('POST', '/tokens', { name: '' })).name).toBe(
        'Expected a name for the token, got nothing.',
      );
    });
  });

  describe('in general', () => {
    it('tells unreadable bodies, wrong methods and unknown places apart', async () => {
      expect((await api('POST', '/watches', '{"half":')).status).toBe(400);
      expect((await api('POST', '/watches', '[]')).status).toBe(400);
      expect((await api('GET', '/nowhere')).status).toBe(404);
      expect((await api('DELETE', '/watches')).status).toBe(405);
      expect((await api('GET', '/watches/abc')).status).toBe(404);
    });

    it('describes every operation from the schemas that validate', async () => {
      const document = (await product.api('GET', '/openapi.json')).body as {
        openapi: string;
        components: { schemas: { CreateWatchBody: object } };
        paths: Record<
          string,
          Record<string, { operationId: string; requestBody?: unknown; parameters: { name: string }[] }>
        >;
      };
      expect(document.openapi).toBe('3.1.0');
      const ids = new Set<string>();
      for (const route of ROUTES) {
        const operation = document.paths[route.path || '/']![route.method.toLowerCase()]!;
        expect(operation.requestBody !== undefined).toBe((route.body ?? route.file) !== undefined);
        for (const [, name] of route.path.matchAll(/\{(\w+)\}/g)) {
          expect(operation.parameters.map((p) => p.name)).toContain(name);
        }
        ids.add(operation.operationId);
      }
      expect(ids.size).toBe(ROUTES.length);
      const text = JSON.stringify(document.components.schemas.CreateWatchBody);
      // Bounds stand in the document as the validation has them.
      expect(text).toContain('"minimum":5,"maximum":2592000');
      for (const field of [
        'address',
        'words',
        'accepted',
        'secondLooks',
        'leewaySeconds',
        'schedule',
        'host',
      ]) {
        expect(text).toContain(`"${field}"`);
      }
    });
  });
});
