import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { replay, type Past, type PastTrouble } from '@/core/telling/ahead/replay';
import { NO_WATCHES, type Route, type WatchFacts } from '@/core/telling/route';
import { USUAL_FOLDING, type Setup } from '@/core/telling/telling';
import { TOPIC_NAMES } from '@/core/telling/topic';
import { tries } from '../tries';

const MIN = 60_000;
const NOON = Date.parse('2026-11-20T12:00:00Z');
const NIGHT = Date.parse('2026-11-21T02:00:00Z');
const [CREW, OFFICE] = [1, 2];

const watch = (id: number, section = 'Piers'): WatchFacts => ({
  id,
  name: `Kiosk ${id}`,
  kind: 'web',
  section,
  tags: [],
  urgency: 'soon',
});

const route = (change: Partial<Route> = {}): Route => ({
  id: 1,
  name: 'All',
  enabled: true,
  watches: { all: true, ...NO_WATCHES, except: NO_WATCHES },
  topics: TOPIC_NAMES,
  steps: [{ afterMs: 0, channels: [CREW] }],
  againMs: null,
  againMost: null,
  hours: null,
  ...change,
});

const setup = (...routes: Route[]): Setup => ({
  routes,
  channels: new Set([CREW, OFFICE]),
  folding: USUAL_FOLDING,
});

const trouble = (id: number, noticed: number, ended: number | null, change: Partial<PastTrouble> = {}) => ({
  id,
  watchId: id,
  noticed,
  ended,
  follows: null,
  down: { kind: 'down' as const, began: noticed, noticed, cause: 'port.refused' as const, detail: {} },
  ...change,
});

const past = (troubles: PastTrouble[], change: Partial<Past> = {}): Past => ({
  watches: new Map(troubles.map(({ watchId }) => [watchId, watch(watchId)])),
  troubles,
  quiet: new Map(),
  until: NIGHT + 10 * 24 * 60 * MIN,
  zone: 'UTC',
  ...change,
});

