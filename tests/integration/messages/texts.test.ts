import { beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { openStore } from '@/store/db/open';
import { AnsweringRoom } from '../../unit/channels/answering';
import { sayTo } from '../say-to';
import { withinProcess, type Within } from '../within';

interface Text {
  id: number;
  version: string;
  channelId: number | null;
  happening: string;
  title: string;
  body: string;
  trouble: string | null;
}

interface Trial {
  text: { title: string; lines: string[]; link: string } | null;
  problem: string | null;
  saidAt: string | null;
  about: string;
}

interface Refused {
  errors: { field: string; message: string }[];
}

describe('texts of one’s own', () => {
  let product: Within;
  const room = new AnsweringRoom();
  withinProcess((started) => (product = started));
  const api = (method: string, path: string, body?: unknown) => product.api(method, path, body);
  const errorsOf = (answer: { status: number; body: unknown }) => {
    expect(answer.status).toBe(422);
    return (answer.body as Refused).errors;
  };
  const write = (rest: object) =>
    api('POST', '/message-texts', { happening: 'down', body: 'Look!', ...rest });
  const trial = async (body: object) => (await api('POST', '/message-text-trials', body)).body as Trial;
  let crew: number;

  beforeAll(async () => {
    await room.start();
    const connected = await api('POST', '/channels', {
      kind: 'webhook',
      name: 'Crew room',
      settings: { address: `${room.base}/crew` },
    });
    crew = (connected.body as { id: number }).id;
    return () => room.stop();
  });
  beforeEach(async () => {
    for (const { id } of (await api('GET', '/message-texts')).body as Text[])
      await api('DELETE', `/message-texts/${id}`);
    await api('PATCH', `/channels/${crew}`, { language: 'en' });
    room.asked = [];
  });

  it('are written, read, changed and given back', async () => {
    const made = await write({ channelId: crew, title: '{{ name }}!' });
    expect(made.status).toBe(201);
    const text = made.body as Text;
    expect(made.headers.get('location')).toMatch(new RegExp(`/api/v1/message-texts/${text.id}$`));
    expect(text).toMatchObject({ channelId: crew, happening: 'down', title: '{{ name }}!', trouble: null });
    const read = (await api('GET', `/message-texts/${text.id}`)).body as Text;
    const changed = await api('PATCH', `/message-texts/${text.id}`, { ...read, body: 'Go there.' });
    expect(changed.body).toMatchObject({ title: '{{ name }}!', body: 'Go there.' });
    expect((await api('DELETE', `/message-texts/${text.id}`)).status).toBe(204);
    expect((await api('GET', '/message-texts')).body).toEqual([]);
  });

  it('tell the second of two editors', async () => {
    const { id, version } = (await write({})).body as Text;
    const ifMatch = { 'if-match': `"${version}"` };
    expect((await product.api('PATCH', `/message-texts/${id}`, { body: 'First' }, ifMatch)).status).toBe(200);
    expect((await product.api('PATCH', `/message-texts/${id}`, { body: 'Second' }, ifMatch)).status).toBe(
      412,
    );
  });

  it('are one for each channel and happening', async () => {
    await write({ channelId: crew });
    expect(errorsOf(await write({ channelId: crew }))).toEqual([
      { field: 'happening', message: 'There is a text of “down” for “Crew room” already.' },
    ]);
    expect((await write({})).status).toBe(201);
    expect(errorsOf(await write({}))[0]!.message).toBe(
      'There is a text of “down” for every channel already.',
    );
    expect((await write({ happening: 'recovered' })).status).toBe(201);
  });

  it.each([
    [{ happening: 'test' }, 'happening', /Expected a happening, one of down, .* got "test"/],
    [{ happening: undefined }, 'happening', /got nothing/],
    [{ channelId: 999 }, 'channelId', /There is no channel 999/],
    [{ body: '{% if name %}' }, 'body', /can be filled in: tag \{% if name %\} not closed/],
    [{ body: ' ', title: '' }, 'body', /Expected a title or a text, got neither/],
    [{ body: 'x'.repeat(4001) }, 'body', /at most 4000 characters, got 4001/],
    [{ title: 'x'.repeat(501) }, 'title', /at most 500 characters, got 501/],
    [{ title: null }, 'title', /./],
    [{ body: null }, 'body', /./],
    [{ tone: 'loud' }, 'tone', /./],
  ])('are refused with why: %o', async (rest, field, why) => {
    const errors = errorsOf(await write(rest));
    expect(errors.find((one) => one.field === field)?.message).toMatch(why);
    expect((await api('GET', '/message-texts')).body).toEqual([]);
  });

  it('are tried on what is made up where nothing of the kind was said, in the language of the channel', async () => {
    const body = { channelId: crew, happening: 'unsteady', title: '{{ name }}', body: '{{ text }}' };
    expect(await trial(body)).toMatchObject({ saidAt: null, about: 'Booking site', problem: null });
    await api('PATCH', `/channels/${crew}`, { language: 'fr' });
    const { text } = await trial(body);
    expect(text!.lines).toEqual(['6 changements en 1 h.', expect.stringContaining('calme') as string]);
  });

  it('are tried on what was said last, drills aside', async () => {
    const db = await openStore(product.folder);
    const at = Date.parse('2026-11-26T08:00:00Z');
    await sayTo(db, { event: { kind: 'steady', since: at }, name: 'Tide tables', channels: [crew], at });
    await db.destroy();
    const { text, saidAt, about } = await trial({ happening: 'steady', body: '{{ name }} is calm' });
    expect({ lines: text!.lines, saidAt, about }).toEqual({
      lines: ['Tide tables is calm'],
      saidAt: '2026-11-26T08:00:00.000Z',
      about: 'Tide tables',
    });
  });

  it('say in a trial why they cannot be filled in', async () => {
    expect(await trial({ happening: 'down', body: '{{ nobody }}' })).toMatchObject({
      text: null,
      problem: expect.stringMatching(/^It cannot be filled in: undefined variable: nobody/) as string,
    });
  });

  it('are sent as a test, and nothing is kept', async () => {
    const test = { channelId: crew, happening: 'down', title: 'Try {{ name }}', body: '{{ take }}' };
    expect((await api('POST', '/message-text-tests', test)).body).toMatchObject({ ok: true });
    const { text } = room.json() as { text: string };
    expect(text.split('\n').slice(0, 2)).toEqual(['Try Booking site', `${product.base}/take/example`]);
    expect((await api('GET', '/message-texts')).body).toEqual([]);
    const broken = await api('POST', '/message-text-tests', { ...test, body: '{{ nobody }}' });
    expect(errorsOf(broken)[0]).toMatchObject({ field: 'body' });
    expect(
      errorsOf(await api('POST', '/message-text-tests', { happening: 'down', body: 'x' }))[0],
    ).toMatchObject({
      field: 'channelId',
    });
  });

  it('go with their channel', async () => {
    const other = await api('POST', '/channels', {
      kind: 'webhook',
      name: 'Pier room',
      settings: { address: `${room.base}/pier` },
    });
    const { id } = other.body as { id: number };
    await write({ channelId: id });
    await api('DELETE', `/channels/${id}`);
    expect((await api('GET', '/message-texts')).body).toEqual([]);
  });

  it('may be in any language the desk knows, tests too', async () => {
    expect(errorsOf(await api('PATCH', `/channels/${crew}`, { language: 'tlh' }))[0]!.message).toBe(
      'Expected language to be one of en, de, fr, es, pt, got "tlh".',
    );
    await api('PATCH', `/channels/${crew}`, { language: 'es' });
    await api('POST', `/channels/${crew}/test`);
    expect(room.json().text).toMatch(/^Una prueba de Calm Lantern\n/);
    await api('POST', `/channels/${crew}/test`, { language: 'pt' });
    expect(room.json().text).toMatch(/^Um teste do Calm Lantern\n/);
  });
});
