import { describe, expect, it } from 'vitest';
import { hearersOf, hearOfAll, isHeard } from '@/core/telling/ahead/heard';
import { NO_WATCHES } from '@/core/telling/route';
import { MINUTE, routeOf, setupOf, watchOf } from './telling-on';

const hearers = (watch: Parameters<typeof hearersOf>[0], ...routes: Parameters<typeof setupOf>) =>
  [...hearersOf(watch, setupOf(...routes))].sort();

describe('who would hear of a watch that went down', () => {
  const steps = [
    { afterMs: 0, channels: [1] },
    { afterMs: 60_000, channels: [2, 9] },
  ];

  it('is everybody on the steps of its routes, sooner or later, who is there', () => {
    expect(hearers(watchOf(4), routeOf({ steps }))).toEqual([1, 2]);
    expect(
      hearers(watchOf(4), routeOf({ steps }), routeOf({ id: 2, steps: [{ afterMs: 0, channels: [3, 1] }] })),
    ).toEqual([1, 2, 3]);
  });

  it('is nobody by routes that are off, about others, or about other things', () => {
    const off = routeOf({ enabled: false });
    const others = routeOf({ watches: { all: true, ...NO_WATCHES, except: { ...NO_WATCHES, ids: [4] } } });
    const things = routeOf({ topics: ['recovered', 'certificate', 'own', 'missed'] });
    for (const one of [off, others, things]) {
      expect(hearers(watchOf(4), one)).toEqual([]);
      expect(isHeard(watchOf(4), setupOf(one))).toBe(false);
    }
    expect(isHeard(watchOf(5), setupOf(others))).toBe(true);
  });

  it.each(['missed', 'failed', 'overlong'] as const)('of a check-in, is who hears that it %s', (topic) => {
    const route = routeOf({ topics: [topic] });
    expect(hearers(watchOf(4, { kind: 'checkin' }), route)).toEqual([1]);
    expect(hearers(watchOf(4), route)).toEqual([]);
  });

  it('of a check-in, is not who hears of other watches alone', () => {
    expect(hearers(watchOf(4, { kind: 'checkin' }), routeOf({ topics: ['down'] }))).toEqual([]);
    expect(hearers(watchOf(4), routeOf({ topics: ['down'] }))).toEqual([1]);
  });
});

describe('that somebody would hear of any watch', () => {
  const all = (...routes: Parameters<typeof setupOf>) => hearOfAll(setupOf(...routes));
  const ALL = { all: true, ...NO_WATCHES, except: NO_WATCHES };
  const nobody = { afterMs: 0, channels: [9] };

  it('is so by one route about everything, whoever of it hears first', () => {
    expect(all(routeOf())).toBe(true);
    expect(all(routeOf({ steps: [nobody, { afterMs: MINUTE, channels: [9, 2] }] }))).toBe(true);
    expect(all(routeOf({ enabled: false }), routeOf({ id: 2 }))).toBe(true);
  });

  it.each(['missed', 'failed', 'overlong'] as const)('is so where jobs are told of once they %s', (topic) => {
    expect(all(routeOf({ topics: ['down', topic] }))).toBe(true);
    expect(all(routeOf({ topics: ['down'] }), routeOf({ id: 2, topics: [topic] }))).toBe(true);
  });

  it.each([
    ['is off', { enabled: false }],
    ['is about some', { watches: { ...ALL, all: false, ids: [4] } }],
    ['leaves a watch out', { watches: { ...ALL, except: { ...NO_WATCHES, ids: [4] } } }],
    ['leaves a section out', { watches: { ...ALL, except: { ...NO_WATCHES, sections: ['Piers'] } } }],
    ['leaves a tag out', { watches: { ...ALL, except: { ...NO_WATCHES, tags: ['night'] } } }],
    ['tells of no job', { topics: ['down', 'recovered'] as const }],
    ['tells of jobs alone', { topics: ['missed', 'failed', 'overlong'] as const }],
    ['leads nowhere', { steps: [nobody] }],
    ['has no steps', { steps: [] }],
  ])('is not so by a route that %s', (_, rest) => {
    expect(all(routeOf(rest as Partial<Parameters<typeof routeOf>[0]>))).toBe(false);
  });

  it('is not so without any', () => {
    expect(all()).toBe(false);
  });
});
