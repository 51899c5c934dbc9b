import { describe, expect, it } from 'vitest';
import { array, boolean, date, lazy, mixed, number, object, string, type AnySchema } from 'yup';
import { byId, orNotFound } from '@/cases/frame/find';
import { actorOf } from '@/cases/frame/principal';
import { withoutReadOnly } from '@/cases/frame/read-only';
import { notFound, Refusal, refused } from '@/cases/frame/refusal';
import { refuseTwice } from '@/cases/frame/unique';
import { validateBody } from '@/cases/frame/validate';

/** What is refused, by field; nothing where all is taken. */
async function problems(
  schema: AnySchema,
  body: unknown,
  secrets: string[] = [],
): Promise<[string, string][]> {
  try {
    await validateBody(schema, body, secrets);
    return [];
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    return error.fields.map(({ field, message }) => [field, message]);
  }
}

const WATCH = object({
  name: string().required('Expected a name, got nothing.'),
  every: number().min(5, ({ value }) => `Expected 5 or more, got ${value}.`),
  paused: boolean(),
  since: date(),
  settings: object({ host: string(), ports: array(number()) }),
  any: mixed(),
  lists: array(),
});

describe('a body', () => {
  it('is taken as the schema has it', async () => {
    const body = {
      name: 'Kiosk',
      every: '60',
      paused: 'true',
      since: '2026-11-26',
      settings: { ports: [80] },
      any: [1],
    };
    expect(await validateBody(WATCH, body)).toMatchObject({ name: 'Kiosk', every: 60, paused: true });
    expect(
      await problems(WATCH, { name: 'Kiosk', lists: [{ a: 1 }], every: undefined, paused: undefined }),
    ).toEqual([]);
    expect(await problems(WATCH, { name: 7, any: { a: 1 } })).toEqual([]);
  });

  it.each<[unknown, string, string]>([
    ['Kiosk', '', 'Expected the body to be an object, got "Kiosk".'],
    [[1], '', 'Expected the body to be an object, got a list.'],
    [{ name: ['x'] }, 'name', 'Expected name to be text, got a list.'],
    [{ name: { a: 1 } }, 'name', 'Expected name to be text, got an object.'],
    [null, '', 'Expected the body to be an object, got null.'],
    [{ name: null }, 'name', 'Expected a name, got nothing.'],
    [{ name: 'x', every: null }, 'every', 'Expected every to be a number, got null.'],
    [{ name: 'x', settings: null }, 'settings', 'Expected settings to be an object, got null.'],
    [{ name: 'x', lists: null }, 'lists', 'Expected lists to be a list, got null.'],
    [{ name: 'x', any: null }, 'any', 'Expected any to be something, got null.'],
    [
      { name: 'x', settings: { ports: [8, null] } },
      'settings.ports[1]',
      'Expected settings.ports[1] to be a number, got null.',
    ],
    [{ name: 'x', every: true }, 'every', 'Expected every to be a number, got true.'],
    [{ name: 'x', paused: 3 }, 'paused', 'Expected paused to be true or false, got 3.'],
    [{ name: 'x', since: true }, 'since', 'Expected since to be a date, got true.'],
    [{ name: 'x', settings: 'a' }, 'settings', 'Expected settings to be an object, got "a".'],
    [{ name: 'x', settings: [] }, 'settings', 'Expected settings to be an object, got a list.'],
    [
      { name: 'x', settings: { host: {} } },
      'settings.host',
      'Expected settings.host to be text, got an object.',
    ],
    [{ name: 'x', settings: { ports: 8 } }, 'settings.ports', 'Expected settings.ports to be a list, got 8.'],
    [
      { name: 'x', settings: { ports: [1, []] } },
      'settings.ports[1]',
      'Expected settings.ports[1] to be a number, got a list.',
    ],
    [{ name: 'x', settings: { hosts: 1 } }, 'settings.hosts', 'Expected only host, ports; got hosts.'],
    [{ name: 'x', lists: 1 }, 'lists', 'Expected lists to be a list, got 1.'],
    [{ name: 'x', every: 'y'.repeat(200).split('') }, 'every', 'Expected every to be a number, got a list.'],
  ])('%j is refused at “%s”', async (body, field, message) => {
    expect(await problems(WATCH, body)).toEqual([[field, message]]);
  });

  it('is refused for all that is wrong with it, each field once', async () => {
    expect(await problems(WATCH, { every: 1, nom: 'x', a: 1 })).toEqual([
      ['nom', 'Expected only name, every, paused, since, settings, any, lists; got nom.'],
      ['a', 'Expected only name, every, paused, since, settings, any, lists; got a.'],
    ]);
    expect(await problems(WATCH, { every: 1 })).toEqual([
      ['name', 'Expected a name, got nothing.'],
      ['every', 'Expected 5 or more, got 1.'],
    ]);
    const picky = object({ name: string().min(3, 'too short').matches(/^a/, 'no a') });
    expect(await problems(picky, { name: 'x' })).toHaveLength(1);
    expect(await problems(WATCH, null)).toEqual([['', expect.any(String)]]);
    const long = { name: 'x', ['y'.repeat(200)]: 1 };
    expect((await problems(WATCH, long))[0]![1]).toMatch(/; got y{80}\.$/);
  });

  it('may be checked as a whole, under no field', async () => {
    const whole = object({ a: number() }).test('whole', 'Expected something else.', () => false);
    expect(await problems(whole, { a: 1 })).toEqual([['', 'Expected something else.']]);
    const lazily = object({ a: array(lazy(() => string())) });
    expect(await problems(lazily, { a: ['x'] })).toEqual([]);
    const broken = object({ a: string().test('broken', () => Promise.reject(new Error('sunk'))) });
    await expect(validateBody(broken, { a: 'x' })).rejects.toThrow('sunk');
  });

  it('is not repeated where it is a secret', async () => {
    const channel = object({
      name: string().matches(/^[A-Z]/, ({ value }) => `Expected a capital, got "${String(value)}".`),
      settings: object({
        address: string().matches(/^http/, ({ value }) => `Expected an address, got "${String(value)}".`),
        port: number(),
        note: string().max(3, ({ value }) => `Expected a short note, got "${String(value)}".`),
      }),
    });
    const body = { name: 'hush-hush-hush', settings: { address: 'hush-hush-hush', port: 7, note: 'long' } };
    expect(await problems(channel, body, ['address', 'port'])).toEqual([
      ['name', expect.stringMatching(/^Expected a capital, got "(?!hush)/)],
      ['settings.address', 'Expected an address.'],
      ['settings.note', 'Expected a short note, got "long".'],
    ]);
    const open = await problems(channel, body);
    expect(open.map(([, message]) => message)).toContain('Expected an address, got "hush-hush-hush".');
    expect(await problems(channel, { name: 'x' }, ['address'])).toEqual([
      ['name', 'Expected a capital, got "x".'],
    ]);
  });
});

describe('what is not done', () => {
  it('is told with a code, a sentence and fields', () => {
    const plain = new Refusal('engine.away', 'It is away.');
    expect(plain).toMatchObject({
      name: 'Refusal',
      code: 'engine.away',
      message: 'It is away.',
      fields: [],
      retryAfter: null,
    });
    const two = refused([
      { field: 'a', message: 'One.' },
      { field: 'b', message: 'Two.' },
    ]);
    expect(two).toMatchObject({ code: 'input.invalid', detail: 'One. Two.' });
    expect(notFound('watch 7')).toMatchObject({ code: 'not.found', detail: 'There is no watch 7.' });
    expect(notFound('x'.repeat(500)).detail).toHaveLength('There is no .'.length + 200);
  });

  it('is that there is none', () => {
    expect([orNotFound(0, 'x'), orNotFound('', 'x'), orNotFound(false, 'x')]).toEqual([0, '', false]);
    expect(() => orNotFound(null, 'page 3')).toThrow('There is no page 3.');
    expect(() => orNotFound(undefined, 'page 3')).toThrow('There is no page 3.');
    const all = [{ id: 1 }, { id: 2 }];
    expect(byId(all, 2, 'tag')).toBe(all[1]);
    expect(() => byId(all, 3, 'tag')).toThrow('There is no tag 3.');
  });

  it('is that there is one of the same name, but for itself', () => {
    const others = [
      { id: 1, name: 'pier' },
      { id: 2, name: 'house' },
    ];
    const message = 'Expected a name of its own; there is one called “pier”.';
    expect(() => refuseTwice('pier', others)).toThrow(message);
    expect(() => refuseTwice('pier', others, 2)).toThrow(message);
    expect(() => refuseTwice('pier', others, 1)).not.toThrow();
    expect(() => refuseTwice('Pier', others)).not.toThrow();
    try {
      refuseTwice('pier', others);
    } catch (error) {
      expect((error as Refusal).fields).toEqual([{ field: 'name', message }]);
    }
  });

  it('leaves out of a body what is only read', () => {
    const body = { id: 1, version: 'a', name: 'x', shown: 'y', createdAt: 0 };
    expect(withoutReadOnly(body, ['shown', 'createdAt'])).toEqual({ name: 'x' });
    expect(withoutReadOnly(body, [])).toEqual({ name: 'x', shown: 'y', createdAt: 0 });
  });

  it('and what is, is noted by who asked', () => {
    const rights = new Set<never>();
    const account = { id: 7, email: 'ines@ternferry.test' };
    expect(actorOf({ type: 'account', account, sessionId: 1, rights })).toEqual({
      kind: 'account',
      id: 7,
      name: 'ines@ternferry.test',
    });
    expect(actorOf({ type: 'token', tokenId: 3, tokenName: 'Office', rights })).toEqual({
      kind: 'token',
      id: 3,
      name: 'Office',
    });
    expect(actorOf({ type: 'job', address: '192.0.2.7', rights })).toEqual({
      kind: 'job',
      id: null,
      name: '192.0.2.7',
    });
  });
});
