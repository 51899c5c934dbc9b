import type { CauseCode } from '@/core/causes/causes';
import type { MessageEvent } from '@/core/messages/message';
import { NO_WATCHES, type Route, type WatchFacts } from '@/core/telling/route';
import { nextTellingAt, tell } from '@/core/telling/tell';
import {
  NOTHING_TOLD,
  USUAL_FOLDING,
  type Happening,
  type Note,
  type Saying,
  type Setup,
  type Telling,
  type TellingInput,
} from '@/core/telling/telling';
import { TOPIC_NAMES } from '@/core/telling/topic';

export const MINUTE = 60_000;
export const HOUR = 60 * MINUTE;
/** A Monday, 12:00 UTC. */
export const T0 = Date.parse('2026-11-23T12:00:00Z');

export function routeOf(rest: Partial<Route> = {}): Route {
  return {
    id: 1,
    name: 'Day and night',
    enabled: true,
    watches: { all: true, ...NO_WATCHES, except: NO_WATCHES },
    topics: TOPIC_NAMES,
    steps: [{ afterMs: 0, channels: [1] }],
    againMs: null,
    againMost: null,
    hours: null,
    ...rest,
  };
}

export function watchOf(id: number, rest: Partial<WatchFacts> = {}): WatchFacts {
  return { id, name: `Kiosk ${id}`, kind: 'web', section: 'On the pier', tags: [], urgency: 'soon', ...rest };
}

export function setupOf(...routes: Route[]): Setup {
  return { routes, channels: new Set([1, 2, 3]), folding: USUAL_FOLDING };
}

export const down = (at: number, cause: CauseCode = 'port.refused'): MessageEvent => ({
  kind: 'down',
  began: at,
  noticed: at,
  cause,
  detail: {},
});
/** The same, on a host that others may be on. */
export function downOn(at: number, host: string | undefined): MessageEvent {
  if (host === undefined) return down(at);
  const nothing = { port: null, resolver: null, address: null, certificate: null, hostAnswers: null };
  return { ...down(at), shares: { host, carries: false, ...nothing } } as MessageEvent;
}
export const up = (began: number, ended: number): MessageEvent => ({ kind: 'recovered', began, ended });

type Said = Saying & { at: number };

/** A desk whose clock is turned by the test; what falls due by itself is told at its time. */
export class Desk {
  telling: Telling = NOTHING_TOLD;
  now = T0;
  says: Said[] = [];
  notes: Note[] = [];

  constructor(
    public setup: Setup,
    /** The host each watch is on, where that is known. */
    private readonly hosts: Readonly<Record<number, string>> = {},
  ) {}

  private take(input: TellingInput): void {
    const told = tell(this.telling, input, this.now, this.setup);
    this.telling = told.telling;
    this.says.push(...told.says.map((saying) => ({ ...saying, at: this.now })));
    this.notes.push(...told.notes);
  }

  /** Goes on to a time, counted from the beginning. */
  to(afterMs: number): this {
    const end = T0 + afterMs;
    for (;;) {
      const due = nextTellingAt(this.telling, this.setup.folding);
      if (due === null || due > end) break;
      this.now = Math.max(this.now, due);
      this.take({ type: 'tick' });
    }
    this.now = end;
    return this;
  }

  down(watch: WatchFacts, event: MessageEvent = downOn(this.now, this.hosts[watch.id])): this {
    this.take({ type: 'happened', happening: { thread: `w${watch.id}`, phase: 'opens', watch, event } });
    return this;
  }

  up(watch: WatchFacts, event: MessageEvent = up(T0, this.now)): this {
    this.take({ type: 'happened', happening: { thread: `w${watch.id}`, phase: 'closes', watch, event } });
    return this;
  }

  once(watch: WatchFacts, event: MessageEvent): this {
    this.take({ type: 'happened', happening: { thread: `w${watch.id}`, phase: 'once', watch, event } });
    return this;
  }

  /** Something as it was noted, about a watch or not. */
  happens(happening: Happening): this {
    this.take({ type: 'happened', happening });
    return this;
  }

  joins(watch: WatchFacts, upstream: WatchFacts): this {
    const happening = { thread: `w${upstream.id}`, phase: 'joins' as const, watch };
    this.take({ type: 'happened', happening });
    return this;
  }

  taken(watch: WatchFacts, by: string, untilAfterMs: number | null = null): this {
    const until = untilAfterMs === null ? null : T0 + untilAfterMs;
    this.take({ type: 'take', thread: `w${watch.id}`, by, until });
    return this;
  }

  givenBack(watch: WatchFacts, by: string): this {
    this.take({ type: 'give-back', thread: `w${watch.id}`, by });
    return this;
  }

  /** The process dies, and starts again from what it kept. */
  restart(): this {
    const kept = JSON.stringify([[...this.telling.threads], [...this.telling.rooms]]);
    const [threads, rooms] = JSON.parse(kept) as [[string, never][], [number, never][]];
    this.telling = { threads: new Map(threads), rooms: new Map(rooms) };
    return this;
  }

  /** What was said since this was asked last: minutes since the beginning, channel, kind, and about whom. */
  heard(): string[] {
    const said = this.says.map(
      ({ at, channelId, event, watch }) =>
        `${(at - T0) / MINUTE}: ${channelId} ${event.kind}${'items' in event ? ` ${event.items.length}` : ''}${
          watch ? ` ${watch.id}` : ''
        }`,
    );
    this.says = [];
    return said;
  }

  /** Rules that were named since this was asked last. */
  rules(): string[] {
    const rules = this.notes.map(({ rule, channelId }) =>
      channelId === null ? rule : `${rule} ${channelId}`,
    );
    this.notes = [];
    return rules;
  }
}
