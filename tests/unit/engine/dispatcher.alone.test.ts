import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { NO_HOUSE } from '@/channels/frame/house';
import type { Answer, Line, Outgoing } from '@/channels/frame/kind';
import { GIVE_UP_AFTER_MS } from '@/core/messages/routing';
import type { Dispatcher } from '@/engine/messages/dispatcher';
import { sendThrough } from '@/engine/messages/hand-over';
import { openVault } from '@/store/db/vault';
import { fetchChannel, fetchChannels, saveNewChannel, saveChannelChange } from '@/store/messages/channels';
import { fetchDueDeliveries } from '@/store/messages/deliveries';
import { fetchDeliveries } from '@/store/messages/sent';
import { tempStore, type TempStore } from '../../integration/helpers';
import { sayTo } from '../../integration/say-to';
import { outgoing } from '../channels/outgoing';
import { dispatcherOn } from './dispatcher-on';
import { processorMs } from '../effort';

/** What the rooms of these tests do with a message: by the room's name, the title, and the signal that calls it off. */
const room = vi.hoisted(() => ({
  take: (_name: string, _title: string, _signal: AbortSignal): Promise<Answer> =>
    Promise.reject(new Error('not set')),
  connect: (_name: string): Line => {
    throw new Error('not set');
  },
  last: null as Outgoing | null,
}));
vi.mock('@/channels/kinds/registry', () => ({
  channelKind: (id: string) =>
    id === 'room' || id === 'paced'
      ? {
          ...(id === 'paced' && { pace: { burst: 2, everyMs: 500 } }),
          send: ({ name }: { name: string }, message: Outgoing, signal: AbortSignal) => {
            room.last = message;
            return room.take(name, message.title, signal);
          },
        }
      : id === 'line'
        ? { connect: (settings: { name: string }) => room.connect(settings.name) }
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
    dispatcher = dispatcherOn(store, { now: () => now, onError: (error) => errors.push(error) });
  });
  afterEach(async () => {
    await dispatcher.close(0);
    await store.close();
  });

  const makeRoom = (name: string) =>
    saveNewChannel(store.db, { kind: 'room', name, settings: { name }, enabled: true, createdAt: T0 });
  /** A message to all rooms; its title begins with the name of the watch. */
  const say = async (name: string, thread: string | null = null) =>
    sayTo(store.db, {
      event: { kind: 'new-checkin', section: 'Piers', address: '192.0.2.7' },
      name,
      channels: (await fetchChannels(store.db)).filter(({ enabled }) => enabled).map(({ id }) => id),
      at: now,
      thread,
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

  it('of another conversation go though one cannot, and in order within theirs', async () => {
    await makeRoom('Crew');
    room.take = async (_, title) => {
      const name = nameIn(title);
      sent.push(name);
      return name === 'Watch 1' ? BUSY : OK;
    };
    for (const [n, thread] of [
      [1, 'w1'],
      [2, 'w2'],
      [3, 'w1'],
      [4, 'w2'],
    ] as const) {
      await say(`Watch ${n}`, thread);
    }
    dispatcher.wake();
    await vi.waitFor(() => expect(sent).toEqual(['Watch 1']));
    // The channel is left alone first: it may be that nothing can go.
    await new Promise((resolve) => setTimeout(resolve, 100));
    expect(sent).toEqual(['Watch 1']);
    now += 6_000;
    dispatcher.wake();
    await vi.waitFor(async () =>
      expect((await states()).filter((one) => one.includes('delivered'))).toHaveLength(2),
    );
    expect(sent.filter((name) => name !== 'Watch 1')).toEqual(['Watch 2', 'Watch 4']);
    expect(sent).not.toContain('Watch 3');
  });

  it('are tried as seldom as the room asks, and not all at once while it is away', async () => {
    await makeRoom('Crew');
    room.take = async (_, title) => {
      sent.push(nameIn(title));
      return { ...BUSY, retryAfterMs: 60_000 };
    };
    for (const n of [1, 2, 3]) await say(`Watch ${n}`, `w${n}`);
    dispatcher.wake();
    await vi.waitFor(() => expect(sent).toEqual(['Watch 1']));
    now += 59_000;
    dispatcher.wake();
    await new Promise((resolve) => setTimeout(resolve, 100));
    expect(sent).toEqual(['Watch 1']);
    now += 1_000;
    dispatcher.wake();
    await vi.waitFor(() => expect(sent).toEqual(['Watch 1', 'Watch 2']));
  });

  it('about several go after all before them, and before all after them', async () => {
    const id = await makeRoom('Crew');
    for (const [n, thread] of [
      [1, 'w1'],
      [2, null],
      [3, 'w3'],
    ] as const) {
      await say(`Watch ${n}`, thread);
    }
    const due = async () =>
      (await fetchDueDeliveries(store.db, id, now, 10)).map(({ message }) => message!.watchName);
    expect(await due()).toEqual(['Watch 1']);
    room.take = async (_, title) => {
      sent.push(nameIn(title));
      return OK;
    };
    dispatcher.wake();
    await vi.waitFor(() => expect(sent).toEqual(['Watch 1', 'Watch 2', 'Watch 3']));
  });

  it('that wait by the thousand for a room that is away are found as fast as a few', async () => {
    const id = await makeRoom('Crew');
    const fill = async (from: number, to: number) => {
      for (let n = from; n < to; n += 1) await say(`Watch ${n}`, `w${n}`);
    };
    const took = async () => {
      const began = process.cpuUsage();
      for (let i = 0; i < 5; i += 1) await fetchDueDeliveries(store.db, id, now, 20);
      return processorMs(began);
    };
    await fill(0, 200);
    await took();
    const few = await took();
    await fill(200, 3200);
    // Ten times and more of a square would be 256.
    expect((await took()) / few).toBeLessThan(60);
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

  it('go nowhere any more where the other side is gone for good', async () => {
    const id = await makeRoom('Crew');
    room.take = async (_, title) => {
      sent.push(nameIn(title));
      return { ok: false, retry: false, gone: true, said: '410' };
    };
    await say('Watch 1', 'w1');
    await say('Watch 2', 'w2');
    dispatcher.wake();
    await vi.waitFor(async () => expect((await fetchChannel(store.db, id))!.enabled).toBe(false));
    expect(sent).toEqual(['Watch 1']);
    expect(await states()).toEqual(['Crew given-up', 'Crew waiting']);
  });

  const makePacedRoom = (name: string) =>
    saveNewChannel(store.db, { kind: 'paced', name, settings: { name }, enabled: true, createdAt: T0 });
  const noteSent = async (name: string, title: string) => {
    sent.push(`${name}: ${nameIn(title)}`);
    return OK;
  };

  it('go no faster than a room bears, and nobody waits for it', async () => {
    await makePacedRoom('Pier');
    await makeRoom('Crew');
    room.take = noteSent;
    for (let i = 1; i <= 4; i += 1) await say(`Watch ${i}`);
    dispatcher.wake();
    await vi.waitFor(async () => expect(await states()).not.toContain('Pier waiting'), 10_000);
    const pier = sent.filter((one) => one.startsWith('Pier'));
    expect(pier).toEqual([1, 2, 3, 4].map((i) => `Pier: Watch ${i}`));
    expect(sent.indexOf('Pier: Watch 3')).toBeGreaterThan(sent.indexOf('Crew: Watch 4'));
  });

  it('that wait for a room to bear them do not go once it is sent to rest, nor hold up an end', async () => {
    const id = await makePacedRoom('Pier');
    room.take = noteSent;
    for (let i = 1; i <= 9; i += 1) await say(`Watch ${i}`);
    dispatcher.wake();
    await vi.waitFor(() => expect(sent).toHaveLength(2));
    await saveChannelChange(store.db, id, { name: 'Pier', settings: { name: 'Pier' }, enabled: false });
    await new Promise((resolve) => setTimeout(resolve, 700));
    expect(sent).toHaveLength(2);
    await saveChannelChange(store.db, id, { name: 'Pier', settings: { name: 'Pier' }, enabled: true });
    await dispatcher.close(0);
    expect(sent.length).toBeLessThan(9);
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
        { kind: 'room', settings: { name: 'Crew' } },
        outgoing(),
        new AbortController().signal,
        { vault: openVault(store.folder), house: NO_HOUSE },
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
    const answer = await sendThrough({ kind: 'pigeon', settings: {} }, outgoing(), signal, {
      vault: openVault(store.folder),
      house: NO_HOUSE,
    });
    expect(answer).toEqual({ ok: false, retry: false, said: 'There is no kind of channel called "pigeon".' });
  });

  it('are told by what the room knows the first of their conversation, and of no other', async () => {
    await makeRoom('Crew');
    await makeRoom('Office');
    const firsts: (string | null)[] = [];
    let taken = 0;
    room.take = async (name) => {
      if (name === 'Crew') firsts.push(room.last!.first);
      return { ...OK, ref: `${name}-${(taken += 1)}` };
    };
    const about = async (name: string, thread: string, openedAt: number) =>
      sayTo(store.db, {
        event: { kind: 'unsteady', turns: 6, withinMs: 1000 },
        name,
        channels: (await fetchChannels(store.db)).map(({ id }) => id),
        at: now,
        thread,
        openedAt,
      });
    const saidAll = async () => {
      dispatcher.wake();
      await vi.waitFor(async () =>
        expect((await states()).every((one) => one.endsWith('delivered'))).toBe(true),
      );
    };
    await about('Watch 1', 'w1', T0);
    await saidAll();
    await about('Watch 1', 'w1', T0);
    await about('Watch 2', 'w2', T0);
    await saidAll();
    await about('Watch 1', 'w1', T0 + 1);
    await about('Watch 1', 'w1', T0);
    await saidAll();
    expect(firsts).toHaveLength(5);
    const [first, again, other, later, still] = firsts;
    expect([first, other, later]).toEqual([null, null, null]);
    expect(again).toMatch(/^Crew-[12]$/);
    expect(still).toBe(again);
  });

  it('are one line each, whatever stands in a name', async () => {
    await makeRoom('Crew');
    room.take = async () => OK;
    const [crew] = await fetchChannels(store.db);
    const items = [{ watchId: 2, name: 'Kiosk\r\nforged \u202e line' }];
    await sayTo(store.db, {
      event: { kind: 'also', items },
      name: 'Router\nNorth',
      channels: [crew!.id],
      at: now,
    });
    dispatcher.wake();
    await vi.waitFor(async () => expect(await states()).toEqual(['Crew delivered']));
    expect(room.last).toMatchObject({
      title: 'One more is down with Router North',
      lines: ['Kiosk forged line rests on it, and is not told one by one.'],
    });
  });

  it('go over one line that is kept, until its settings change, it rests, or all ends', async () => {
    const lines: { name: string; sent: number; closed: boolean }[] = [];
    room.connect = (name) => {
      const line = { name, sent: 0, closed: false };
      lines.push(line);
      return {
        send: async () => {
          line.sent += 1;
          return OK;
        },
        close: async () => void (line.closed = true),
      };
    };
    const settings = { name: 'Harbour' };
    const line = { kind: 'line', name: 'Harbour', enabled: true };
    const id = await saveNewChannel(store.db, { ...line, settings, createdAt: T0 });
    const saidAll = async (n: number) => {
      await say(`Watch ${n}`);
      dispatcher.wake();
      await vi.waitFor(async () =>
        expect((await states()).filter((one) => one.endsWith('delivered'))).toHaveLength(n),
      );
    };
    await saidAll(1);
    await saidAll(2);
    expect(lines).toEqual([{ name: 'Harbour', sent: 2, closed: false }]);
    await saveChannelChange(store.db, id, { ...line, settings: { name: 'Pier' } });
    await saidAll(3);
    expect(lines).toEqual([
      { name: 'Harbour', sent: 2, closed: true },
      { name: 'Pier', sent: 1, closed: false },
    ]);
    await dispatcher.channelsChanged();
    expect(lines[1]!.closed).toBe(false);
    await saveChannelChange(store.db, id, { ...line, enabled: false, settings });
    await dispatcher.channelsChanged();
    expect(lines[1]!.closed).toBe(true);
    await saveChannelChange(store.db, id, { ...line, settings });
    await saidAll(4);
    await dispatcher.close(0);
    expect(lines[2]).toEqual({ name: 'Harbour', sent: 1, closed: true });
  });
});
