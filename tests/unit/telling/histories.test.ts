import fc from 'fast-check';
import { expect, it } from 'vitest';
import type { Hours } from '@/core/telling/hours';
import type { Route } from '@/core/telling/route';
import type { SaidItem } from '@/core/messages/said';
import { Desk, MINUTE, routeOf, setupOf, T0, watchOf } from './telling-on';
import { tries } from '../tries';

const WATCHES = Array.from({ length: 9 }, (_, i) => watchOf(i + 1));
/** Some of them are on one host. */
const HOSTS = { 1: 'pier.ternferry.test', 2: 'pier.ternferry.test', 3: 'pier.ternferry.test' };
const LENGTH = 4 * 60;

const hours = fc.option(
  fc.record({
    zone: fc.constant('UTC'),
    spans: fc.array(
      fc.record({
        days: fc.constant([1, 2, 3, 4, 5, 6, 7]),
        from: fc.constantFrom('00:00', '12:30', '13:10'),
        until: fc.constantFrom('12:45', '13:00', '14:00', '24:00'),
      }),
      { minLength: 1, maxLength: 2 },
    ),
    daysOff: fc.constant([]),
    outside: fc.constantFrom('hold', 'urgent', 'drop'),
  }) as fc.Arbitrary<Hours>,
);

const route = fc.record({
  topics: fc.constantFrom(['down', 'recovered'], ['down']) as fc.Arbitrary<Route['topics']>,
  steps: fc
    .array(
      fc.record({
        afterMs: fc.integer({ min: 0, max: 30 }).map((minutes) => minutes * MINUTE),
        channels: fc.uniqueArray(fc.integer({ min: 1, max: 4 }), { minLength: 1, maxLength: 3 }),
      }),
      { minLength: 1, maxLength: 3 },
    )
    .map((steps) => steps.sort((a, b) => a.afterMs - b.afterMs)),
  againMs: fc.option(fc.constantFrom(10 * MINUTE, 45 * MINUTE)),
  againMost: fc.option(fc.integer({ min: 1, max: 3 })),
  hours,
});

type Move = { at: number; watch: number; is: 'turn' | 'take' | 'back' };

const move: fc.Arbitrary<Move> = fc.record({
  at: fc.integer({ min: 0, max: LENGTH * 60 }),
  watch: fc.integer({ min: 0, max: WATCHES.length - 1 }),
  is: fc.constantFrom('turn', 'turn', 'turn', 'turn', 'take', 'back'),
});

const history = fc.record({
  routes: fc
    .array(route, { minLength: 1, maxLength: 3 })
    .map((routes) => routes.map((one, i) => routeOf({ ...one, id: i + 1 }))),
  moves: fc.array(move, { maxLength: 60 }).map((moves) => moves.sort((a, b) => a.at - b.at)),
});

interface Played {
  desk: Desk;
  /** Outages of each watch, as they opened and closed. */
  outages: { watch: number; from: number; until: number }[];
}

/** Plays a history; `between` may do what should make no difference before any move. */
function play(
  { routes, moves }: { routes: Route[]; moves: Move[] },
  between: (desk: Desk, i: number) => void = () => undefined,
): Played {
  const desk = new Desk(setupOf(...routes), HOSTS);
  const open = new Map<number, number>();
  const outages: Played['outages'] = [];
  for (const [i, { at, watch: index, is }] of moves.entries()) {
    between(desk, i);
    desk.to(at * 1000);
    const watch = WATCHES[index]!;
    if (is === 'take') desk.taken(watch, 'Ines', at * 1000 + 20 * MINUTE);
    else if (is === 'back') desk.givenBack(watch, 'Ines');
    else if (open.has(index)) {
      outages.push({ watch: watch.id, from: open.get(index)!, until: desk.now });
      open.delete(index);
      desk.up(watch);
    } else {
      open.set(index, desk.now);
      desk.down(watch);
    }
  }
  between(desk, moves.length);
  for (const [index, from] of open) outages.push({ watch: WATCHES[index]!.id, from, until: Infinity });
  desk.to(30 * 60 * MINUTE);
  return { desk, outages };
}

