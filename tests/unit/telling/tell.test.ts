import { describe, expect, it } from 'vitest';
import type { Hours } from '@/core/telling/hours';
import { NO_WATCHES } from '@/core/telling/route';
import { tellAll } from '@/core/telling/tell';
import { NOTHING_TOLD, USUAL_FOLDING } from '@/core/telling/telling';
import { Desk, down, HOUR, MINUTE, routeOf, setupOf, T0, watchOf } from './telling-on';
import { IS_CHANGED } from '../tries';
import { effortOf } from '../effort';

const KIOSK = watchOf(1);
const CAMERA = watchOf(2, { kind: 'ping', section: null, tags: ['house'] });
/** Channel 1 at once, 2 after five minutes, 3 after twenty; all again every hour. */
const STEPS = [
  { afterMs: 0, channels: [1] },
  { afterMs: 5 * MINUTE, channels: [2] },
  { afterMs: 20 * MINUTE, channels: [3] },
];

describe('a trouble by a route', () => {
  it('is told at once and when it is over', () => {
    const desk = new Desk(setupOf(routeOf()));
    desk
      .down(KIOSK)
      .to(7 * MINUTE)
      .up(KIOSK);
    expect(desk.heard()).toEqual(['0: 1 down 1', '7: 1 recovered 1']);
    expect(desk.to(2 * HOUR).telling).toEqual(NOTHING_TOLD);
  });

  it('goes on to the next steps, and then to all again', () => {
    const desk = new Desk(setupOf(routeOf({ steps: STEPS, againMs: HOUR, againMost: 2 })));
    desk
      .down(KIOSK)
      .to(5 * HOUR)
      .up(KIOSK);
    expect(desk.heard()).toEqual([
      '0: 1 down 1',
      '5: 2 down 1',
      '20: 3 down 1',
      ...[80, 140].flatMap((at) => [1, 2, 3].map((channel) => `${at}: ${channel} still-down 1`)),
      ...[1, 2, 3].map((channel) => `300: ${channel} recovered 1`),
    ]);
  });

  it('that is over within the delay is told to nobody, and the rule is named', () => {
    const desk = new Desk(setupOf(routeOf({ steps: [{ afterMs: MINUTE, channels: [1] }] })));
    desk
      .down(KIOSK)
      .to(MINUTE - 1)
      .up(KIOSK)
      .to(HOUR);
    expect(desk.heard()).toEqual([]);
    expect(desk.rules()).toEqual(['over-before-its-time']);
  });

  it('is told of its end only to those who heard of it', () => {
    const desk = new Desk(setupOf(routeOf({ steps: STEPS })));
    desk
      .down(KIOSK)
      .to(6 * MINUTE)
      .up(KIOSK);
    expect(desk.heard()).toEqual(['0: 1 down 1', '5: 2 down 1', '6: 1 recovered 1', '6: 2 recovered 1']);
  });

  it('is told once where several routes lead to one channel', () => {
    const desk = new Desk(
      setupOf(routeOf(), routeOf({ id: 2, steps: [{ afterMs: MINUTE, channels: [1, 2] }] })),
    );
    desk
      .down(KIOSK)
      .to(2 * MINUTE)
      .up(KIOSK);
    expect(desk.heard()).toEqual(['0: 1 down 1', '1: 2 down 1', '2: 1 recovered 1', '2: 2 recovered 1']);
  });

  it('goes by no route where none is about it: which watch, which topic, or that it is off', () => {
    const house = { all: false, ...NO_WATCHES, tags: ['house'], except: NO_WATCHES };
    const desk = new Desk(
      setupOf(
        routeOf({ watches: house }),
        routeOf({ id: 2, topics: ['missed'], steps: [{ afterMs: 0, channels: [2] }] }),
        routeOf({ id: 3, enabled: false }),
      ),
    );
    desk.down(KIOSK).down(CAMERA).down(watchOf(3), down(T0, 'checkin.missed'));
    expect(desk.heard()).toEqual(['0: 1 down 2', '0: 2 down 3']);
    expect(desk.rules()).toEqual(['no-route']);
  });

  it('is kept from what a route leaves out', () => {
    const all = { all: true, ...NO_WATCHES, except: { ...NO_WATCHES, sections: [''] } };
    const desk = new Desk(setupOf(routeOf({ watches: all })));
    desk.down(KIOSK).down(CAMERA);
    expect(desk.heard()).toEqual(['0: 1 down 1']);
  });

  it('is not told of its end where the route does not ask for that', () => {
    const desk = new Desk(setupOf(routeOf({ topics: ['down'] })));
    desk.down(KIOSK).up(KIOSK);
    expect(desk.heard()).toEqual(['0: 1 down 1']);
    expect(desk.rules()).toEqual(['not-asked 1']);
  });

  it('is told of its end even so where it was paused or deleted while down', () => {
    const desk = new Desk(setupOf(routeOf({ topics: ['down'] })));
    desk.down(KIOSK).up(KIOSK, { kind: 'closed', began: T0, at: T0, because: 'paused' });
    expect(desk.heard()).toEqual(['0: 1 down 1', '0: 1 closed 1']);
  });

  it('is not told to a channel that rests, nor by a route that has gone', () => {
    const desk = new Desk({ ...setupOf(routeOf({ steps: STEPS })), channels: new Set([2, 3]) });
    desk.down(KIOSK).to(6 * MINUTE);
    expect(desk.heard()).toEqual(['5: 2 down 1']);
    expect(desk.rules()).toEqual(['channel-off 1']);
    desk.setup = { ...desk.setup, routes: [], channels: new Set([3]) };
    desk.to(HOUR).up(KIOSK);
    expect(desk.heard()).toEqual([]);
    expect(desk.rules()).toEqual(['route-gone', 'channel-off 2']);
  });

  it('is told to nothing that has gone meanwhile, whatever it is that would be said', () => {
    const hours = { zone: 'UTC', spans: [], daysOff: [], outside: 'hold' as const };
    const days = [1, 2, 3, 4, 5, 6, 7];
    const late = { ...hours, spans: [{ days, from: '14:00', until: '24:00' }] };
    const held = routeOf({ id: 2, hours: late, steps: [{ afterMs: 0, channels: [2] }] });
    const desk = new Desk(setupOf(routeOf({ againMs: 10 * MINUTE }), held));
    for (let id = 1; id <= 8; id += 1) desk.down(watchOf(id));
    for (let i = 0; i < 5; i += 1) desk.down(watchOf(9)).up(watchOf(9));
    desk.joins(watchOf(30), KIOSK);
    desk.heard();
    desk.setup = { ...desk.setup, channels: new Set() };
    desk
      .taken(KIOSK, 'Ines')
      .givenBack(KIOSK, 'Ines')
      .down(watchOf(9))
      .up(watchOf(9))
      .to(3 * HOUR);
    for (let id = 1; id <= 8; id += 1) desk.up(watchOf(id));
    desk.to(6 * HOUR);
    expect(desk.heard()).toEqual([]);
    expect(new Set(desk.rules())).toContain('channel-off 1');
    expect(desk.telling).toEqual(NOTHING_TOLD);
  });

  it('that is told a second time is the same trouble, and an end without a beginning is none', () => {
    const desk = new Desk(setupOf(routeOf()));
    desk.up(KIOSK).down(KIOSK).down(KIOSK);
    expect(desk.heard()).toEqual(['0: 1 down 1']);
    expect(desk.rules()).toEqual(['never-told', 'already-open']);
  });

  it('does not tell reminders one after the other that were slept through', () => {
    const desk = new Desk(setupOf(routeOf({ againMs: 10 * MINUTE })));
    desk.down(KIOSK);
    desk.now = T0 + 65 * MINUTE;
    desk.to(71 * MINUTE);
    expect(desk.heard()).toEqual([
      '0: 1 down 1',
      '65: 1 still-down 1',
      '65: 1 still-down 1',
      '70: 1 still-down 1',
    ]);
  });

  it('that has no end is told to those who hear at once', () => {
    const desk = new Desk(setupOf(routeOf({ steps: STEPS, againMs: HOUR })));
    desk.once(KIOSK, { kind: 'warned', at: T0, cause: 'tls.expires-soon', detail: {} }).to(5 * HOUR);
    expect(desk.heard()).toEqual(['0: 1 warned 1']);
    expect(desk.telling.threads.size).toBe(0);
  });
});

