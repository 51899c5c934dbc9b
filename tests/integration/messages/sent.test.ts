import { beforeAll, describe, expect, it } from 'vitest';
import { makeAuthority } from '@/standins/certificates';
import { Harbour } from '@/standins/harbour';
import { PRACTICE_BOT } from '@/standins/rooms/bot-room';
import { until } from '../helpers';
import { withinProcess, type Within } from '../within';

interface Delivery {
  id: number;
  channelId: number;
  watchId: number | null;
  title: string;
  state: string;
}

interface Story {
  text: { title: string; lines: string[] };
  tries: { ok: boolean; said: string }[];
  route: { name: string } | null;
  why: string;
  notes: { channel: string | null; route: string | null; why: string }[];
}

describe('what was sent, and what is written down for a watch', () => {
  let product: Within;
  let harbour: Harbour;
  let rooms: string;
  let crew: number;
  let office: number;
  withinProcess((started) => (product = started));
  const api = (method: string, path: string, body?: unknown) => product.api(method, path, body);
  const sent = async (query = '') => (await api('GET', `/deliveries${query}`)).body as Delivery[];
  const story = async (id: number) => (await api('GET', `/deliveries/${id}/story`)).body as Story;
  const connect = async (body: object) => ((await api('POST', '/channels', body)).body as { id: number }).id;
  const roomOf = (id: string) => harbour.rooms.find((room) => room.id === id)!;

  beforeAll(async () => {
    harbour = await Harbour.start({ basePort: 0, authority: await makeAuthority(), jobs: [] });
    rooms = `http://127.0.0.1:${harbour.port}/rooms`;
    crew = await connect({ kind: 'webhook', name: 'Crew room', settings: { address: `${rooms}/crew/hook` } });
    office = await connect({
      kind: 'matrix',
      name: 'Harbour office',
      settings: { address: `${rooms}/matrix`, token: 'the-boats-sail-at-dawn', room: '#crew:ternferry.test' },
    });
    return () => harbour.stop();
  });

  it('comes from a section as all settings do, and stands in the message and on the watch', async () => {
    const link = 'https://wiki.ternferry.test/slipway';
    expect((await api('POST', '/sections', { name: 'Piers' })).status).toBe(201);
    const shared = { level: 'section', section: 'Piers', urgency: 'any-hour', runbook: link };
    expect((await api('PATCH', '/shared-settings', shared)).status).toBe(200);
    const made = await api('POST', '/watches', {
      kind: 'port',
      name: 'Slipway',
      section: 'Piers',
      settings: { host: '127.0.0.1', port: 1 },
      secondLooks: 0,
      runbookNote: 'Ring Ines.',
    });
    expect(made.status).toBe(201);
    expect(made.body).toMatchObject({
      urgency: 'any-hour',
      runbook: link,
      runbookNote: 'Ring Ines.',
      sources: { urgency: 'section', runbook: 'section', runbookNote: 'watch' },
    } as object);
    await until(() => roomOf('crew').messages.some(({ text }) => text.includes('Slipway is down')), 'told');
    const { text } = roomOf('crew').messages.find((one) => one.text.includes('Slipway is down'))!;
    expect(text).toContain('\nRing Ines.\nRunbook: https://wiki.ternferry.test/slipway\n');
  });

  it.each([
    [{ urgency: 'now' }, 'urgency', 'Expected urgency to be one of can-wait, soon, any-hour, got "now".'],
    [{ runbook: 'wiki' }, 'runbook', 'Expected an address that begins with http:// or https://, got "wiki".'],
    [{ runbook: 'javascript:alert(1)' }, 'runbook', 'got "javascript:alert(1)".'],
    [{ runbookNote: 'x'.repeat(1001) }, 'runbookNote', 'at most 1000 characters'],
  ])('is refused where it is not one: %j', async (change, field, message) => {
    const [watch] = (await api('GET', '/watches')).body as { id: number }[];
    const answer = await api('PATCH', `/watches/${watch!.id}`, change);
    expect(answer.status).toBe(422);
    expect((answer.body as { errors: object[] }).errors).toEqual([
      { field, message: expect.stringContaining(message) as string },
    ]);
  });

  it('is narrowed by channel, watch, outcome and what it says', async () => {
    await until(async () => (await sent('?outcome=delivered')).length === 2, 'both delivered');
    const all = await sent();
    expect(new Set(all.map(({ channelId }) => channelId))).toEqual(new Set([crew, office]));
    expect((await sent(`?channel=${crew}`)).map(({ channelId }) => channelId)).toEqual([crew]);
    expect(await sent(`?watch=${all[0]!.watchId!}`)).toHaveLength(2);
    expect(await sent('?watch=999')).toEqual([]);
    expect(await sent('?says=down')).toHaveLength(2);
    expect(await sent('?says=recovered')).toEqual([]);
    expect(await sent('?outcome=given-up')).toEqual([]);
    for (const [query, field] of [
      ['?outcome=lost', 'outcome'],
      ['?says=hello', 'says'],
      ['?channel=crew', 'channel'],
      ['?colour=red', 'colour'],
    ]) {
      const answer = await api('GET', `/deliveries${query}`);
      expect(answer.status, query).toBe(422);
      expect((answer.body as { errors: { field: string }[] }).errors[0]!.field).toBe(field);
    }
  });

  it('is told one by one: its words, each try, why it went there, and why others did not hear', async () => {
    const [one] = await sent(`?channel=${crew}`);
    expect(await story(one!.id)).toMatchObject({
      text: { title: 'Slipway is down' },
      tries: [{ ok: true, said: '200 received' }],
      route: { name: 'Everyone, at once' },
      why: 'it is its turn on the route',
    });
    expect((await api('GET', '/deliveries/99999/story')).status).toBe(404);
  });

  it('is sent once more by hand, but not while it waits, nor where nothing is sent', async () => {
    const [one] = await sent(`?channel=${crew}`);
    const before = roomOf('crew').messages.length;
    const again = await api('POST', `/deliveries/${one!.id}/again`, {});
    expect(again.body).toMatchObject({ channelId: crew, title: 'Slipway is down' } as object);
    await until(() => roomOf('crew').messages.length === before + 1, 'sent again');
    const { id } = again.body as { id: number };
    await until(async () => (await story(id)).tries.length === 1, 'noted');
    expect(await story(id)).toMatchObject({ why: 'somebody sent it once more' });
    roomOf('crew').mode = 'busy';
    const waits = (await api('POST', `/deliveries/${one!.id}/again`, {})).body as { id: number };
    expect(await api('POST', `/deliveries/${waits.id}/again`, {})).toMatchObject({
      status: 409,
      body: { code: 'delivery.waiting' },
    });
    roomOf('crew').mode = 'fine';
    expect((await api('PATCH', `/channels/${office}`, { enabled: false })).status).toBe(200);
    const [theirs] = await sent(`?channel=${office}`);
    expect(await api('POST', `/deliveries/${theirs!.id}/again`, {})).toMatchObject({
      status: 409,
      body: { code: 'channel.rests' },
    });
    expect((await api('POST', '/deliveries/99999/again', {})).status).toBe(404);
  });

  it('what the other side can tell is asked of it, and its refusal is told at the field', async () => {
    const ask = (body: unknown) => api('POST', '/channel-choices', body);
    const settings = { address: `${rooms}/bot`, token: PRACTICE_BOT.token };
    expect(await ask({ kind: 'bot', field: 'chat', settings })).toMatchObject({
      status: 200,
      body: [{ value: '4711', text: 'Crew chat (4711)' }],
    });
    const wrong = await ask({
      kind: 'bot',
      field: 'chat',
      settings: { ...settings, token: '17956:wrong-token' },
    });
    expect(wrong).toMatchObject({ status: 422 });
    const { errors } = wrong.body as { errors: { field: string; message: string }[] };
    expect(errors).toEqual([
      { field: 'settings.chat', message: expect.stringContaining('not known there') as string },
    ]);
    expect(JSON.stringify(errors)).not.toContain('wrong-token');
    for (const [body, field] of [
      [{ kind: 'bot', field: 'token', settings }, 'field'],
      [{ kind: 'pigeon', field: 'chat', settings }, 'field'],
      [{ kind: 'bot', field: 'chat', settings: { token: 'x' } }, 'settings.address'],
      [{ kind: 'bot', field: 'chat', settings: 'x' }, 'settings'],
      [{ kind: 'bot', field: 'chat', settings: { ...settings, colour: 'red' } }, 'settings.colour'],
      [{ field: 'chat', settings }, 'kind'],
    ] as const) {
      const answer = await ask(body);
      expect(answer.status, JSON.stringify(body)).toBe(422);
      const fields = (answer.body as { errors: { field: string }[] }).errors.map((one) => one.field);
      expect(fields, JSON.stringify(body)).toContain(field);
    }
  });

  it('the key for pushes is made once, and its other half is never told', async () => {
    const [one, again] = [await api('POST', '/push-key', {}), await api('POST', '/push-key', {})];
    expect(one.body).toEqual(again.body);
    expect(Object.keys(one.body)).toEqual(['publicKey']);
    expect(Buffer.from((one.body as { publicKey: string }).publicKey, 'base64url')).toHaveLength(65);
    const phone = await connect({
      kind: 'push',
      name: 'Ines’s phone',
      settings: harbour.phone.subscription(`${rooms}/phone`),
    });
    expect((await api('POST', `/channels/${phone}/test`, {})).body).toEqual({
      ok: true,
      retry: false,
      said: 'taken by the push service',
    });
    roomOf('phone').mode = 'refusing';
    // A device that was switched off is asked no more.
    const { id } = (await sent(`?channel=${crew}`))[0]!;
    expect(id).toBeGreaterThan(0);
    const made = await api('POST', '/watches', {
      kind: 'port',
      name: 'Bollard',
      settings: { host: '127.0.0.1', port: 1 },
      secondLooks: 0,
    });
    expect(made.status).toBe(201);
    await until(async () => {
      const channels = (await api('GET', '/channels')).body as { id: number; enabled: boolean }[];
      return channels.some((channel) => channel.id === phone && !channel.enabled);
    }, 'sent to rest');
  });
});
