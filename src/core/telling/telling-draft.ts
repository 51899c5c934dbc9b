import type { SaidEvent } from '@/core/messages/said';
import type { WatchFacts } from './route';
import type { Note, Room, Rule, Saying, Setup, Telling, Thread, Told, ToldItem } from './telling';

/** What is said in the making: pieces are copied when they are first touched, the rest is shared with what was. */
export class TellingDraft {
  readonly threads: Map<string, Thread>;
  readonly rooms: Map<number, Room>;
  private readonly ownThreads = new Set<string>();
  private readonly ownRooms = new Set<number>();
  /** Touched since it was last asked for. */
  private freshThreads = new Set<string>();
  private freshRooms = new Set<number>();
  private readonly says: Saying[] = [];
  private readonly notes: Note[] = [];

  constructor(
    before: Telling,
    readonly setup: Setup,
    readonly now: number,
  ) {
    this.threads = new Map(before.threads);
    this.rooms = new Map(before.rooms);
  }

  /** A conversation, to be changed. */
  thread(key: string): Thread | undefined {
    const thread = this.threads.get(key);
    if (!thread) return undefined;
    this.freshThreads.add(key);
    if (this.ownThreads.has(key)) return thread;
    const copy = {
      ...thread,
      legs: thread.legs.map((leg) => ({ ...leg })),
      heard: { ...thread.heard },
      listening: { ...thread.listening },
    };
    this.ownThreads.add(key);
    this.threads.set(key, copy);
    return copy;
  }

  newThread(key: string, watch: WatchFacts | null): Thread {
    const thread: Thread = {
      key,
      watch,
      open: null,
      legs: [],
      heard: {},
      taken: null,
      turns: [],
      unsteady: false,
      listening: {},
      joined: [],
      joinedAt: null,
    };
    this.ownThreads.add(key);
    this.freshThreads.add(key);
    this.threads.set(key, thread);
    return thread;
  }

  dropThread(key: string): void {
    this.ownThreads.add(key);
    this.threads.delete(key);
  }

  /** What a channel has under way, to be changed. */
  room(channelId: number): Room {
    const room = this.rooms.get(channelId);
    this.freshRooms.add(channelId);
    if (room && this.ownRooms.has(channelId)) return room;
    const copy = room
      ? { ...room, held: [...room.held] }
      : { channelId, openings: null, closings: null, held: [] };
    this.ownRooms.add(channelId);
    this.rooms.set(channelId, copy);
    return copy;
  }

  /** Forgets a channel that has nothing under way. */
  tidyRoom(channelId: number): void {
    const room = this.rooms.get(channelId);
    if (!room || room.openings || room.closings || room.held.length > 0 || room.lately?.length) return;
    this.rooms.delete(channelId);
  }

  /** What was touched since this was called last, or all there is. */
  pieces(which: 'all' | 'fresh'): { threads: Thread[]; rooms: Room[] } {
    const { freshThreads, freshRooms } = this;
    this.freshThreads = new Set();
    this.freshRooms = new Set();
    if (which === 'all') return { threads: [...this.threads.values()], rooms: [...this.rooms.values()] };
    return {
      threads: [...freshThreads].map((key) => this.threads.get(key)).filter((one) => one !== undefined),
      rooms: [...freshRooms].map((id) => this.rooms.get(id)).filter((one) => one !== undefined),
    };
  }

  say(saying: {
    channelId: number;
    thread: Thread | null;
    event: SaidEvent;
    routeId: number | null;
    rule: Rule;
    /** What it is about, where that is not its conversation alone. */
    items?: readonly ToldItem[];
    /** What was told before and goes on in it. */
    follows?: ToldItem | null;
  }): void {
    const { thread, items = [], follows = null, ...rest } = saying;
    const { channelId, routeId } = rest;
    const only = items.length === 1 ? items[0]! : null;
    if (!this.setup.channels.has(channelId)) {
      for (const key of thread ? [thread.key] : items.map((item) => item.thread)) {
        this.note(this.now, key, 'channel-off', channelId, routeId);
      }
      return;
    }
    const outages = thread?.open ? [thread.open.outageId] : items.map(({ outageId }) => outageId);
    this.says.push({
      ...rest,
      thread: thread?.key ?? only?.thread ?? null,
      watch: thread?.watch ?? only?.watch ?? null,
      follows: follows && { thread: follows.thread, openedAt: follows.at },
      openedAt: thread?.open?.at ?? only?.at ?? null,
      outageIds: outages.filter((id) => id !== null),
      drill:
        thread?.watch?.drill ?? items.find(({ watch }) => watch?.drill !== undefined)?.watch?.drill ?? null,
    });
  }

  note(
    at: number,
    thread: string,
    rule: Rule,
    channelId: number | null = null,
    routeId: number | null = null,
  ): void {
    this.notes.push({ at, thread, channelId, routeId, rule });
  }

  told(): Told {
    return {
      telling: { threads: this.threads, rooms: this.rooms },
      says: this.says,
      notes: this.notes,
      changedThreads: this.ownThreads,
      changedRooms: this.ownRooms,
    };
  }
}