describe('hours', () => {
  const night: Hours = {
    zone: 'UTC',
    spans: [{ days: [1, 2, 3, 4, 5, 6, 7], from: '06:00', until: '12:30' }],
    daysOff: [],
    outside: 'hold',
  };
  const AFTER = HOUR;
  const OPENS = 18 * HOUR;

  it('hold back what happens outside them, and tell it together when they open', () => {
    const desk = new Desk(setupOf(routeOf({ hours: night })));
    desk
      .to(AFTER)
      .down(KIOSK)
      .down(CAMERA)
      .to(AFTER + 9 * MINUTE)
      .up(CAMERA);
    expect(desk.heard()).toEqual([]);
    expect(desk.rules()).toEqual(['held 1', 'held 1']);
    desk.to(OPENS);
    const [summary] = desk.says;
    expect(summary).toMatchObject({ rule: 'hours-opened', at: T0 + OPENS });
    expect(summary!.event).toMatchObject({
      kind: 'several',
      because: 'hours',
      items: [
        { watchId: 1, over: null },
        { watchId: 2, over: { kind: 'recovered' } },
      ],
    });
    desk.heard();
    // Only what goes on has an end to be told.
    desk.to(OPENS + MINUTE).up(KIOSK);
    expect(desk.heard()).toEqual(['1081: 1 recovered 1']);
  });

  it('tell one that goes on as it would have been told', () => {
    const desk = new Desk(setupOf(routeOf({ hours: night })));
    desk
      .to(AFTER)
      .down(KIOSK)
      .to(OPENS + 1)
      .up(KIOSK);
    expect(desk.heard().map((line) => line.split(' ').slice(2).join(' '))).toEqual(['down 1', 'recovered 1']);
  });

  it('let through what is for any hour, where that is chosen', () => {
    const urgent = { ...night, outside: 'urgent' as const };
    const desk = new Desk(setupOf(routeOf({ hours: urgent })));
    desk
      .to(AFTER)
      .down(watchOf(5, { urgency: 'any-hour' }))
      .down(KIOSK);
    expect(desk.heard()).toEqual(['60: 1 down 5']);
    expect(desk.rules()).toEqual(['held 1']);
    const held = new Desk(setupOf(routeOf({ hours: night })));
    held.to(AFTER).down(watchOf(5, { urgency: 'any-hour' }));
    expect(held.heard()).toEqual([]);
  });

  it('drop what happens outside them, where that is chosen, its end too', () => {
    const desk = new Desk(setupOf(routeOf({ hours: { ...night, outside: 'drop' } })));
    desk
      .to(AFTER)
      .down(KIOSK)
      .to(OPENS + 1)
      .up(KIOSK);
    expect(desk.heard()).toEqual([]);
    expect(desk.rules()).toEqual(['dropped 1']);
  });

  it('that never open hold nothing for ever', () => {
    const desk = new Desk(setupOf(routeOf({ hours: { ...night, spans: [] } })));
    desk.to(AFTER).down(KIOSK);
    expect(desk.rules()).toEqual(['dropped 1']);
    expect(desk.telling.rooms.size).toBe(0);
  });

  it('keep reminders for themselves', () => {
    const desk = new Desk(setupOf(routeOf({ hours: night, againMs: 20 * MINUTE })));
    desk.down(KIOSK).to(45 * MINUTE);
    expect(desk.heard()).toEqual(['0: 1 down 1', '20: 1 still-down 1']);
    expect(desk.rules()).toEqual(['outside-hours']);
  });

  it('of one route do not hold back what another says at once', () => {
    const other = routeOf({ id: 2, steps: [{ afterMs: 5 * MINUTE, channels: [1] }] });
    const desk = new Desk(setupOf(routeOf({ hours: night }), other));
    desk
      .to(AFTER)
      .down(KIOSK)
      .to(OPENS + MINUTE)
      .up(KIOSK);
    expect(desk.heard()).toEqual(['65: 1 down 1', '1081: 1 recovered 1']);
  });
});