interface Word {
  at: number;
  is: 'opening' | 'closing';
}

/** Openings and closings of one watch in one channel, whatever they were folded into, in the order they were said. */
function wordsOf({ desk }: Played, watch: number, channel: number): Word[] {
  return desk.says
    .filter(({ channelId }) => channelId === channel)
    .flatMap(({ at, event, watch: about }): Word[] => {
      const items = ('items' in event ? event.items : []).filter(
        (item) => item.watchId === watch,
      ) as SaidItem[];
      if (event.kind === 'several') {
        return items.flatMap(({ over }): Word[] =>
          over
            ? [
                { at, is: 'opening' },
                { at, is: 'closing' },
              ]
            : [{ at, is: 'opening' }],
        );
      }
      if (event.kind === 'several-over') return items.map((): Word => ({ at, is: 'closing' }));
      if (about?.id !== watch) return [];
      if (event.kind === 'down') return [{ at, is: 'opening' }];
      // Standing still again says how it stands: that it is up.
      return event.kind === 'recovered' ? [{ at, is: 'closing' }] : [];
    });
}

it('never tells of an end without its beginning, nor anything twice', () => {
  fc.assert(
    fc.property(history, (given) => {
      const played = play(given);
      for (const { id } of WATCHES) {
        const notes = played.desk.notes.filter(({ thread }) => thread === `w${id}`);
        for (const channel of [1, 2, 3, 4]) {
          let open = false;
          for (const { is, at } of wordsOf(played, id, channel)) {
            if (is === 'closing') expect(open).toBe(true);
            // A beginning after a beginning only where a rule kept the end between them to itself.
            else if (open) {
              const kept = notes.some(
                (note) =>
                  note.channelId === channel &&
                  note.at <= at &&
                  ['unsteady', 'not-asked', 'channel-off'].includes(note.rule),
              );
              expect(kept).toBe(true);
            }
            open = is === 'opening';
          }
        }
      }
    }),
    { numRuns: tries(150) },
  );
});

it('tells of every outage a route covers, or names the rule by which it did not', () => {
  fc.assert(
    fc.property(history, (given) => {
      const played = play(given);
      for (const { watch, from, until } of played.outages) {
        const notes = played.desk.notes.filter(
          ({ thread, at }) => thread === `w${watch}` && at >= from && at <= until,
        );
        const taken = given.moves.some(({ is }) => is === 'take');
        for (const channel of new Set(
          given.routes.flatMap(({ steps }) => steps.flatMap((s) => [...s.channels])),
        )) {
          const firstDue = Math.min(
            ...given.routes.flatMap(({ steps }) =>
              steps.filter(({ channels }) => channels.includes(channel)).map(({ afterMs }) => from + afterMs),
            ),
          );
          const opened = wordsOf(played, watch, channel).some(({ is, at }) => is === 'opening' && at >= from);
          const named = notes.some(({ channelId, rule }) => channelId === channel || rule === 'unsteady');
          if (firstDue < until && !taken) expect(opened || named).toBe(true);
        }
      }
    }),
    { numRuns: tries(150) },
  );
});

it('says the same where the process dies between any two things, or is woken for nothing', () => {
  fc.assert(
    fc.property(history, fc.array(fc.nat(60)), (given, places) => {
      const whole = play(given).desk;
      const inPieces = play(given, (desk, i) => {
        if (places.includes(i)) desk.restart();
      }).desk;
      expect(inPieces.says).toEqual(whole.says);
      expect(inPieces.notes).toEqual(whole.notes);
      const nervous = play(given, (desk) => desk.to(desk.now - T0)).desk;
      expect(nervous.says).toEqual(whole.says);
    }),
    { numRuns: tries(150) },
  );
});

it('forgets everything once all is over and quiet', () => {
  fc.assert(
    fc.property(history, (given) => {
      const { desk, outages } = play(given);
      const open = outages.filter(({ until }) => until === Infinity).map(({ watch }) => `w${watch}`);
      expect([...desk.telling.threads.keys()].sort()).toEqual(open.sort());
      expect(desk.telling.rooms.size).toBe(0);
    }),
    { numRuns: tries(150) },
  );
});