describe('routes tried on the past', () => {
  it('say how much they would have said, to whom, and how much of it at night', () => {
    const was = past([trouble(1, NOON, NOON + 5 * MIN), trouble(2, NIGHT, NIGHT + 5 * MIN)]);
    expect(replay(was, setup(route()))).toEqual({
      messages: 4,
      atNight: 2,
      channels: [{ channelId: CREW, messages: 4, atNight: 2 }],
      troubles: 2,
      unheard: [],
      quiet: 0,
    });
  });

  it('count nights by the clock of the desk', () => {
    const was = past([trouble(1, NIGHT, null)], { zone: 'Pacific/Auckland' });
    expect(replay(was, setup(route())).atNight).toBe(0);
    const edge = (at: string) => replay(past([trouble(1, Date.parse(at), null)]), setup(route())).atNight;
    expect(['2026-11-20T21:59:59Z', '2026-11-20T22:00:00Z'].map(edge)).toEqual([0, 1]);
    expect(['2026-11-20T06:59:59Z', '2026-11-20T07:00:00Z'].map(edge)).toEqual([1, 0]);
  });

  it('name what nobody would have heard of, and by which rule', () => {
    const was = past([
      trouble(1, NOON, NOON + MIN),
      trouble(2, NOON + 60 * MIN, NOON + 90 * MIN),
      trouble(3, NOON + 120 * MIN, null),
    ]);
    const late = route({
      watches: { all: true, ...NO_WATCHES, except: { ...NO_WATCHES, ids: [3] } },
      steps: [{ afterMs: 5 * MIN, channels: [CREW] }],
    });
    expect(replay(was, setup(late)).unheard).toEqual([
      { id: 1, rule: 'over-before-its-time' },
      { id: 3, rule: 'no-route' },
    ]);
    const closed = route({
      hours: {
        zone: 'UTC',
        spans: [{ days: [1], from: '07:00', until: '08:00' }],
        daysOff: [],
        outside: 'drop',
      },
    });
    expect(replay(was, setup(closed)).unheard.map(({ rule }) => rule)).toEqual([
      'dropped',
      'dropped',
      'dropped',
    ]);
  });

  it('go on with what falls due: steps, and telling again, up to the end and no further', () => {
    const was = past([trouble(1, NOON, null)], { until: NOON + 3 * 60 * MIN });
    const steps = [
      { afterMs: 0, channels: [CREW] },
      { afterMs: 20 * MIN, channels: [OFFICE] },
    ];
    const { channels } = replay(was, setup(route({ steps, againMs: 60 * MIN })));
    expect(channels).toEqual([
      { channelId: CREW, messages: 3, atNight: 0 },
      { channelId: OFFICE, messages: 3, atNight: 0 },
    ]);
  });

  it('say nothing within planned time, and tell at its end of what outlasts it', () => {
    const quiet = new Map([[1, [{ from: NOON - MIN, to: NOON + 30 * MIN }]]]);
    const within = past([trouble(1, NOON, NOON + 10 * MIN)], { quiet });
    expect(replay(within, setup(route()))).toMatchObject({ messages: 0, troubles: 0, quiet: 1 });
    const beyond = past([trouble(1, NOON, NOON + 60 * MIN)], { quiet });
    const late = route({ steps: [{ afterMs: 40 * MIN, channels: [CREW] }] });
    expect(replay(beyond, setup(route()))).toMatchObject({ messages: 2, troubles: 1, quiet: 0 });
    expect(replay(beyond, setup(late))).toMatchObject({ messages: 0, unheard: [{ id: 1 }] });
  });

  it('go by each planned time in turn, and by none that lies elsewhere', () => {
    const told = (spans: { from: number; to: number }[], lasts = 60) => {
      const quiet = new Map([[1, spans]]);
      const late = route({ steps: [{ afterMs: 25 * MIN, channels: [CREW] }] });
      return replay(past([trouble(1, NOON, NOON + lasts * MIN)], { quiet }), setup(late)).messages;
    };
    const to = (from: number, until: number) => ({ from: NOON + from * MIN, to: NOON + until * MIN });
    expect(told([])).toBe(2);
    // It begins where the time does, and is told from its end on.
    expect(told([to(0, 40)])).toBe(0);
    expect(told([to(0, 30)])).toBe(2);
    // One after the other.
    expect(told([to(-5, 20), to(20, 40)])).toBe(0);
    expect(told([to(-5, 20), to(21, 40)])).toBe(2);
    // Over before it, or not begun yet.
    expect(told([to(-60, 0)])).toBe(2);
    expect(told([to(1, 50)])).toBe(2);
    expect(told([to(-90, -60), to(70, 90)])).toBe(2);
    // Ended as its planned time does: nobody is told.
    expect(told([to(0, 60)])).toBe(0);
  });

  it('do not take a trouble for one within planned time that has none', () => {
    const at = past([trouble(1, NOON, NOON)]);
    expect(replay(at, setup(route()))).toMatchObject({ quiet: 0, troubles: 1 });
    const lasting = past([trouble(1, NOON, null)], {
      quiet: new Map([[1, [{ from: NOON, to: NOON + MIN }]]]),
    });
    expect(replay(lasting, setup(route()))).toMatchObject({ quiet: 0, troubles: 1, messages: 1 });
  });

  it('say nothing of an end that lies beyond where it ends', () => {
    const ends = (after: number) =>
      replay(past([trouble(1, NOON, NOON + after * MIN)], { until: NOON + 10 * MIN }), setup(route()))
        .messages;
    expect([5, 10, 11].map(ends)).toEqual([2, 2, 1]);
  });

  it('go through it in its order, however it is handed in; what ends goes before what begins', () => {
    const first = trouble(1, NOON, NOON + 10 * MIN, { watchId: 1 });
    const second = trouble(2, NOON + 10 * MIN, NOON + 20 * MIN, { watchId: 1 });
    const third = trouble(3, NOON + 60 * MIN, NOON + 70 * MIN, { watchId: 1 });
    for (const all of [
      [first, second, third],
      [third, second, first],
      [second, third, first],
    ]) {
      expect(replay(past(all), setup(route()))).toMatchObject({ messages: 6, troubles: 3, unheard: [] });
    }
  });

  it('tell what follows from another trouble with that one', () => {
    const was = past([
      trouble(1, NOON, NOON + 60 * MIN),
      trouble(2, NOON + MIN / 2, NOON + 60 * MIN, { follows: 1 }),
    ]);
    expect(replay(was, setup(route()))).toMatchObject({ messages: 3, troubles: 1, unheard: [] });
  });

  it('leave out watches that are gone', () => {
    const was = past([trouble(1, NOON, null)], { watches: new Map() });
    expect(replay(was, setup(route()))).toMatchObject({ messages: 0, troubles: 0 });
  });

  it('account for every trouble, whatever happened: it was heard of, or a rule says why not', () => {
    const troubles = fc.array(
      fc.record({
        watchId: fc.integer({ min: 1, max: 4 }),
        at: fc.nat(2_000),
        lasts: fc.integer({ min: 1, max: 90 }),
      }),
      { maxLength: 40 },
    );
    fc.assert(
      fc.property(troubles, fc.nat(30), (all, delay) => {
        const free = new Map<number, number>();
        const kept = all
          .sort((a, b) => a.at - b.at)
          .flatMap(({ watchId, at, lasts }, i) => {
            if ((free.get(watchId) ?? -1) >= at) return [];
            free.set(watchId, at + lasts);
            return trouble(i, NOON + at * MIN, NOON + (at + lasts) * MIN, { watchId });
          });
        const { unheard, troubles: count } = replay(
          past(kept),
          setup(route({ steps: [{ afterMs: delay * MIN, channels: [CREW] }] })),
        );
        expect(count).toBe(kept.length);
        for (const { id, rule } of unheard) {
          const { noticed, ended } = kept.find((one) => one.id === id)!;
          expect(['over-before-its-time', 'unsteady']).toContain(rule);
          if (rule === 'over-before-its-time') expect(ended! - noticed).toBeLessThanOrEqual(delay * MIN);
        }
      }),
      { numRuns: tries(200) },
    );
  });
});
