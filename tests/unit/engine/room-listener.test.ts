import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Line } from '@/channels/frame/kind';
import type { HeardAnswer } from '@/core/messages/answers';
import { RoomListener } from '@/engine/messages/room-listener';
import { openVault } from '@/store/db/vault';
import { saveNewChannel } from '@/store/messages/channels';
import { tempStore, until, type TempStore } from '../../integration/helpers';

describe('rooms that are listened to', () => {
  let store: TempStore;
  let rooms: RoomListener;
  let answers: HeardAnswer[];
  let monotonic: number;
  let listening: number[];
  let replies: [number, string][];
  let errors: string[];
  let away = false;
  const say = (text: string, by = 'Ines', channelId = 1) => rooms.heard(channelId, { by, text, to: null });
  const channel = (kind: string, listens: boolean, enabled = true) =>
    saveNewChannel(store.db, { kind, name: kind, settings: { listens }, enabled, createdAt: 0 });

  beforeEach(async () => {
    store = await tempStore();
    [answers, listening, replies, errors, monotonic] = [[], [], [], [], 0];
    away = false;
    rooms = new RoomListener({
      db: store.db,
      vault: openVault(store.folder),
      monotonic: () => monotonic,
      lines: {
        of: (id) =>
          ({
            listen: () => listening.push(id),
            reply: async (text: string) => void replies.push([id, text]),
          }) as unknown as Line,
      },
      onAnswer: (answer) => answers.push(answer) > 0 && !away,
      signal: new AbortController().signal,
      onError: (error) => errors.push(String(error)),
    });
  });
  afterEach(() => store.close());

  it('are those that are on, take answers, and can', async () => {
    const matrix = await channel('matrix', true);
    await channel('bot', false);
    await channel('irc', true, false);
    await channel('webhook', true);
    await rooms.load();
    expect(listening).toEqual([matrix]);
  });

  it('pass on answers and nothing else', () => {
    for (const text of ['hello', 'mine 7', 'is it mine', 'not mine']) say(text);
    expect(answers).toEqual([
      { does: 'take', watchId: 7, channelId: 1, by: 'Ines', to: null },
      { does: 'give-back', watchId: null, channelId: 1, by: 'Ines', to: null },
    ]);
  });

  it('are told where nobody is there to take an answer', async () => {
    const matrix = await channel('matrix', true);
    say('mine', 'Ines', matrix);
    away = true;
    say('hello', 'Ines', matrix);
    expect(replies).toEqual([]);
    say('mine', 'Ines', matrix);
    await until(() => replies.length > 0, 'it is said');
    expect(replies).toEqual([[matrix, 'That could not be noted. Say it again in a moment, or on the desk.']]);
    await store.db('channels').delete();
    say('mine', 'Ines', matrix);
    expect(errors).toEqual([]);
  });

  it('pass on few a minute, of each room by itself', () => {
    for (let i = 0; i < 50; i += 1) say(`mine ${i}`);
    expect(answers).toHaveLength(10);
    say('mine', 'Piers', 2);
    expect(answers).toHaveLength(11);
    monotonic += 59_999;
    say('mine');
    expect(answers).toHaveLength(11);
    monotonic += 1;
    say('mine');
    expect(answers).toHaveLength(12);
  });

  it('take names as one short line', () => {
    say('mine', `Ines\n\u202e${'x'.repeat(200)}`);
    say('mine', '\n');
    const [{ by }, nobody] = answers as [HeardAnswer, HeardAnswer];
    expect(by).toHaveLength(60);
    expect(by).not.toMatch(/[\n\u202e]/);
    expect(nobody.by).toBe('?');
  });

  it('are answered where they are on, and not elsewhere', async () => {
    const [on, off] = [await channel('matrix', true), await channel('bot', true, false)];
    const to = { by: 'Ines', text: '', to: null };
    for (const id of [on, off, 99]) await rooms.reply(id, 'Several are open.', to);
    expect(replies).toEqual([[on, 'Several are open.']]);
  });

  it('that cannot be listened to for a while are named with why, until they can or are not to be', async () => {
    const [matrix, bot] = [await channel('matrix', true), await channel('bot', true)];
    rooms.deaf(matrix, 'No connection:\nECONNREFUSED');
    monotonic += 60_000;
    rooms.deaf(matrix, 'busy');
    rooms.deaf(bot, 'another program listens');
    monotonic += 4 * 60_000 - 1;
    expect(await rooms.deafRooms()).toEqual([]);
    monotonic += 1;
    const first = { id: matrix, name: 'matrix', reason: 'No connection: ECONNREFUSED' };
    expect(await rooms.deafRooms()).toEqual([first]);
    monotonic += 60_000;
    expect(await rooms.deafRooms()).toHaveLength(2);
    rooms.opened(matrix);
    expect(await rooms.deafRooms()).toEqual([{ id: bot, name: 'bot', reason: 'another program listens' }]);
    await store
      .db('channels')
      .where({ id: bot })
      .update({ settings: JSON.stringify({ listens: false }) });
    expect(await rooms.deafRooms()).toEqual([]);
    await rooms.load();
    await store
      .db('channels')
      .where({ id: bot })
      .update({ settings: JSON.stringify({ listens: true }) });
    expect(await rooms.deafRooms()).toEqual([]);
    expect(errors).toEqual([]);
  });
});