describe('a conversation', () => {
  it('is told in order, also where its beginning waited for hours and its second does not have to', () => {
    const hours = { zone: 'UTC', spans: [], daysOff: [], outside: 'hold' as const };
    const days = [1, 2, 3, 4, 5, 6, 7];
    const late = { ...hours, spans: [{ days, from: '14:00', until: '24:00' }] };
    const now = { ...hours, spans: [{ days, from: '12:30', until: '13:00' }] };
    const desk = new Desk(setupOf(routeOf({ hours: late }), routeOf({ id: 2, hours: now })));
    desk
      .down(KIOSK)
      .up(KIOSK)
      .to(40 * MINUTE)
      .down(KIOSK)
      .to(5 * HOUR);
    expect(desk.heard()).toEqual(['40: 1 several 1 1', '40: 1 down 1']);
  });
});

describe('taking it', () => {
  const setup = setupOf(routeOf({ steps: STEPS, againMs: HOUR }));

  it('stops steps and reminders, and the others hear who has it', () => {
    const desk = new Desk(setup);
    desk
      .down(KIOSK)
      .to(6 * MINUTE)
      .taken(KIOSK, 'Ines')
      .to(9 * HOUR)
      .up(KIOSK);
    expect(desk.heard().slice(2)).toEqual([
      '6: 1 taken 1',
      '6: 2 taken 1',
      '540: 1 recovered 1',
      '540: 2 recovered 1',
    ]);
  });

  it('can be given back: what was due follows, reminders count from then', () => {
    const desk = new Desk(setup);
    desk
      .down(KIOSK)
      .to(6 * MINUTE)
      .taken(KIOSK, 'Ines')
      .to(HOUR)
      .givenBack(KIOSK, 'Ines')
      .to(HOUR + 1);
    expect(desk.heard().slice(4)).toEqual(['60: 1 given-back 1', '60: 2 given-back 1', '60: 3 down 1']);
    desk.to(2 * HOUR - 1);
    expect(desk.heard()).toEqual([]);
    expect(desk.to(2 * HOUR).heard()).toHaveLength(3);
  });

  it('can be for a time, and be handed over', () => {
    const desk = new Desk(setup);
    desk
      .down(KIOSK)
      .taken(KIOSK, 'Ines', 30 * MINUTE)
      .to(MINUTE)
      .taken(KIOSK, 'Rui', 10 * MINUTE);
    expect(desk.says.map(({ event }) => ('by' in event ? event.by : event.kind))).toEqual([
      'down',
      'Ines',
      'Rui',
    ]);
    desk.heard();
    desk.to(10 * MINUTE);
    expect(desk.heard()).toEqual(['10: 1 given-back 1', '10: 2 down 1']);
  });

  it('of what is over, or not taken, is nothing', () => {
    const desk = new Desk(setup);
    desk.taken(KIOSK, 'Ines').down(KIOSK).givenBack(KIOSK, 'Ines').up(KIOSK).taken(KIOSK, 'Ines');
    expect(desk.heard()).toEqual(['0: 1 down 1', '0: 1 recovered 1']);
  });
});

