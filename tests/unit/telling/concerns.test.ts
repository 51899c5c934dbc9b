import { describe, expect, it } from 'vitest';
import { concerns, NO_WATCHES, routesFor } from '@/core/telling/route';
import { routeOfConfig, USUAL_ROUTE } from '@/core/telling/route-config';
import { TOPIC_NAMES } from '@/core/telling/topic';
import { Desk, routeOf, setupOf, T0, watchOf } from './telling-on';

const only = (ids: number[]) => ({ all: false, ...NO_WATCHES, ids, except: NO_WATCHES });
const allBut = (ids: number[]) => ({ all: true, ...NO_WATCHES, except: { ...NO_WATCHES, ids } });

describe('what is about several watches', () => {
  it('concerns a route that is about any of them', () => {
    const watches = [watchOf(1), watchOf(2)];
    expect(concerns(routeOf(), watches)).toBe(true);
    expect(concerns(routeOf({ watches: only([2, 3]) }), watches)).toBe(true);
    expect(concerns(routeOf({ watches: only([3]) }), watches)).toBe(false);
    expect(concerns(routeOf({ watches: allBut([1]) }), watches)).toBe(true);
    expect(concerns(routeOf({ watches: allBut([1, 2]) }), watches)).toBe(false);
  });

  it('concerns a route about all, though it is about none', () => {
    expect(concerns(routeOf(), [])).toBe(true);
    expect(concerns(routeOf({ watches: only([1]) }), [])).toBe(false);
  });

  it('concerns none by watches that nobody is to hear of', () => {
    const muted = watchOf(1, { tells: { how: 'nobody', channels: [] } });
    expect(concerns(routeOf(), [muted])).toBe(false);
    expect(concerns(routeOf(), [muted, watchOf(2)])).toBe(true);
  });

  it('is told by those routes alone, where it says which', () => {
    const event = {
      kind: 'maintenance' as const,
      stage: 'begins' as const,
      title: 'Mast',
      from: T0,
      until: T0 + 1,
      watches: ['Kiosk'],
    };
    const told = (routes?: number[]) => {
      const desk = new Desk(setupOf(routeOf(), routeOf({ id: 2, steps: [{ afterMs: 0, channels: [2] }] })));
      desk.happens({ thread: 'm1', watch: null, phase: 'once', event, ...(routes && { routes }) });
      return desk.says.map(({ channelId }) => channelId);
    };
    expect(told()).toEqual([1, 2]);
    expect(told([2])).toEqual([2]);
    expect(told([])).toEqual([]);
    expect(told([9])).toEqual([]);
  });
});

describe('what a watch says of who hears', () => {
  const own = {
    ...{ id: -4, name: '', enabled: true, watches: only([4]), topics: TOPIC_NAMES },
    ...{ steps: [{ afterMs: 0, channels: [2, 3] }], againMs: null, againMost: null, hours: null },
  };
  const watch = (how: 'besides' | 'instead' | 'nobody', channels = [2, 3]) =>
    watchOf(4, { tells: { how, channels } });

  it('is a route of its own, after the others or in their place', () => {
    expect(routesFor([routeOf()], 'down', watchOf(4))).toEqual([routeOf()]);
    expect(routesFor([routeOf()], 'down', watch('besides'))).toEqual([routeOf(), own]);
    expect(routesFor([routeOf()], 'down', watch('besides', []))).toEqual([routeOf()]);
    expect(routesFor([routeOf()], 'down', watch('instead'))).toEqual([own]);
    expect(routesFor([routeOf()], 'down', watch('instead', []))).toEqual([]);
    expect(routesFor([routeOf()], 'down', watch('nobody'))).toEqual([]);
    expect(routesFor([routeOf()], 'down', null)).toEqual([routeOf()]);
  });
});

describe('a route as it is kept', () => {
  it('has its lengths in seconds', () => {
    const kept = { ...USUAL_ROUTE, id: 3, name: 'Night', enabled: false };
    const steps = [
      { after: 0, channels: [1] },
      { after: 300, channels: [2] },
    ];
    expect(routeOfConfig(kept)).toMatchObject({ id: 3, name: 'Night', enabled: false, againMs: null });
    expect(routeOfConfig({ ...kept, steps, again: 60, againMost: 8 })).toMatchObject({
      steps: [
        { afterMs: 0, channels: [1] },
        { afterMs: 300_000, channels: [2] },
      ],
      ...{ againMs: 60_000, againMost: 8 },
    });
  });
});
