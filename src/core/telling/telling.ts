import type { MessageEvent } from '@/core/messages/message';
import type { SaidEvent } from '@/core/messages/said';
import type { Route, WatchFacts } from './route';
import type { Topic } from './topic';

/** One trouble as it is told among others. */
export interface ToldItem {
  /** The conversation it belongs to. */
  thread: string;
  watch: WatchFacts | null;
  event: MessageEvent;
  outageId: number | null;
  /** When it was noticed. */
  at: number;
  routeId: number;
  /** How it ended while it waited to be told; null while it goes on, and for what has no end. */
  over: MessageEvent | null;
}

/** Somebody has it: reminders and steps rest. */
export interface Taken {
  by: string;
  at: number;
  /** Until when, where that was said. */
  until: number | null;
}

/** How far one route has got with one trouble. */
export interface Leg {
  routeId: number;
  /** Who hears next, counted from 0; at the number of steps all have heard. */
  step: number;
  /** When that is, or when all are told again; null where nothing more is to be said. */
  dueAt: number | null;
  /** How often all were told again. */
  again: number;
  /** When the first step counts from. */
  base: number;
}

/** What a channel knows of a trouble: it was told, it is told when hours open, or with others when a burst is over. */
export interface Heard {
  how: 'said' | 'held' | 'gathered';
  routeId: number;
}

/** What is said about one watch, or about one trouble of our own: a conversation. */
export interface Thread {
  key: string;
  watch: WatchFacts | null;
  open: { topic: Topic; event: MessageEvent; at: number; outageId: number | null } | null;
  legs: Leg[];
  /** By channel. */
  heard: Record<number, Heard>;
  taken: Taken | null;
  /** When it opened and closed lately. */
  turns: number[];
  /** It opens and closes so often that only that is said. */
  unsteady: boolean;
  /** Channels that are told when it stands still again, with the route they hear by. */
  listening: Record<number, number>;
  /** What followed from it and was not told by itself. */
  joined: { watchId: number; name: string }[];
  /** When those are told of that came after it was told itself. */
  joinedAt: number | null;
}

/** Many at once in one channel: the first few are said, the rest together. */
export interface Burst {
  since: number;
  count: number;
  gathered: ToldItem[];
  /** When what is gathered is told, where that is before the burst is over: it belongs to what was told. */
  soonAt?: number;
}

/** What one channel has under way beside its conversations. */
export interface Room {
  channelId: number;
  openings: Burst | null;
  closings: Burst | null;
  held: (ToldItem & { releaseAt: number })[];
  /** Conversations whose opening was told here of late, the newest last. */
  lately?: { thread: string; at: number }[];
}

/** All that is remembered of what was said; plain data, kept as JSON in pieces. */
export interface Telling {
  threads: ReadonlyMap<string, Thread>;
  rooms: ReadonlyMap<number, Room>;
}

export const NOTHING_TOLD: Telling = { threads: new Map(), rooms: new Map() };

/** So many in so short a time are told as one. */
export interface Folding {
  /** As many in one channel are said one by one. */
  burstMost: number;
  burstMs: number;
  /** So many turns within that time, and it counts as unsteady. */
  unsteadyTurns: number;
  unsteadyMs: number;
  /** What follows from a trouble is waited for so long, and told together. */
  joinMs: number;
  /** What likely has one cause with what was told a moment ago is waited for so long, and told together. */
  togetherMs: number;
}

export const USUAL_FOLDING: Folding = {
  burstMost: 5,
  burstMs: 60_000,
  unsteadyTurns: 6,
  unsteadyMs: 30 * 60_000,
  joinMs: 60_000,
  togetherMs: 15_000,
};

/** What does not change while something is told. */
export interface Setup {
  routes: readonly Route[];
  /** Channels that take messages. */
  channels: ReadonlySet<number>;
  folding: Folding;
}

/** Something happened that may be told. */
export type Happening = {
  thread: string;
  watch: WatchFacts | null;
  outageId?: number | null;
} & (
  | {
      /** A trouble begins, ends, or is told once and has no end. */
      phase: 'opens' | 'closes' | 'once';
      event: MessageEvent;
      /** Of what is about several watches: the ids of the routes that are about any of them, which alone tell it. */
      routes?: readonly number[];
    }
  /** The watch is in trouble because of that of the thread, and that is no trouble of its own. */
  | { phase: 'joins' }
);

export type TellingInput =
  | { type: 'happened'; happening: Happening }
  | { type: 'take'; thread: string; by: string; until: number | null }
  | { type: 'give-back'; thread: string; by: string }
  | { type: 'tick' };

/** Why something was said, or was not. */
export type Rule =
  | 'step'
  | 'own'
  | 'again'
  | 'over'
  | 'burst'
  | 'hours-opened'
  | 'joined'
  | 'together'
  | 'unsteady'
  | 'steady'
  | 'taken'
  | 'given-back'
  | 'by-hand'
  | 'instead'
  | 'letter'
  // Not said
  | 'no-route'
  | 'muted'
  | 'already-open'
  | 'never-told'
  | 'over-before-its-time'
  | 'held'
  | 'dropped'
  | 'gathered'
  | 'channel-off'
  | 'route-gone'
  | 'not-asked'
  | 'outside-hours';

/** A message to one channel. */
export interface Saying {
  channelId: number;
  /** The conversation; null for what is about several. */
  thread: string | null;
  watch: WatchFacts | null;
  /** The conversation it adds to, and when that was opened; null where it is its own, or begins one. */
  follows: { thread: string; openedAt: number } | null;
  /** When the trouble of the conversation was noticed; null for what is about several, or has no end. */
  openedAt: number | null;
  /** The outages it is about. */
  outageIds: number[];
  /** The rehearsal it belongs to, where it does. */
  drill: number | null;
  event: SaidEvent;
  routeId: number | null;
  rule: Rule;
}

/** Why something went the way it did. */
export interface Note {
  at: number;
  thread: string;
  channelId: number | null;
  routeId: number | null;
  rule: Rule;
}

export interface Told {
  telling: Telling;
  says: Saying[];
  notes: Note[];
  /** Pieces that are other than before. */
  changedThreads: ReadonlySet<string>;
  changedRooms: ReadonlySet<number>;
}