describe('many at once', () => {
  const watches = Array.from({ length: 200 }, (_, i) => watchOf(i + 1));

  it('are told one by one as far as that helps, and the rest as one', () => {
    const desk = new Desk(setupOf(routeOf()));
    for (const watch of watches) desk.down(watch);
    desk.to(HOUR);
    expect(desk.heard()).toEqual([...[1, 2, 3, 4, 5].map((id) => `0: 1 down ${id}`), '1: 1 several 195']);
    for (const watch of watches) desk.up(watch);
    desk.to(3 * HOUR);
    expect(desk.heard()).toEqual([
      ...[1, 2, 3, 4, 5].map((id) => `60: 1 recovered ${id}`),
      '61: 1 several-over 195',
    ]);
    expect(desk.telling).toEqual(NOTHING_TOLD);
  });

  it('that come slowly are told one by one', () => {
    const desk = new Desk(setupOf(routeOf()));
    for (const [i, watch] of watches.slice(0, 20).entries()) desk.to(i * 15_000).down(watch);
    expect(desk.heard()).toHaveLength(20);
  });

  it('that are over before they are told are told with their end, once', () => {
    const desk = new Desk(setupOf(routeOf()));
    for (const watch of watches.slice(0, 7)) desk.down(watch);
    desk.to(1000).up(watches[6]!).to(MINUTE);
    const { event } = desk.says.at(-1)!;
    expect(event).toMatchObject({
      kind: 'several',
      items: [{ over: null }, { over: { kind: 'recovered' } }],
    });
  });

  it('do not count against another channel', () => {
    const other = routeOf({ id: 2, topics: ['missed'], steps: [{ afterMs: 0, channels: [2] }] });
    const desk = new Desk(setupOf(routeOf({ topics: ['down'] }), other));
    for (const watch of watches) desk.down(watch);
    desk.heard();
    desk.down(watchOf(900), down(T0, 'checkin.missed'));
    expect(desk.heard()).toEqual(['0: 2 down 900']);
  });

  it.skipIf(IS_CHANGED)('take as long as they are many, and no longer', () => {
    const setup = setupOf(routeOf());
    const inputs = (count: number) =>
      Array.from({ length: count }, (_, i) => ({
        type: 'happened' as const,
        happening: { thread: `w${i}`, phase: 'opens' as const, watch: watchOf(i), event: down(T0) },
      }));
    const took = (count: number) => {
      const all = inputs(count);
      return effortOf(() => {
        expect(tellAll(NOTHING_TOLD, all, T0, setup).says).toHaveLength(USUAL_FOLDING.burstMost);
      });
    };
    took(500);
    expect(took(8000) / Math.max(1, took(1000))).toBeLessThan(40);
  });
});

