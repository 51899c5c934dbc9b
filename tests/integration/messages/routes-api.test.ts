import { describe, expect, it } from 'vitest';
import { openStore } from '@/store/db/open';
import { Harbour } from '@/standins/harbour';
import { makeAuthority } from '@/standins/certificates';
import { freePort, until } from '../helpers';
import { withinProcess, type Within } from '../within';

interface RouteAnswer {
  id: number;
  name: string;
  enabled: boolean;
  sentence: string;
  version: string;
  watches: { all: boolean; tags: string[]; except: { ids: number[] } };
  topics: string[];
  steps: { after: number; channels: number[] }[];
  again: number | null;
  hours: object | null;
}

describe('routes through the API', () => {
  let product: Within;
  withinProcess((started) => (product = started));

  const api = (method: string, path: string, body?: object) => product.api(method, path, body);
  const connect = async (name: string, address = 'http://127.0.0.1:9/') =>
    (
      (await api('POST', '/channels', { kind: 'webhook', name, settings: { address } })).body as {
        id: number;
      }
    ).id;
  const routes = async () => (await api('GET', '/routes')).body as RouteAnswer[];
  const refused = async (method: string, path: string, body: object) => {
    const answer = await api(method, path, body);
    expect(answer.status).toBe(422);
    return (answer.body as { errors: { field: string; message: string }[] }).errors;
  };

  it('begin with one, for everything; a channel that is connected hears by it', async () => {
    const [first] = await routes();
    expect(first).toMatchObject({
      name: 'Everyone, at once',
      watches: { all: true },
      steps: [{ after: 0, channels: [] }],
      sentence: 'When anything happens to any watch or to Calm Lantern itself: nobody hears yet.',
    });
    const id = await connect('Crew room');
    expect((await routes())[0]).toMatchObject({
      steps: [{ after: 0, channels: [id] }],
      sentence: expect.stringMatching(/: Crew room hears at once\.$/) as string,
    });
  });

  it('are made, read, changed by what was read, and deleted', async () => {
    const desk = await connect('Desk mail');
    const made = await api('POST', '/routes', {
      name: 'On the piers',
      watches: { tags: ['pier'] },
      topics: ['down', 'recovered'],
      steps: [{ after: 60, channels: [desk] }],
      again: 3600,
      hours: { zone: 'Europe/Lisbon', spans: [{ days: [1, 2], from: '07:00', until: '18:00' }] },
    });
    expect(made.status).toBe(201);
    const { id, sentence } = made.body as RouteAnswer;
    expect(sentence).toBe(
      'For anything tagged pier, when it is down: Desk mail hears after 1 min, then again every 1 h until someone has it. ' +
        'It speaks on Mondays and Tuesdays from 07:00 to 18:00 (Europe/Lisbon); the rest is told together when they open.',
    );
    const read = (await api('GET', `/routes/${id}`)).body as RouteAnswer;
    const changed = await api('PATCH', `/routes/${id}`, { ...read, again: null, hours: null });
    expect(changed.body).toMatchObject({
      name: 'On the piers',
      again: null,
      hours: null,
      watches: { tags: ['pier'] },
    });
    expect((await api('DELETE', `/routes/${id}`)).status).toBe(204);
    expect((await api('GET', `/routes/${id}`)).status).toBe(404);
  });

  it('say what they would be about before they are made: how many watches, and the first of them', async () => {
    const schedule = { type: 'period', everySeconds: 3600 };
    const make = async (name: string, rest: object) =>
      ((await api('POST', '/watches', { kind: 'checkin', name, schedule, ...rest })).body as { id: number })
        .id;
    const kiosk = await make('Ticket kiosk', { tags: ['scoped'], tells: 'nobody' });
    const tide = await make('tide table', { tags: ['scoped'], urgency: 'can-wait' });
    const asleep = await make('A buoy', { tags: ['scoped'] });
    await api('POST', `/watches/${asleep}/pause`);
    const scope = async (watches: object) => (await api('POST', '/route-scopes', { watches })).body;
    expect(await scope({ tags: ['scoped'] })).toEqual({
      watches: 2,
      example: {
        ...{ id: kiosk, name: 'Ticket kiosk', kind: 'checkin', section: null, tags: ['scoped'] },
        ...{ urgency: 'soon', tells: 'nobody', tellsTo: [] },
      },
    });
    expect(await scope({ tags: ['scoped'], except: { ids: [kiosk] } })).toMatchObject({
      watches: 1,
      example: { id: tide, urgency: 'can-wait', tells: 'by-routes' },
    });
    expect(await scope({ ids: [asleep, 99_999] })).toEqual({ watches: 0, example: null });
    expect(await scope({})).toMatchObject({ watches: 0 });
    expect(await refused('POST', '/route-scopes', { watches: { ids: ['x'] } })).toMatchObject([
      { field: 'watches.ids[0]' },
    ]);
    for (const id of [kiosk, tide, asleep]) await api('DELETE', `/watches/${id}`);
  });

  it('are refused with what was expected and what came', async () => {
    const route = { name: 'x', steps: [{ after: 0, channels: [] }] };
    const one = async (change: object) => (await refused('POST', '/routes', { ...route, ...change }))[0]!;
    expect(await one({ name: '' })).toMatchObject({ field: 'name' });
    expect(await one({ steps: [] })).toMatchObject({
      field: 'steps',
      message: 'Expected at least one step.',
    });
    expect(await one({ steps: [{ after: 60 }, { after: 60 }] })).toMatchObject({
      message: 'Expected steps that come one after the other: each later than the one before.',
    });
    expect(await one({ steps: [{ after: -1 }] })).toMatchObject({ field: 'steps[0].after' });
    expect(await one({ steps: [{ after: 0, channels: [999] }] })).toEqual({
      field: 'steps[0].channels',
      message: 'Expected channels that there are, got 999.',
    });
    expect(await one({ topics: [] })).toMatchObject({ message: 'Expected at least one thing to be told.' });
    expect((await one({ topics: ['weather'] })).message).toMatch(
      /^Expected topics among down, .*, got "weather"\.$/,
    );
    expect(await one({ again: 5 })).toMatchObject({ field: 'again' });
    const hours = (change: object) =>
      one({ hours: { zone: 'UTC', spans: [{ days: [1], from: '07:00', until: '18:00' }], ...change } });
    expect(await hours({ zone: 'Tern/Island' })).toMatchObject({ field: 'hours.zone' });
    expect(await hours({ spans: [] })).toMatchObject({ field: 'hours.spans' });
    const span = { days: [1], from: '07:00', until: '18:00' };
    expect(await hours({ spans: [{ ...span, from: '24:00' }] })).toMatchObject({
      field: 'hours.spans[0].from',
      message: 'Expected a beginning from 00:00 to 23:59, got "24:00".',
    });
    expect(await hours({ spans: [{ ...span, until: '25:00' }] })).toMatchObject({
      field: 'hours.spans[0].until',
    });
    expect(await hours({ spans: [{ ...span, until: '7:5' }] })).toMatchObject({
      field: 'hours.spans[0].until',
    });
    expect(await hours({ spans: [{ ...span, days: [] }] })).toMatchObject({ field: 'hours.spans[0].days' });
    expect(await hours({ daysOff: ['2026-02-30'] })).toMatchObject({ field: 'hours.daysOff[0]' });
    expect(await hours({ outside: 'never' })).toMatchObject({ field: 'hours.outside' });
  });

  it('tell the second of two who change one', async () => {
    const [{ id, version }] = (await routes()) as [RouteAnswer];
    const change = (name: string) =>
      product.api('PATCH', `/routes/${id}`, { name }, { 'if-match': `"${version}"` });
    const answers = [(await change('One')).status, (await change('Two')).status];
    expect(answers).toEqual([200, 412]);
    await api('PATCH', `/routes/${id}`, { name: 'Everyone, at once' });
  });

  it('no longer name a channel that was disconnected', async () => {
    const gone = await connect('Old room');
    expect((await routes())[0]!.steps[0]!.channels).toContain(gone);
    await api('DELETE', `/channels/${gone}`);
    expect((await routes())[0]!.steps[0]!.channels).not.toContain(gone);
  });

  it('lead what happens to who is to hear, at once, later, and not at all', async () => {
    const harbour = await Harbour.start({ basePort: 0, authority: await makeAuthority(), jobs: [] });
    const room = await connect('Harbour room', `http://127.0.0.1:${harbour.port}/room/hook`);
    const [{ id }] = (await routes()) as [RouteAnswer];
    await api('PATCH', `/routes/${id}`, {
      steps: [{ after: 1, channels: [room] }],
      watches: { all: true, except: { tags: ['quiet'] } },
    });
    const port = await freePort();
    const make = async (name: string, tags: string[]) =>
      (
        (
          await api('POST', '/watches', {
            kind: 'port',
            name,
            tags,
            settings: { host: '127.0.0.1', port },
            secondLooks: 0,
            everySeconds: 5,
          })
        ).body as { id: number }
      ).id;
    const quiet = await make('Quiet kiosk', ['quiet']);
    const loud = await make('Loud kiosk', []);
    const foretold = async (watch: number) => (await api('GET', `/watches/${watch}/foretold`)).body;
    expect(await foretold(loud)).toEqual({
      sentence: 'Harbour room after 1 s.',
      said: [{ channelId: room, afterSeconds: 1, again: false }],
    });
    expect(await foretold(quiet)).toEqual({ sentence: 'Nobody would be told.', said: [] });
    await until(
      () => harbour.room.messages.some(({ text }) => text.includes('Loud kiosk is down')),
      'the loud one',
    );
    const db = await openStore(product.folder, { migrate: false });
    const rules = await db('telling_notes')
      .where({ thread: `w${quiet}` })
      .pluck('rule');
    expect(rules).toEqual(['no-route']);
    await db.destroy();
    // Paused while down: whoever heard of it hears that too.
    await api('PATCH', `/watches/${loud}`, { paused: true });
    await until(
      () => harbour.room.messages.some(({ text }) => text.includes('Loud kiosk was paused while down')),
      'the end of it',
    );
    expect(harbour.room.messages.some(({ text }) => text.includes('Quiet'))).toBe(false);
    await harbour.stop();
  });

  it('say who has it, to whoever heard; steps rest until it is given back', async () => {
    const harbour = await Harbour.start({ basePort: 0, authority: await makeAuthority(), jobs: [] });
    const room = await connect('Watch room', `http://127.0.0.1:${harbour.port}/room/hook`);
    const [{ id: route }] = (await routes()) as [RouteAnswer];
    await api('PATCH', `/routes/${route}`, {
      steps: [{ after: 0, channels: [room] }],
      watches: { all: true },
    });
    const port = await freePort();
    const made = await api('POST', '/watches', {
      kind: 'port',
      name: 'South kiosk',
      settings: { host: '127.0.0.1', port },
      secondLooks: 0,
    });
    const { id } = made.body as { id: number };
    const heard = (words: string) =>
      until(() => harbour.room.messages.some(({ text }) => text.includes(words)), words);
    const conversation = async () => (await api('GET', `/watches/${id}/conversation`)).body;
    await heard('South kiosk is down');
    await until(
      async () => ((await conversation()) as { heard: number[] }).heard.length === 1,
      'it is noted',
    );
    expect(await conversation()).toEqual({ open: true, heard: [room], taken: null });
    expect(await refused('POST', `/watches/${id}/take`, { until: 'tomorrow' })).toMatchObject([
      { field: 'until' },
    ]);
    const until2036 = '2036-11-26T13:00:00Z';
    expect((await api('POST', `/watches/${id}/take`, { by: 'Ines', until: until2036 })).status).toBe(204);
    await heard('Ines has South kiosk');
    expect(await conversation()).toMatchObject({
      taken: { by: 'Ines', untilAt: '2036-11-26T13:00:00.000Z' },
    });
    expect((await api('POST', `/watches/${id}/give-back`, {})).status).toBe(204);
    await heard('gave South kiosk back');
    expect(await conversation()).toMatchObject({ open: true, taken: null });
    // Deleted while down: whoever heard of it hears that.
    await api('DELETE', `/watches/${id}`);
    await heard('South kiosk was deleted while down');
    await harbour.stop();
  });

  it('have nothing to take of what is well', async () => {
    const made = await api('POST', '/watches', {
      kind: 'checkin',
      name: 'Weather pull',
      schedule: { type: 'period', everySeconds: 900 },
    });
    const { id } = made.body as { id: number };
    const answer = await api('POST', `/watches/${id}/take`, {});
    expect([answer.status, (answer.body as { code: string }).code]).toEqual([409, 'watch.not-told']);
    expect((await api('GET', `/watches/${id}/conversation`)).body).toEqual({
      open: false,
      heard: [],
      taken: null,
    });
  });
});
