import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Answer } from '@/channels/kind';
import { GIVE_UP_AFTER_MS } from '@/core/messages/routing';
import { Dispatcher, sendThrough } from '@/engine/messages/dispatcher';
import { openVault } from '@/store/db/vault';
import { saveNewChannel, saveChannelChange } from '@/store/messages/channels';
import { fetchDeliveries } from '@/store/messages/deliveries';
import { saveMessage } from '@/store/messages/write-message';
import { tempStore, type TempStore } from '../../integration/helpers';

/** What the rooms of these tests do with a message: by the room's name, the title, and the signal that calls it off. */
const room = vi.hoisted(() => ({
  take: (_name: string, _title: string, _signal: AbortSignal): Promise<Answer> =>
    Promise.reject(new Error('not set')),
}));
vi.mock('@/channels/registry', () => ({
  channelKind: (id: string) =>
    id === 'room'
      ? {
          send: ({ name }: { name: string }, { title }: { title: string }, signal: AbortSignal) =>
            room.take(name, title, signal),
        }
      : undefined,
  channelKinds: () => [],
}));

const T0 = Date.parse('2026-11-26T06:00:00Z');
const OK: Answer = { ok: true, retry: false, said: '200 received' };
const BUSY: Answer = { ok: false, retry: true, said: '503 busy' };

