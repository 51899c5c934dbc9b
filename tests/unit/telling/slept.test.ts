import { describe, expect, it } from 'vitest';
import type { Hours } from '@/core/telling/hours';
import { NO_WATCHES } from '@/core/telling/route';
import { nextTellingAt, tell } from '@/core/telling/tell';
import { USUAL_FOLDING, type Telling } from '@/core/telling/telling';
import { Desk, HOUR, MINUTE, routeOf, setupOf, T0, watchOf } from './telling-on';

const of = (ids: number[]) => ({ all: false, ...NO_WATCHES, ids, except: NO_WATCHES });
const KIOSKS = [1, 2, 3, 4, 5, 6].map((id) => watchOf(id));
const HELD = watchOf(20);
/** Opens at 13:00, an hour after the beginning. */
const LATER: Hours = {
  zone: 'UTC',
  spans: [{ days: [1, 2, 3, 4, 5, 6, 7], from: '13:00', until: '18:00' }],
  daysOff: [],
  outside: 'hold',
};
const SETUP = setupOf(
  routeOf({
    watches: of(KIOSKS.map(({ id }) => id)),
    steps: [
      { afterMs: 0, channels: [1] },
      { afterMs: 61 * MINUTE, channels: [2] },
      { afterMs: 90 * MINUTE, channels: [3] },
    ],
  }),
  routeOf({ id: 2, watches: of([20]), hours: LATER }),
);

/** What one tick at a time says of what was left to itself until then. */
const tick = (telling: Telling, afterMs: number) =>
  tell(telling, { type: 'tick' }, T0 + afterMs, SETUP).says.map(
    ({ channelId, event, watch, rule }) => `${channelId} ${event.kind} ${watch?.id ?? 'several'} ${rule}`,
  );

describe('what fell due while nobody was there', () => {
  it('is told in the order of its times, all of it, at the first tick', () => {
    const desk = new Desk(SETUP).down(watchOf(1)).down(HELD);
    expect(tick(desk.telling, 2 * HOUR)).toEqual([
      '1 down 20 hours-opened',
      '2 down 1 step',
      '3 down 1 step',
    ]);
    expect(tick(desk.telling, 61 * MINUTE)).toEqual(['1 down 20 hours-opened', '2 down 1 step']);
    expect(tick(desk.telling, 61 * MINUTE - 1)).toEqual(['1 down 20 hours-opened']);
    expect(tick(desk.telling, 60 * MINUTE - 1)).toEqual([]);
  });

  it('at one moment, goes by what has the older reason: the end of a burst before hours that open', () => {
    const desk = new Desk(SETUP);
    for (const kiosk of KIOSKS.slice(0, 5)) desk.down(kiosk);
    desk
      .to(10 * MINUTE)
      .down(KIOSKS[5]!)
      .down(HELD);
    desk.to(59 * MINUTE).heard();
    for (const kiosk of KIOSKS) desk.up(kiosk);
    expect(desk.heard()).toHaveLength(5);
    expect(nextTellingAt(desk.telling, USUAL_FOLDING)).toBe(T0 + HOUR);
    expect(tick(desk.telling, HOUR)).toEqual(['1 several-over 6 burst', '1 down 20 hours-opened']);
    expect(tick(desk.telling, 2 * HOUR)).toEqual(['1 several-over 6 burst', '1 down 20 hours-opened']);
  });
});
