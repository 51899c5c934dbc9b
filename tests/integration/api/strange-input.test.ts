import { beforeAll, describe, expect, it } from 'vitest';
import { ROUTES } from '@/api/routes';
import { ask, makeCheckin } from '../helpers';
import { withinProcess, type Within } from '../within';

describe('what programs send', () => {
  let product: Within;
  withinProcess((started) => (product = started));
  beforeAll(() => makeCheckin(product));

  const STRANGE: unknown[] = [
    [],
    {},
    ['a'],
    { toString: null, valueOf: 1 },
    JSON.parse('{"__proto__":{"x":1}}'),
    'x'.repeat(2000),
    'constructor',
    '__proto__',
    1e300,
    null,
  ];

  /** One of them for each field, another for the next: every field of every operation gets one, and all are given. */
  let given = 0;
  const strangeFor = (field: string) => ({ [field]: STRANGE[(given += 1) % STRANGE.length] });

  it('is answered with what is wrong with it, at every operation and in every field, and never with a fault', async () => {
    const faults: string[] = [];
    let asked = 0;
    for (const route of ROUTES.filter((one) => one.body)) {
      const { body } = route;
      const schemas =
        typeof body === 'object' && 'oneOf' in body && !('describe' in body) ? body.oneOf() : [body];
      const fields = new Set(
        schemas.flatMap((schema) => Object.keys((schema as { fields?: object }).fields ?? {})),
      );
      const path = route.path.replace(/\{\w+\}/g, '1');
      const bodies: unknown[] = [
        ...STRANGE,
        JSON.parse('{"__proto__":1}'),
        { constructor: 1 },
        { prototype: [] },
        ...[...fields].map((field) => strangeFor(field)),
      ];
      for (const one of bodies) {
        const { status, body: said } = await product.api(
          route.method,
          path,
          one === undefined ? '' : JSON.stringify(one),
        );
        asked += 1;
        if (status >= 500 && status !== 503)
          faults.push(`${route.method} ${path} ${JSON.stringify(one)}: ${status}`);
        // The library has words of its own for what a schema says nothing of.
        for (const { message } of (said as { errors?: { message: string }[] } | null)?.errors ?? [])
          if (/must be|cannot be null|must have|field must/.test(message))
            faults.push(`${route.method} ${path}: ${message}`);
        if (JSON.stringify(said).length > 60_000) faults.push(`${route.method} ${path}: a long answer`);
      }
    }
    expect(faults).toEqual([]);
    expect(asked).toBeGreaterThan(1000);
  }, 300_000);

  it('is refused by name where an object stands for text, or a field is one nobody has', async () => {
    const errorsOf = async (body: unknown) =>
      (await product.api('POST', '/channels', body)).body as { status: number; errors: { field: string }[] };
    expect(
      await errorsOf({ kind: 'webhook', name: { toString: 1 }, settings: { address: 'x' } }),
    ).toMatchObject({
      status: 422,
      errors: [{ field: 'name', message: 'Expected name to be text, got an object.' }],
    });
    for (const when of ['*/10 * * * *', ['*/10 * * * *', 'UTC'], 7]) {
      const probe = { kind: 'web', name: 'Tide', settings: { address: 'http://127.0.0.1:9/' }, when };
      const { body } = await product.api('POST', '/watches', probe);
      expect(body).toMatchObject({
        status: 422,
        errors: [
          { field: 'when', message: 'Expected when to be null, or an object of expression and zone.' },
        ],
      });
    }
    const polluted = await product.api('POST', '/tokens', '{"name":"a","__proto__":{"x":1}}');
    expect(polluted.body).toMatchObject({ status: 422, errors: [{ field: '__proto__' }] });
  });

  it.each(['constructor', 'toString', '__proto__'])(
    'may be called “%s”, as every object has something by that name',
    async (name) => {
      const good = async (method: string, path: string, body?: unknown) => {
        const answer = await product.api(method, path, body);
        expect(answer.status, `${path}: ${JSON.stringify(answer.body)}`).toBeLessThan(300);
        return answer.body as { id: number };
      };
      const watch = await makeCheckin(product, { name, section: name, tags: [name] });
      await good('PATCH', '/shared-settings', { level: 'section', section: name, longestRunSeconds: 77 });
      expect(await good('GET', `/watches/${watch.id}`)).toMatchObject({
        ...{ name, section: { name }, tags: [name] },
        ...{ longestRunSeconds: 77, sources: { longestRunSeconds: 'section' } },
      });
      for (const is of ['done', 'begun', 'done']) {
        expect((await ask(`${watch.checkinAddress}?is=${is}&run=${name}`)).status).toBe(200);
      }
      const runs = (await good('GET', `/watches/${watch.id}/runs`)) as unknown as { tookMs: unknown }[];
      expect(runs.map(({ tookMs }) => typeof tookMs)).toEqual(['number', 'object']);
      // The framework leaves a parameter by the third name out of the address.
      const query = await product.api('GET', `/watches?${name.replace('__proto__', 'valueOf')}=1`);
      expect(query.body).toMatchObject({
        status: 422,
        errors: [{ message: expect.stringMatching(/^Expected only /) }],
      });
      const find = await product.api('POST', '/channel-choices', { kind: 'bot', field: name, settings: {} });
      expect(find.body).toMatchObject({ status: 422, errors: [{ field: 'field' }] });
    },
  );

  it('may not be nested without end, and is not repeated at length', async () => {
    const deep = await product.api('POST', '/tokens', `${'['.repeat(2000)}${']'.repeat(2000)}`);
    expect(deep.body).toMatchObject({
      status: 400,
      detail: 'Expected at most 32 levels of lists and objects.',
    });
    const shallow = await product.api('POST', '/tokens', JSON.stringify({ name: '[[[{{{'.repeat(4) }));
    expect(shallow.status).toBe(201);
    const long = await product.api('POST', '/tokens', { name: 'x'.repeat(900_000) });
    expect(long.status).toBe(422);
    expect(JSON.stringify(long.body).length).toBeLessThan(5000);
  });

  it('cannot hold the front door up with a calendar that never ends, or lasts for ages', async () => {
    const calendar = (rest: string) =>
      `BEGIN:VCALENDAR\r\nVERSION:2.0\r\nBEGIN:VEVENT\r\nUID:1\r\n${rest}\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n`;
    const endless = product.api('POST', '/days-off', {
      text: calendar('DTSTART;VALUE=DATE:20260101\r\nRRULE:FREQ=DAILY;BYMONTH=2;BYMONTHDAY=31'),
    });
    const asked = performance.now();
    expect((await ask(`${product.base}/healthz`)).status).toBe(200);
    expect(performance.now() - asked).toBeLessThan(1500);
    expect((await endless).body).toMatchObject({ status: 422, errors: [{ field: 'text' }] });
    const ages = await product.api('POST', '/days-off', {
      text: calendar('DTSTART;VALUE=DATE:00010101\r\nDTEND;VALUE=DATE:99991231'),
    });
    expect((ages.body as { days: string[] }).days).toHaveLength(1000);
  });
});
