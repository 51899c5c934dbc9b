import { describe, expect, it } from 'vitest';
import { TOGETHER_MS } from '@/core/causes/group-troubles';
import { USUAL_FOLDING, type Room, type Telling, type Thread, type ToldItem } from '@/core/telling/telling';
import { TellingDraft } from '@/core/telling/telling-draft';
import { burstAt, forgetLately, noteOpening, toldLately } from '@/core/telling/together';
import { down, MINUTE, routeOf, setupOf, T0, watchOf } from './telling-on';

const SETUP = setupOf(routeOf());

function threadOf(key: string, rest: Partial<Thread> = {}): Thread {
  return {
    ...{ key, watch: watchOf(1), open: null, legs: [], heard: {}, taken: null, turns: [], unsteady: false },
    ...{ listening: {}, joined: [], joinedAt: null, ...rest },
  };
}

const roomOf = (channelId: number, rest: Partial<Room> = {}): Room => ({
  ...{ channelId, openings: null, closings: null, held: [], ...rest },
});

const itemOf = (thread: string, rest: Partial<ToldItem> = {}): ToldItem => ({
  ...{ thread, watch: watchOf(1), event: down(T0), outageId: null, at: T0, routeId: 1, over: null, ...rest },
});

const open = { topic: 'down' as const, event: down(T0), at: T0, outageId: 8 };
const leg = { routeId: 1, step: 0, dueAt: T0, again: 0, base: T0 };
const burst = { since: T0, count: 1, gathered: [] };

function telling(threads: readonly Thread[], rooms: readonly Room[] = []): Telling {
  return {
    threads: new Map(threads.map((one) => [one.key, one])),
    rooms: new Map(rooms.map((one) => [one.channelId, one])),
  };
}

const draftOf = (threads: readonly Thread[] = [], rooms: readonly Room[] = []) =>
  new TellingDraft(telling(threads, rooms), SETUP, T0);

describe('what is said, in the making', () => {
  it('leaves what was as it is, and copies each piece once', () => {
    const before = telling(
      [threadOf('w1', { legs: [leg], heard: { 1: { how: 'said', routeId: 1 } } })],
      [roomOf(1)],
    );
    const kept = structuredClone(before);
    const draft = new TellingDraft(before, SETUP, T0);
    const thread = draft.thread('w1')!;
    expect(draft.thread('w1')).toBe(thread);
    thread.legs[0]!.step = 5;
    thread.heard[2] = { how: 'held', routeId: 1 };
    thread.listening[2] = 1;
    const room = draft.room(1);
    expect(draft.room(1)).toBe(room);
    room.held.push({ ...itemOf('w1'), releaseAt: T0 });
    expect(before).toEqual(kept);
    expect(draft.threads.get('w1')).toBe(thread);
    expect(draft.rooms.get(1)).toBe(room);
    expect(draft.thread('w9')).toBeUndefined();
    expect([...draft.told().changedThreads, ...draft.told().changedRooms]).toEqual(['w1', 1]);
  });

  it('begins conversations and rooms with nothing in them', () => {
    const draft = draftOf();
    expect(draft.newThread('w1', null)).toEqual(threadOf('w1', { watch: null }));
    expect(draft.room(2)).toEqual(roomOf(2));
  });

  it('knows what was touched since it was asked, but for what is gone', () => {
    const draft = draftOf([threadOf('w1'), threadOf('w2'), threadOf('w3')], [roomOf(1), roomOf(2)]);
    draft.thread('w1');
    draft.thread('w2');
    draft.dropThread('w2');
    draft.room(1);
    draft.room(3);
    draft.tidyRoom(3);
    const names = (which: 'all' | 'fresh') => {
      const { threads, rooms } = draft.pieces(which);
      return [...threads.map(({ key }) => key), ...rooms.map(({ channelId }) => channelId)];
    };
    expect(names('fresh')).toEqual(['w1', 1]);
    expect(names('fresh')).toEqual([]);
    expect(names('all')).toEqual(['w1', 'w3', 1, 2]);
  });

  it.each([
    ['what opens gathers', { openings: burst }],
    ['what closes gathers', { closings: burst }],
    ['something waits for hours', { held: [{ ...itemOf('w1'), releaseAt: T0 }] }],
    ['something was told of late', { lately: [{ thread: 'w1', at: T0 }] }],
  ])('keeps a room as long as %s', (_, rest) => {
    const draft = draftOf([], [roomOf(1, rest), roomOf(2, { lately: [] })]);
    for (const id of [1, 2, 3]) draft.tidyRoom(id);
    expect([...draft.rooms.keys()]).toEqual([1]);
  });

  it('says whose it is: of a conversation, of one, of several', () => {
    const draft = draftOf();
    const said = (rest: Partial<Parameters<TellingDraft['say']>[0]>) => {
      draft.say({ channelId: 1, thread: null, event: down(T0), routeId: 1, rule: 'step', ...rest });
      return draft.told().says.at(-1)!;
    };
    const drilled = itemOf('d3.2', { watch: watchOf(2, { drill: 3 }) });
    const real = itemOf('w4', { outageId: 4, watch: null });
    expect(said({ thread: threadOf('w1', { open }) })).toMatchObject({
      ...{ thread: 'w1', watch: { id: 1 }, openedAt: T0, outageIds: [8], drill: null, follows: null },
    });
    // A conversation that is over has no outage; what stands beside it does not give it one.
    const over = threadOf('w1', { watch: watchOf(1, { drill: 7 }) });
    expect(said({ thread: over })).toMatchObject({ openedAt: null, outageIds: [], drill: 7 });
    expect(said({ items: [real] })).toMatchObject({
      thread: 'w4',
      watch: null,
      openedAt: T0,
      outageIds: [4],
    });
    expect(said({ items: [real, drilled], follows: itemOf('w6', { at: T0 - 5 }) })).toMatchObject({
      ...{ thread: null, watch: null, openedAt: null, outageIds: [4], drill: 3 },
      follows: { thread: 'w6', openedAt: T0 - 5 },
    });
    expect(draft.told().notes).toEqual([]);
  });

  it('says nothing where nobody takes messages, and notes of whom', () => {
    const draft = draftOf();
    const to = { channelId: 9, event: down(T0), routeId: 2, rule: 'step' as const };
    draft.say({ ...to, thread: threadOf('w1') });
    draft.say({ ...to, thread: null, items: [itemOf('w2'), itemOf('w3')] });
    draft.say({ ...to, thread: null });
    const { says, notes } = draft.told();
    expect(says).toEqual([]);
    expect(notes).toEqual(
      ['w1', 'w2', 'w3'].map((thread) => ({
        ...{ at: T0, thread, channelId: 9, routeId: 2, rule: 'channel-off' },
      })),
    );
  });
});

