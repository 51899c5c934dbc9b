import { describe, expect, it } from 'vitest';
import { concerns, NO_WATCHES } from '@/core/telling/route';
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
