import type { MessageEvent } from '@/core/messages/message';
import { DAY_MS } from '@/core/time/units';
import { threadOf } from './happen';
import type { WatchFacts } from './route';
import { nextTellingAt, tell } from './tell';
import { NOTHING_TOLD, type Rule, type Setup, type TellingInput } from './telling';

/** Somebody would be told, so long after it was noticed. */
export interface Foretold {
  channelId: number;
  afterMs: number;
  /** The first time, or again. */
  rule: Rule;
}

/** What goes wrong with a watch of a kind, as far as routes look at it. */
export function exampleTrouble(kind: string, at: number): MessageEvent {
  const cause = kind === 'checkin' ? ('checkin.missed' as const) : ('port.refused' as const);
  return { kind: 'down', began: at, noticed: at, cause, detail: {} };
}

/** Farther ahead nothing is foretold. */
const HORIZON_MS = 2 * DAY_MS;
const MOST = 200;

/**
 * What would be said if a watch went down now and nobody took it: the life of what is said itself is run ahead of the
 * clock, so that what is shown is what will be.
 */
export function foretell(watch: WatchFacts, event: MessageEvent, now: number, setup: Setup): Foretold[] {
  const foretold: Foretold[] = [];
  let telling = NOTHING_TOLD;
  const take = (input: TellingInput, at: number) => {
    const told = tell(telling, input, at, setup);
    telling = told.telling;
    for (const { channelId, rule } of told.says) foretold.push({ channelId, afterMs: at - now, rule });
  };
  const happening = { thread: threadOf(watch.id), phase: 'opens' as const, watch, event };
  take({ type: 'happened', happening }, now);
  for (;;) {
    const due = nextTellingAt(telling, setup.folding);
    if (due === null || due > now + HORIZON_MS || foretold.length > MOST) return foretold;
    take({ type: 'tick' }, due);
  }
}