describe('messages on their way', () => {
  let store: TempStore;
  let dispatcher: Dispatcher;
  let now: number;
  let sent: string[];
  let errors: unknown[];

  beforeEach(async () => {
    store = await tempStore();
    [now, sent, errors] = [T0, [], []];
    dispatcher = new Dispatcher({
      db: store.db,
      vault: openVault(store.folder),
      now: () => now,
      zone: 'UTC',
      linkBase: 'http://desk.test',
      onDelivered: () => undefined,
      onError: (error) => errors.push(error),
    });
  });
  afterEach(async () => {
    await dispatcher.close(0);
    await store.close();
  });

  const makeRoom = (name: string) =>
    saveNewChannel(store.db, { kind: 'room', name, settings: { name }, enabled: true, createdAt: T0 });
  /** A message to all rooms; its title begins with the name of the watch. */
  const say = (watchName: string) =>
    saveMessage(store.db, {
      event: { kind: 'new-checkin', section: 'Piers', address: '192.0.2.7' },
      watchName,
      watchId: null,
      at: now,
    });
  const nameIn = (title: string) => /Watch \d+/.exec(title)?.[0] ?? title;
  const states = async () =>
    (await fetchDeliveries(store.db, { limit: 100, ascending: true })).map(
      (one) => `${one.channel} ${one.state}`,
    );

  it('reach every room once, in order', async () => {
    await makeRoom('Crew');
    room.take = async (name, title) => {
      sent.push(`${name}: ${nameIn(title)}`);
      return OK;
    };
    for (const n of [1, 2, 3]) await say(`Watch ${n}`);
    dispatcher.wake();
    await vi.waitFor(async () => expect(await states()).toEqual(Array(3).fill('Crew delivered')));
    expect(sent).toEqual(['Crew: Watch 1', 'Crew: Watch 2', 'Crew: Watch 3']);
    dispatcher.wake();
    await new Promise((resolve) => setTimeout(resolve, 50));
    expect(sent).toHaveLength(3);
  });

  it('are not held up by a room that hangs', async () => {
    await makeRoom('Slow');
    await makeRoom('Crew');
    let letGo: (answer: Answer) => void = () => undefined;
    room.take = (name) =>
      name === 'Slow' ? new Promise((resolve) => (letGo = resolve)) : Promise.resolve(OK);
    await say('Watch 1');
    dispatcher.wake();
    await vi.waitFor(async () => expect((await states()).sort()).toEqual(['Crew delivered', 'Slow waiting']));
    letGo(OK);
    await vi.waitFor(async () =>
      expect((await states()).sort()).toEqual(['Crew delivered', 'Slow delivered']),
    );
  });

  it('do not overtake one that failed', async () => {
    await makeRoom('Crew');
    room.take = async (_, title) => {
      sent.push(nameIn(title));
      return sent.length === 1 ? BUSY : OK;
    };
    await say('Watch 1');
    await say('Watch 2');
    dispatcher.wake();
    await vi.waitFor(() => expect(sent).toHaveLength(1));
    await new Promise((resolve) => setTimeout(resolve, 100));
    expect(sent).toEqual(['Watch 1']);
    now = T0 + 600_000;
    dispatcher.wake();
    await vi.waitFor(async () => expect(await states()).toEqual(['Crew delivered', 'Crew delivered']));
    expect(sent).toEqual(['Watch 1', 'Watch 1', 'Watch 2']);
  });

  it('are not sent again where only the note of the attempt failed', async () => {
    await makeRoom('Crew');
    room.take = async (_, title) => {
      sent.push(nameIn(title));
      return OK;
    };
    await say('Watch 1');
    await store.db.raw('ALTER TABLE attempts RENAME TO elsewhere');
    dispatcher.wake();
    await vi.waitFor(() => expect(errors).toHaveLength(1));
    expect(sent).toEqual(['Watch 1']);
    await store.db.raw('ALTER TABLE elsewhere RENAME TO attempts');
    // The channel is left alone for a while, else the same would be sent again and again.
    dispatcher.wake();
    await new Promise((resolve) => setTimeout(resolve, 50));
    expect(await states()).toEqual(['Crew waiting']);
    const held = (dispatcher as unknown as { heldUntil: Map<number, number> }).heldUntil;
    expect(held.size).toBe(1);
    held.clear();
    dispatcher.wake();
    await vi.waitFor(async () => expect(await states()).toEqual(['Crew delivered']));
    expect(sent).toEqual(['Watch 1']);
  });

  it('stop where their channel is sent to rest', async () => {
    const id = await makeRoom('Crew');
    room.take = async (_, title) => {
      sent.push(nameIn(title));
      await saveChannelChange(store.db, id, { name: 'Crew', settings: { name: 'Crew' }, enabled: false });
      return OK;
    };
    await say('Watch 1');
    await say('Watch 2');
    dispatcher.wake();
    await vi.waitFor(async () => expect(await states()).toContain('Crew delivered'));
    await new Promise((resolve) => setTimeout(resolve, 50));
    expect(sent).toEqual(['Watch 1']);
    expect(await states()).toEqual(['Crew delivered', 'Crew waiting']);
  });

  it.each<[string, Answer, number, string]>([
    ['a busy room is tried again', BUSY, 0, 'waiting'],
    ['a busy room is given up in the end', BUSY, GIVE_UP_AFTER_MS + 1, 'given-up'],
    ['what is refused for good is given up at once', { ok: false, retry: false, said: '404' }, 0, 'given-up'],
    [
      'what is our own fault waits for as long as it takes',
      { ...BUSY, ours: true },
      GIVE_UP_AFTER_MS + 1,
      'waiting',
    ],
  ])('%s', async (_, answer, laterMs, state) => {
    await makeRoom('Crew');
    await say('Watch 1');
    now = T0 + laterMs;
    room.take = async () => answer;
    dispatcher.wake();
    await vi.waitFor(async () =>
      expect((await fetchDeliveries(store.db, { limit: 9 })).map((one) => [one.state, one.attempts])).toEqual(
        [[state, 1]],
      ),
    );
  });

  it('are handed over within a minute, whatever a kind of channel does', async () => {
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] });
    try {
      let calledOff = false;
      room.take = (_, __, signal) => {
        signal.addEventListener('abort', () => (calledOff = true));
        return new Promise(() => undefined);
      };
      const handing = sendThrough(
        'room',
        { name: 'Crew' },
        { title: 'x' } as never,
        new AbortController().signal,
        openVault(store.folder),
      );
      await vi.advanceTimersByTimeAsync(60_000);
      expect(await handing).toEqual({ ok: false, retry: true, said: 'No answer within 60 s' });
      expect(calledOff).toBe(true);
    } finally {
      vi.useRealTimers();
    }
  });

  it('of a kind that is not known are refused in words', async () => {
    const signal = new AbortController().signal;
    const answer = await sendThrough('pigeon', {}, { title: 'x' } as never, signal, openVault(store.folder));
    expect(answer).toEqual({ ok: false, retry: false, said: 'There is no kind of channel called "pigeon".' });
  });
});
