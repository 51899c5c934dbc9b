import { describe, expect, it } from 'vitest';
import { pullTelling, shiftTelling } from '@/core/telling/shift';
import { NOTHING_TOLD, USUAL_FOLDING } from '@/core/telling/telling';
import { Desk, HOUR, MINUTE, routeOf, setupOf, T0, watchOf } from './telling-on';

const KIOSK = watchOf(1);
const STEPS = [
  { afterMs: 0, channels: [1] },
  { afterMs: 10 * MINUTE, channels: [2] },
];

describe('a clock that is set', () => {
  it('leaves everything to wait as long as it would have', () => {
    const desk = new Desk(setupOf(routeOf({ steps: STEPS })));
    desk.down(KIOSK).joins(watchOf(5), KIOSK);
    for (let id = 10; id < 16; id += 1) desk.down(watchOf(id));
    const told = shiftTelling(desk.telling, -HOUR);
    expect(told.changedThreads.size).toBe(desk.telling.threads.size);
    expect([told.says, told.notes, [...told.changedRooms]]).toEqual([[], [], [1]]);
    desk.heard();
    desk.telling = told.telling;
    desk.now = T0 - HOUR;
    desk.to(-HOUR + MINUTE - 1);
    expect(desk.heard()).toEqual([]);
    expect(desk.to(-HOUR + MINUTE).heard()).toEqual(['-59: 1 several 2', '-59: 1 also 1 1']);
    expect(desk.to(-HOUR + 10 * MINUTE).heard()).toHaveLength(5);
    expect(shiftTelling(NOTHING_TOLD, HOUR).telling).toEqual(NOTHING_TOLD);
  });

  it('moves what somebody has for a time, and when it was taken', () => {
    const desk = new Desk(setupOf(routeOf({ steps: STEPS })));
    desk.down(KIOSK).taken(KIOSK, 'Ines', HOUR);
    const { taken } = shiftTelling(desk.telling, MINUTE).telling.threads.get('w1')!;
    expect(taken).toEqual({ by: 'Ines', at: T0 + MINUTE, until: T0 + HOUR + MINUTE });
  });
});

describe('a clock that was ahead', () => {
  const ahead = (desk: Desk) => {
    desk.now = T0 + 1000 * HOUR;
    return desk;
  };

  it('keeps nothing back until its time comes for a second time', () => {
    const hours = {
      zone: 'UTC',
      spans: [{ days: [1], from: '00:00', until: '01:00' }],
      daysOff: [],
      outside: 'hold' as const,
    };
    const desk = ahead(
      new Desk(
        setupOf(routeOf({ steps: STEPS }), routeOf({ id: 2, hours, steps: [{ afterMs: 0, channels: [3] }] })),
      ),
    );
    desk.down(KIOSK).joins(watchOf(5), KIOSK);
    for (let id = 10; id < 16; id += 1) desk.down(watchOf(id));
    desk.heard();
    desk.telling = pullTelling(desk.telling, T0, USUAL_FOLDING);
    desk.now = T0;
    expect(desk.to(0).heard()).toEqual(['0: 3 several 7']);
    expect(desk.to(MINUTE).heard()).toEqual(['1: 1 several 2', '1: 1 also 1 1', '1: 3 also 1 1']);
    expect(desk.to(10 * MINUTE).heard()[0]).toBe('10: 2 down 1');
    expect(Math.max(...desk.telling.threads.get('w1')!.turns)).toBeLessThanOrEqual(T0);
  });

  it('changes nothing of what lies in its time', () => {
    const desk = new Desk(setupOf(routeOf({ steps: STEPS })));
    desk.down(KIOSK).joins(watchOf(5), KIOSK);
    expect(pullTelling(desk.telling, T0 + 1, USUAL_FOLDING)).toEqual(desk.telling);
  });
});
