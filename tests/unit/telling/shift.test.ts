import { describe, expect, it } from 'vitest';
import { pullTelling, shiftTelling } from '@/core/telling/shift';
import { NOTHING_TOLD, USUAL_FOLDING, type Telling } from '@/core/telling/telling';
import { Desk, down, HOUR, MINUTE, routeOf, setupOf, T0, watchOf } from './telling-on';

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

  it('moves each time there is, but for what is held for hours', () => {
    const held = [
      { thread: 'w1', watch: KIOSK, event: down(T0), outageId: 1, at: T0, routeId: 1, over: null },
    ];
    const at = (now: number): Telling => ({
      threads: new Map([
        [
          'w1',
          {
            ...{ key: 'w1', watch: KIOSK, open: null, heard: {}, unsteady: false, listening: {}, joined: [] },
            legs: [
              { routeId: 1, step: 1, dueAt: now + MINUTE, again: 0, base: now },
              { routeId: 2, step: 1, dueAt: null, again: 0, base: now },
            ],
            taken: null,
            turns: [now, now + 1],
            joinedAt: now + 2,
          },
        ],
      ]),
      rooms: new Map([
        [
          1,
          {
            channelId: 1,
            openings: { since: now, count: 6, gathered: [], soonAt: now + 3 },
            closings: { since: now + 4, count: 1, gathered: [] },
            held: held.map((item) => ({ ...item, releaseAt: T0 + HOUR })),
            lately: [{ thread: 'w1', at: now + 5 }],
          },
        ],
        [2, { channelId: 2, openings: null, closings: null, held: [] }],
      ]),
    });
    expect(shiftTelling(at(T0), HOUR).telling).toEqual(at(T0 + HOUR));
    // Written by a clock that was an hour ahead: nothing of it is later than it can be by now.
    const pulled = pullTelling(at(T0 + HOUR), T0, USUAL_FOLDING);
    const thread = at(T0).threads.get('w1')!;
    const room = at(T0).rooms.get(1)!;
    const { joinMs, togetherMs } = USUAL_FOLDING;
    expect(pulled.threads.get('w1')).toEqual({ ...thread, turns: [T0, T0], joinedAt: T0 + joinMs });
    expect(pulled.rooms.get(1)).toEqual({
      ...room,
      openings: { ...room.openings, soonAt: T0 + togetherMs },
      closings: { ...room.closings, since: T0 },
      lately: [{ thread: 'w1', at: T0 }],
    });
    expect(pulled.rooms.get(2)).toEqual(at(T0).rooms.get(2));
  });

  it('that was more than a week ahead holds nothing back', () => {
    const longest = 8 * 24 * HOUR;
    const room = (releaseAt: number) => ({
      ...{ channelId: 1, openings: null, closings: null },
      held: [
        {
          thread: 'w1',
          watch: KIOSK,
          event: down(T0),
          outageId: 1,
          at: T0,
          routeId: 1,
          over: null,
          releaseAt,
        },
      ],
    });
    const pulled = (releaseAt: number) =>
      pullTelling(
        { threads: new Map(), rooms: new Map([[1, room(releaseAt)]]) },
        T0,
        USUAL_FOLDING,
      ).rooms.get(1)!.held[0]!.releaseAt;
    expect(pulled(T0 + longest)).toBe(T0 + longest);
    expect(pulled(T0 + longest + 1)).toBe(T0);
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