describe('many at once', () => {
  it('are counted anew once their time is over, to the millisecond', () => {
    const before = { since: T0, count: 4, gathered: [itemOf('w1')] };
    const last = T0 + USUAL_FOLDING.burstMs;
    expect(burstAt(null, T0, SETUP)).toEqual({ since: T0, count: 1, gathered: [] });
    expect(burstAt(before, last - 1, SETUP)).toEqual({ ...before, count: 5 });
    expect(burstAt(before, last - 1, SETUP).gathered).not.toBe(before.gathered);
    expect(burstAt(before, last, SETUP)).toEqual({ since: last, count: 1, gathered: [] });
  });
});

describe('what was told of late', () => {
  const end = T0 + TOGETHER_MS;

  it('is remembered once each, to the end of its time, and not without bound', () => {
    const room = roomOf(1);
    noteOpening(room, 'w1', T0);
    expect(room.lately).toEqual([{ thread: 'w1', at: T0 }]);
    noteOpening(room, 'w2', T0 + 1);
    noteOpening(room, 'w1', end);
    expect(room.lately).toEqual([
      { thread: 'w2', at: T0 + 1 },
      { thread: 'w1', at: end },
    ]);
    noteOpening(room, 'w3', end + 1);
    expect(room.lately!.map(({ thread }) => thread)).toEqual(['w2', 'w1', 'w3']);
    noteOpening(room, 'w4', end + 2);
    expect(room.lately!.map(({ thread }) => thread)).toEqual(['w1', 'w3', 'w4']);
    for (let i = 0; i < 100; i += 1) noteOpening(room, `x${i}`, end + 2);
    expect(room.lately).toHaveLength(50);
    expect(room.lately!.at(-1)!.thread).toBe('x99');
  });

  it('is forgotten when its time is over, and a room with nothing else with it', () => {
    const lately = [
      { thread: 'w1', at: T0 },
      { thread: 'w2', at: T0 + MINUTE },
    ];
    const draft = draftOf([], [roomOf(1, { lately }), roomOf(2)]);
    forgetLately(draft, 1, end);
    expect(draft.rooms.get(1)!.lately).toEqual(lately);
    forgetLately(draft, 1, end + 1);
    expect(draft.rooms.get(1)!.lately).toEqual([lately[1]]);
    forgetLately(draft, 1, end + MINUTE + 1);
    forgetLately(draft, 2, end);
    expect(draft.rooms.size).toBe(0);
    const shared = draftOf([], [roomOf(1, { lately, openings: burst })]);
    forgetLately(shared, 1, end + MINUTE + 1);
    expect(shared.rooms.get(1)).toEqual(roomOf(1, { openings: burst }));
  });

  it('counts as long as it goes on', () => {
    const draft = draftOf([threadOf('w1', { open }), threadOf('w2')]);
    const lately = ['w1', 'w2', 'w3'].map((thread) => ({ thread, at: T0 }));
    expect(toldLately(draft, roomOf(1, { lately }), end)).toEqual([
      itemOf('w1', { outageId: 8, routeId: 0 }),
    ]);
    expect(toldLately(draft, roomOf(1, { lately }), end + 1)).toEqual([]);
    expect(toldLately(draft, roomOf(1), T0)).toEqual([]);
  });
});
