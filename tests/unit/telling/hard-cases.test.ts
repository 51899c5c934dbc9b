import { describe, expect, it } from 'vitest';
import { NO_WATCHES } from '@/core/telling/route';
import { NOTHING_TOLD, USUAL_FOLDING } from '@/core/telling/telling';
import { Desk, HOUR, MINUTE, routeOf, setupOf, T0, watchOf } from './telling-on';
import { tries } from '../tries';

describe('a thousand recoveries within a second', () => {
  it('are a handful of messages and one, and every one of them is among them', () => {
    const watches = Array.from({ length: tries(1000) }, (_, i) => watchOf(i + 1));
    const desk = new Desk(setupOf(routeOf()));
    for (const watch of watches) desk.down(watch);
    desk.to(HOUR).heard();
    const before = desk.says.length;
    for (const [i, watch] of watches.entries()) desk.to(HOUR + i).up(watch);
    desk.to(2 * HOUR);
    const said = desk.says.slice(before);
    expect(said).toHaveLength(USUAL_FOLDING.burstMost + 1);
    const named = said.flatMap(({ event, watch }) =>
      event.kind === 'several-over' ? event.items.map(({ watchId }) => watchId) : [watch!.id],
    );
    expect(named.sort((a, b) => a! - b!)).toEqual(watches.map(({ id }) => id));
    expect(desk.telling).toEqual(NOTHING_TOLD);
  });
});

describe('two who take the same trouble in one moment', () => {
  it('are both told of, in order, and it is the second who has it', () => {
    const kiosk = watchOf(1);
    const desk = new Desk(setupOf(routeOf({ againMs: 10 * MINUTE, againMost: 3 }))).down(kiosk);
    desk.to(MINUTE).taken(kiosk, 'Ines').taken(kiosk, 'Rui');
    const who = desk.says.flatMap(({ event }) => (event.kind === 'taken' ? [event.by] : []));
    expect(who).toEqual(['Ines', 'Rui']);
    expect(desk.telling.threads.get('w1')!.taken).toEqual({ by: 'Rui', at: T0 + MINUTE, until: null });
    desk.heard();
    expect(desk.to(HOUR).heard()).toEqual([]);
  });
});

describe('a route whose section was deleted', () => {
  it('tells nobody of what is in no section now, and the log says why; what was told before is closed', () => {
    const piers = { ...NO_WATCHES, all: false, sections: ['Piers'], except: NO_WATCHES };
    const desk = new Desk(setupOf(routeOf({ watches: piers })));
    desk.down(watchOf(1, { section: 'Piers' }));
    expect(desk.heard()).toEqual(['0: 1 down 1']);
    desk.to(MINUTE).down(watchOf(2, { section: null }));
    expect(desk.heard()).toEqual([]);
    expect(desk.rules()).toEqual(['no-route']);
    desk.to(2 * MINUTE).up(watchOf(1, { section: null }));
    expect(desk.heard()).toEqual(['2: 1 recovered 1']);
  });
});