describe('what cannot make up its mind', () => {
  it('is called unsteady once, and is quiet until it stands still', () => {
    const desk = new Desk(setupOf(routeOf()));
    for (let i = 0; i < 10; i += 1)
      desk
        .to(i * 2 * MINUTE)
        .down(KIOSK)
        .to(i * 2 * MINUTE + MINUTE)
        .up(KIOSK);
    expect(desk.says.at(-1)!.event).toEqual({ kind: 'unsteady', turns: 6, withinMs: 5 * MINUTE });
    expect(desk.heard()).toEqual([
      '0: 1 down 1',
      '1: 1 recovered 1',
      '2: 1 down 1',
      '3: 1 recovered 1',
      '4: 1 down 1',
      '5: 1 unsteady 1',
    ]);
    desk.to(3 * HOUR);
    expect(desk.says.at(-1)!.event).toEqual({ kind: 'steady', since: T0 + 19 * MINUTE });
    expect(desk.heard()).toEqual(['49: 1 steady 1']);
    expect(desk.telling.threads.size).toBe(0);
  });

  it('is told as down where that is how it stands in the end', () => {
    const desk = new Desk(setupOf(routeOf({ steps: STEPS })));
    for (let i = 0; i < 5; i += 1)
      desk
        .to(i * 2 * MINUTE)
        .down(KIOSK)
        .to(i * 2 * MINUTE + MINUTE)
        .up(KIOSK);
    desk.heard();
    desk
      .to(20 * MINUTE)
      .down(KIOSK)
      .to(56 * MINUTE)
      .up(KIOSK);
    expect(desk.heard()).toEqual(['50: 1 down 1', '55: 2 down 1', '56: 1 recovered 1', '56: 2 recovered 1']);
  });

  it('only counts turns that lie close together', () => {
    const desk = new Desk(setupOf(routeOf()));
    for (let i = 0; i < 10; i += 1)
      desk
        .to(i * HOUR)
        .down(KIOSK)
        .to(i * HOUR + MINUTE)
        .up(KIOSK);
    expect(desk.heard()).toHaveLength(20);
  });
});

describe('what follows from a trouble', () => {
  it('is told with it, in one', () => {
    const desk = new Desk(setupOf(routeOf()));
    desk.down(KIOSK).joins(watchOf(7), KIOSK).joins(watchOf(8), KIOSK).joins(watchOf(8), KIOSK).to(HOUR);
    expect(desk.heard()).toEqual(['0: 1 down 1', '1: 1 also 2 1']);
    desk
      .joins(watchOf(9), KIOSK)
      .up(KIOSK)
      .to(2 * HOUR);
    expect(desk.heard()).toEqual(['60: 1 recovered 1']);
  });

  it('of nothing that is told is nothing', () => {
    const desk = new Desk(setupOf(routeOf()));
    desk.joins(watchOf(7), KIOSK).to(HOUR);
    expect(desk.heard()).toEqual([]);
    expect(desk.telling).toEqual(NOTHING_TOLD);
  });
});
