import { TOGETHER_MS } from '@/core/causes/group-troubles';
import type { Folding, Room, Thread } from './telling';

interface At {
  at: number;
  /** What comes first of what falls due at the same time. */
  order: number;
}

export type Due =
  | (At & { what: 'leg'; thread: string; routeId: number })
  | (At & { what: 'expires'; thread: string })
  | (At & { what: 'rests'; thread: string })
  | (At & { what: 'joined'; thread: string })
  | (At & { what: 'burst'; channelId: number; of: 'openings' | 'closings' })
  | (At & { what: 'together'; channelId: number })
  | (At & { what: 'hours'; channelId: number })
  | (At & { what: 'forget'; channelId: number });

const ORDER = {
  expires: 0,
  rests: 1,
  // What belongs together is told as that, also where the burst it came in ends at the same moment.
  together: 2,
  burst: 3,
  hours: 4,
  leg: 5,
  joined: 6,
  forget: 7,
} as const;

/** Everything that will fall due by itself in some conversations and channels, in no order. */
export function* dueTimes(
  threads: Iterable<Thread>,
  rooms: Iterable<Room>,
  { burstMs, unsteadyMs }: Folding,
): Generator<Due> {
  for (const { key: thread, legs, taken, turns, joinedAt } of threads) {
    if (taken?.until) yield { what: 'expires', thread, at: taken.until, order: ORDER.expires };
    const last = turns.at(-1);
    if (last !== undefined) yield { what: 'rests', thread, at: last + unsteadyMs, order: ORDER.rests };
    if (joinedAt !== null) yield { what: 'joined', thread, at: joinedAt, order: ORDER.joined };
    if (taken) continue;
    for (const { routeId, dueAt } of legs) {
      if (dueAt !== null) yield { what: 'leg', thread, routeId, at: dueAt, order: ORDER.leg };
    }
  }
  for (const { channelId, openings, closings, held, lately } of rooms) {
    if (openings)
      yield { what: 'burst', channelId, of: 'openings', at: openings.since + burstMs, order: ORDER.burst };
    if (openings?.soonAt !== undefined)
      yield { what: 'together', channelId, at: openings.soonAt, order: ORDER.together };
    if (closings)
      yield { what: 'burst', channelId, of: 'closings', at: closings.since + burstMs, order: ORDER.burst };
    const first = held.reduce<number | null>(
      (least, { releaseAt }) => Math.min(least ?? releaseAt, releaseAt),
      null,
    );
    if (first !== null) yield { what: 'hours', channelId, at: first, order: ORDER.hours };
    const oldest = lately?.[0];
    if (oldest) yield { what: 'forget', channelId, at: oldest.at + TOGETHER_MS + 1, order: ORDER.forget };
  }
}
