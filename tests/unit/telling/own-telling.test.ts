import { describe, expect, it } from 'vitest';
import { factsOf, tellsOf } from '@/core/telling/happen';
import {
  NO_WATCHES,
  routeOf,
  routesFor,
  type OwnTelling,
  type Route,
  type WatchFacts,
} from '@/core/telling/route';
import { nextTellingAt, tell } from '@/core/telling/tell';
import { NOTHING_TOLD, USUAL_FOLDING, type Setup, type TellingInput } from '@/core/telling/telling';
import { TOPIC_NAMES } from '@/core/telling/topic';

const T0 = Date.parse('2026-11-26T12:00:00Z');
const MIN = 60_000;
const [CREW, OFFICE, PHONE] = [1, 2, 3];

const ALL: Route = {
  id: 7,
  name: 'All',
  enabled: true,
  watches: { all: true, ...NO_WATCHES, except: NO_WATCHES },
  topics: TOPIC_NAMES,
  steps: [{ afterMs: 0, channels: [CREW] }],
  againMs: 10 * MIN,
  againMost: 1,
  hours: null,
};
const setup: Setup = { routes: [ALL], channels: new Set([CREW, OFFICE, PHONE]), folding: USUAL_FOLDING };

const kiosk = (tells?: OwnTelling): WatchFacts => ({
  id: 4,
  name: 'Kiosk',
  kind: 'web',
  section: null,
  tags: [],
  urgency: 'soon',
  ...(tells && { tells }),
});

const down = { kind: 'down' as const, began: T0, noticed: T0, cause: 'port.refused' as const, detail: {} };
const up = { kind: 'recovered' as const, began: T0, ended: T0 + 30 * MIN };

/** Who heard what, when the watch goes down and comes back half an hour later. */
function heard(watch: WatchFacts, more: [TellingInput, number][] = []) {
  let telling = NOTHING_TOLD;
  const said: [number, string, number][] = [];
  const rules: string[] = [];
  const step = (input: TellingInput, at: number) => {
    const told = tell(telling, input, at, setup);
    telling = told.telling;
    for (const { channelId, event } of told.says) said.push([channelId, event.kind, (at - T0) / MIN]);
    rules.push(...told.notes.map(({ rule }) => rule));
  };
  const happening = { thread: 'w4', watch };
  step({ type: 'happened', happening: { ...happening, phase: 'opens', event: down } }, T0);
  for (const [input, at] of more) step(input, at);
  for (;;) {
    const due = nextTellingAt(telling, setup.folding);
    if (due === null || due > T0 + 29 * MIN) break;
    step({ type: 'tick' }, due);
  }
  step({ type: 'happened', happening: { ...happening, phase: 'closes', event: up } }, T0 + 30 * MIN);
  return { said, rules };
}

describe('what a watch says of who hears', () => {
  it('adds channels that hear at once, and of its end; reminders stay those of the route', () => {
    expect(heard(kiosk({ how: 'besides', channels: [PHONE] })).said).toEqual([
      [CREW, 'down', 0],
      [PHONE, 'down', 0],
      [CREW, 'still-down', 10],
      [CREW, 'recovered', 30],
      [PHONE, 'recovered', 30],
    ]);
  });

  it('takes the place of the routes', () => {
    expect(heard(kiosk({ how: 'instead', channels: [PHONE, OFFICE] })).said).toEqual([
      [PHONE, 'down', 0],
      [OFFICE, 'down', 0],
      [OFFICE, 'recovered', 30],
      [PHONE, 'recovered', 30],
    ]);
  });

  it('mutes it, and the log says why', () => {
    expect(heard(kiosk({ how: 'nobody', channels: [PHONE] }))).toEqual({
      said: [],
      rules: ['muted'],
    });
  });

  it('is nobody where it names no channel in their place', () => {
    expect(heard(kiosk({ how: 'instead', channels: [] }))).toEqual({ said: [], rules: ['no-route'] });
    expect(heard(kiosk({ how: 'besides', channels: [] })).said.map(([channel]) => channel)).toEqual([
      CREW,
      CREW,
      CREW,
    ]);
  });

  it('goes on by itself when somebody takes it and gives it back', () => {
    const { said } = heard(kiosk({ how: 'instead', channels: [PHONE] }), [
      [{ type: 'take', thread: 'w4', by: 'Ines', until: null }, T0 + MIN],
      [{ type: 'give-back', thread: 'w4', by: 'Ines' }, T0 + 2 * MIN],
    ]);
    expect(said.map(([, kind]) => kind)).toEqual(['down', 'taken', 'given-back', 'recovered']);
  });

  it('is for its own watch alone, and for nothing without one', () => {
    const own = kiosk({ how: 'besides', channels: [PHONE] });
    expect(routesFor([ALL], 'down', own).map(({ id }) => id)).toEqual([7, -4]);
    expect(routesFor([ALL], 'own', null).map(({ id }) => id)).toEqual([7]);
    expect(routeOf([ALL], -4, own)?.steps[0]?.channels).toEqual([PHONE]);
    expect(routeOf([ALL], -5, own)).toBeUndefined();
    expect(routeOf([ALL], -4, kiosk())).toBeUndefined();
    expect(routeOf([{ ...ALL, enabled: false }], 7, null)).toBeUndefined();
  });

  it('comes from its settings', () => {
    const watch = { id: 4, name: 'Kiosk', kind: 'web', section: null, tags: [] };
    expect(factsOf({ ...watch, config: {} })).not.toHaveProperty('tells');
    expect(factsOf({ ...watch, config: { tells: 'besides', tellsTo: [3] } }).tells).toEqual({
      how: 'besides',
      channels: [3],
    });
    expect(tellsOf({ tells: 'by-routes', tellsTo: [3] })).toBeNull();
    expect(tellsOf({ tells: 'nobody' })).toEqual({ how: 'nobody', channels: [] });
  });
});
