import { DAY_MS } from '@/core/time/units';
import type { Burst, Folding, Room, Telling, Thread, Told } from './telling';

/** Hours open within a week; what is held for longer was held by a clock that was wrong. */
const LONGEST_HELD_MS = 8 * DAY_MS;

/** What is remembered with every conversation and every channel made into another. */
function mapped(
  { threads, rooms }: Telling,
  thread: (one: Thread) => Thread,
  room: (one: Room) => Room,
): Telling {
  return {
    threads: new Map([...threads].map(([key, one]) => [key, thread(one)])),
    rooms: new Map([...rooms].map(([id, one]) => [id, room(one)])),
  };
}

/** Everything that is remembered with its times moved: a clock was set, and what waits waits as long as it would have. */
export function shiftTelling({ threads, rooms }: Telling, byMs: number): Told {
  const moved = (at: number | null) => (at === null ? null : at + byMs);
  const thread = (one: Thread): Thread => ({
    ...one,
    turns: one.turns.map((at) => at + byMs),
    joinedAt: moved(one.joinedAt),
    taken: one.taken && { ...one.taken, at: one.taken.at + byMs, until: moved(one.taken.until) },
    legs: one.legs.map((leg) => ({ ...leg, base: leg.base + byMs, dueAt: moved(leg.dueAt) })),
  });
  const burst = (one: Burst | null) =>
    one && {
      ...one,
      since: one.since + byMs,
      ...(one.soonAt !== undefined && { soonAt: one.soonAt + byMs }),
    };
  // What is held for hours is held for what a clock shows, which is what was set.
  const room = (one: Room): Room => ({
    ...one,
    openings: burst(one.openings),
    closings: burst(one.closings),
    ...(one.lately && { lately: one.lately.map(({ thread: key, at }) => ({ thread: key, at: at + byMs })) }),
  });
  return {
    telling: mapped({ threads, rooms }, thread, room),
    says: [],
    notes: [],
    changedThreads: new Set(threads.keys()),
    changedRooms: new Set(rooms.keys()),
  };
}

/**
 * What is remembered as it can have been said by now: a clock that was ahead when it was written must not keep anything
 * back until its time has come for a second time.
 */
export function pullTelling(telling: Telling, now: number, { joinMs, togetherMs }: Folding): Telling {
  const thread = (one: Thread): Thread => ({
    ...one,
    turns: one.turns.map((at) => Math.min(at, now)),
    joinedAt: one.joinedAt === null ? null : Math.min(one.joinedAt, now + joinMs),
    legs: one.legs.map((leg) => {
      const ahead = Math.max(0, leg.base - now);
      return { ...leg, base: leg.base - ahead, dueAt: leg.dueAt === null ? null : leg.dueAt - ahead };
    }),
  });
  const burst = (one: Burst | null) =>
    one && {
      ...one,
      since: Math.min(one.since, now),
      ...(one.soonAt !== undefined && { soonAt: Math.min(one.soonAt, now + togetherMs) }),
    };
  const room = (one: Room): Room => ({
    ...one,
    openings: burst(one.openings),
    closings: burst(one.closings),
    ...(one.lately && {
      lately: one.lately.map(({ thread: key, at }) => ({ thread: key, at: Math.min(at, now) })),
    }),
    held: one.held.map((item) => ({
      ...item,
      releaseAt: item.releaseAt > now + LONGEST_HELD_MS ? now : item.releaseAt,
    })),
  });
  return mapped(telling, thread, room);
}
