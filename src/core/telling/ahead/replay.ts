import type { MessageEvent } from '@/core/messages/message';
import { MINUTE_MS } from '@/core/time/units';
import { wallAt } from '@/core/time/zone-time';
import { threadOf } from '../happen';
import type { WatchFacts } from '../route';
import { nextTellingAt, tellAll } from '../tell';
import {
  NOTHING_TOLD,
  type Happening,
  type Rule,
  type Setup,
  type Telling,
  type TellingInput,
  type Told,
} from '../telling';

/** A trouble as it is remembered. Times in ms since 1970. */
export interface PastTrouble {
  id: number;
  watchId: number;
  noticed: number;
  /** Null while it lasts. */
  ended: number | null;
  down: Extract<MessageEvent, { kind: 'down' }>;
  /** The watch whose outage it followed from: it was told with that one. */
  follows: number | null;
}

/** Planned time of a watch, in which nothing is told; a trouble that outlasts it is told at its end. */
export interface QuietSpan {
  from: number;
  to: number;
}

export interface Past {
  watches: ReadonlyMap<number, WatchFacts>;
  troubles: readonly PastTrouble[];
  quiet: ReadonlyMap<number, readonly QuietSpan[]>;
  /** Where it ends. */
  until: number;
  /** In which nights are nights. */
  zone: string;
}

/** A trouble nobody heard of, and by which rule. */
export interface Unheard {
  id: number;
  rule: Rule;
}

/** What routes would have said. */
export interface Replayed {
  messages: number;
  /** Of those, how many between 22:00 and 07:00. */
  atNight: number;
  /** The same by channel; channels that would have heard nothing are left out. */
  channels: { channelId: number; messages: number; atNight: number }[];
  troubles: number;
  unheard: Unheard[];
  /** Troubles that came and went within planned time. */
  quiet: number;
}

const NIGHT_FROM = 22;
const NIGHT_UNTIL = 7;
/** A route that tells again every minute of a year is told of by its first so many messages. */
const MOST_TICKS = 200_000;

/** When a trouble was, or would have been, told: never while its watch is in planned time. */
function openedAt({ noticed, ended }: PastTrouble, quiet: readonly QuietSpan[]): number | null {
  let at = noticed;
  for (const { from, to } of quiet) if (at >= from && at < to) at = to;
  return ended !== null && at >= ended && at !== noticed ? null : at;
}

interface Moment {
  at: number;
  happening: Happening;
  /** The trouble that opens here. */
  opens: number | null;
}

/** What happened, in the order it happened; at one moment what ends goes before what begins. */
function momentsOf({ watches, troubles, quiet, until }: Past): { moments: Moment[]; inQuiet: number } {
  const moments: Moment[] = [];
  let inQuiet = 0;
  for (const trouble of troubles) {
    const watch = watches.get(trouble.watchId);
    if (!watch) continue;
    const { id, ended, follows, down } = trouble;
    const at = openedAt(trouble, quiet.get(trouble.watchId) ?? []);
    if (at === null) {
      inQuiet += 1;
      continue;
    }
    if (follows !== null) {
      moments.push({ at, opens: null, happening: { thread: threadOf(follows), phase: 'joins', watch } });
      continue;
    }
    const thread = threadOf(trouble.watchId);
    const opens = { thread, phase: 'opens' as const, watch, event: down, outageId: id };
    moments.push({ at, opens: id, happening: opens });
    if (ended === null || ended > until) continue;
    const over = { kind: 'recovered' as const, began: down.began, ended };
    moments.push({ at: ended, opens: null, happening: { thread, phase: 'closes', watch, event: over } });
  }
  const order = (one: Moment) => (one.happening.phase === 'closes' ? 0 : 1);
  moments.sort((a, b) => a.at - b.at || order(a) - order(b));
  return { moments, inQuiet };
}

/** Counts what is said, and who heard of what. */
class Count {
  private readonly byChannel = new Map<number, { messages: number; atNight: number }>();
  private readonly heard = new Set<number>();
  private readonly why = new Map<number, Rule>();
  private readonly open = new Map<string, number>();
  private readonly nights = new Map<number, boolean>();

  constructor(private readonly zone: string) {}

  begins(thread: string, id: number): void {
    this.open.set(thread, id);
  }

  take({ says, notes }: Told, at: number): void {
    for (const { thread, rule } of notes) {
      const id = this.open.get(thread);
      if (id !== undefined) this.why.set(id, rule);
    }
    if (says.length === 0) return;
    const night = this.isNight(at) ? 1 : 0;
    for (const { channelId, outageIds } of says) {
      const count = this.byChannel.get(channelId) ?? { messages: 0, atNight: 0 };
      this.byChannel.set(channelId, { messages: count.messages + 1, atNight: count.atNight + night });
      for (const id of outageIds) this.heard.add(id);
    }
  }

  /** Clocks are asked once a quarter: no zone is ahead by less, and asking is what takes long here. */
  private isNight(at: number): boolean {
    const quarter = Math.floor(at / (15 * MINUTE_MS));
    const known = this.nights.get(quarter);
    if (known !== undefined) return known;
    const { hour } = wallAt(at, this.zone);
    const night = hour >= NIGHT_FROM || hour < NIGHT_UNTIL;
    this.nights.set(quarter, night);
    return night;
  }

  result(opened: readonly number[], quiet: number): Replayed {
    const channels = [...this.byChannel].map(([channelId, count]) => ({ channelId, ...count }));
    const sum = (of: 'messages' | 'atNight') => channels.reduce((all, one) => all + one[of], 0);
    return {
      messages: sum('messages'),
      atNight: sum('atNight'),
      channels,
      troubles: opened.length,
      unheard: opened
        .filter((id) => !this.heard.has(id))
        .map((id) => ({ id, rule: this.why.get(id) ?? 'no-route' })),
      quiet,
    };
  }
}

/**
 * What was, told by other routes: the life of what is said is run over it, from nothing told to the end, with all that
 * falls due in between.
 */
export function replay(past: Past, setup: Setup): Replayed {
  const { moments, inQuiet } = momentsOf(past);
  const count = new Count(past.zone);
  let telling: Telling = NOTHING_TOLD;
  let ticks = 0;
  const step = (inputs: TellingInput[], at: number) => {
    const told = tellAll(telling, inputs, at, setup);
    telling = told.telling;
    count.take(told, at);
  };
  const tickUntil = (end: number) => {
    for (;;) {
      const due = nextTellingAt(telling, setup.folding);
      if (due === null || due > end || (ticks += 1) > MOST_TICKS) return;
      step([{ type: 'tick' }], due);
    }
  };
  for (const { at, happening, opens } of moments) {
    tickUntil(at);
    if (opens !== null) count.begins(happening.thread, opens);
    step([{ type: 'happened', happening }], at);
  }
  tickUntil(past.until);
  const opened = moments.flatMap(({ opens }) => opens ?? []);
  return count.result(opened, inQuiet);
}
