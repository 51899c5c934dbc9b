import { beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { AnsweringRoom } from '../../unit/channels/answering';
import { freePort } from '../helpers';
import { withinProcess, type Within } from '../within';

interface Channel {
  id: number;
  version: string;
  name: string;
  fallbackId: number | null;
  settings: Record<string, unknown>;
}

const KEPT = { kept: true };

describe('a channel that is changed', () => {
  let product: Within;
  const room = new AnsweringRoom();
  withinProcess((started) => (product = started));
  const api = (method: string, path: string, body?: unknown) => product.api(method, path, body);
  const made = async (body: object) => (await api('POST', '/channels', body)).body as Channel;
  const read = async (id: number) => (await api('GET', `/channels/${id}`)).body as Channel;
  let bot: Channel;
  let crew: Channel;

  beforeAll(async () => {
    await room.start();
    return () => room.stop();
  });
  beforeEach(async () => {
    room.asked = [];
    room.answer = () => ({ body: { ok: true, result: { message_id: 1 } } });
    for (const { id } of (await api('GET', '/channels')).body as Channel[])
      await api('DELETE', `/channels/${id}`);
    crew = await made({ kind: 'webhook', name: 'Crew room', settings: { address: `${room.base}/crew` } });
    bot = await made({
      kind: 'bot',
      name: 'Harbour bot',
      settings: { address: room.base, token: '17956:the-boats-sail', chat: '-100' },
    });
  });

  it('is read with its open settings, and of keys only that there are some; what was read can be sent back', async () => {
    const one = await read(bot.id);
    expect(one.settings).toMatchObject({ address: room.base, chat: '-100', token: KEPT });
    expect((await read(crew.id)).settings.address).toEqual(KEPT);
    const settings = { ...one.settings, chat: '-200' };
    expect((await api('PATCH', `/channels/${bot.id}`, { ...one, settings })).status).toBe(200);
    expect((await read(bot.id)).settings.chat).toBe('-200');
    expect((await api('POST', `/channels/${bot.id}/test`, {})).body).toMatchObject({ ok: true });
    expect(room.asked.at(-1)).toMatchObject({ url: '/bot17956:the-boats-sail/sendMessage' });
    expect(room.json()).toMatchObject({ chat_id: '-200' });
  });

  it('does not send a secret to another place than it was given for', async () => {
    const elsewhere = new AnsweringRoom();
    await elsewhere.start();
    const change = { settings: { address: elsewhere.base, token: KEPT } };
    for (const answer of [
      await api('PATCH', `/channels/${bot.id}`, change),
      await api('POST', `/channels/${bot.id}/test`, change),
      await api('POST', '/channel-choices', { kind: 'bot', field: 'chat', channelId: bot.id, ...change }),
    ]) {
      expect(answer.status).toBe(422);
      expect((answer.body as { errors: object[] }).errors).toEqual([
        {
          field: 'settings.token',
          message: 'Enter it again: it was given for another address, and is not sent to this one.',
        },
      ]);
    }
    expect(elsewhere.asked).toEqual([]);
    await elsewhere.stop();
  });

  it('is tried as it would be, before anything is saved', async () => {
    const answer = await api('POST', `/channels/${bot.id}/test`, { settings: { chat: '-300' } });
    expect(answer.body).toMatchObject({ ok: true });
    expect(room.json()).toMatchObject({ chat_id: '-300' });
    expect((await read(bot.id)).settings.chat).toBe('-100');
    const wrong = await api('POST', `/channels/${bot.id}/test`, { settings: 'x' });
    expect(wrong.status).toBe(422);
  });

  it('asks the other side with the secret that is kept', async () => {
    room.answer = () => ({ body: { ok: true, result: [{ message: { chat: { id: -7, title: 'Crew' } } }] } });
    const asked = { kind: 'bot', field: 'chat', channelId: bot.id, settings: { token: KEPT } };
    expect((await api('POST', '/channel-choices', asked)).body).toEqual([
      { value: '-7', text: expect.stringContaining('Crew') as string },
    ]);
  });

  it('has another channel that stands in for it, which is let go when it goes', async () => {
    const answer = await api('PATCH', `/channels/${crew.id}`, { fallbackId: bot.id });
    expect((answer.body as Channel).fallbackId).toBe(bot.id);
    for (const [fallbackId, message] of [
      [crew.id, 'Expected another channel.'],
      [999_999, 'There is no channel 999999.'],
    ] as const) {
      const refused = await api('PATCH', `/channels/${crew.id}`, { fallbackId });
      expect((refused.body as { errors: object[] }).errors).toEqual([{ field: 'fallbackId', message }]);
    }
    await api('DELETE', `/channels/${bot.id}`);
    expect((await read(crew.id)).fallbackId).toBeNull();
  });

  it('tells which watches would tell nobody without it', async () => {
    const port = await freePort();
    const settings = { host: '127.0.0.1', port };
    const watch = await api('POST', '/watches', { kind: 'port', name: 'Slipway', settings });
    const { id } = watch.body as { id: number };
    const [route] = (await api('GET', '/routes')).body as { id: number; steps: object[] }[];
    await api('PATCH', `/routes/${route!.id}`, { steps: [{ after: 0, channels: [crew.id] }] });
    expect((await api('GET', `/channels/${crew.id}/unheard`)).body).toEqual([{ id, name: 'Slipway' }]);
    expect((await api('GET', `/channels/${bot.id}/unheard`)).body).toEqual([]);
    await api('PATCH', `/routes/${route!.id}`, { steps: [{ after: 0, channels: [crew.id, bot.id] }] });
    expect((await api('GET', `/channels/${crew.id}/unheard`)).body).toEqual([]);
    expect((await api('GET', '/channels/999999/unheard')).status).toBe(404);
  });
});
