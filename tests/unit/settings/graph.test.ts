import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { allBelow, circleFrom } from '@/core/settings/graph';

const edges = new Map([
  [1, [2, 3]],
  [2, [4]],
  [3, [4, 5]],
  [5, [1]],
  [6, [6]],
]);

describe('which watch leads to which', () => {
  it('finds the way back, ends included', () => {
    expect(circleFrom(edges, 1)).toEqual([1, 3, 5, 1]);
    expect(circleFrom(edges, 6)).toEqual([6, 6]);
    expect(circleFrom(edges, 2)).toBeNull();
    expect(circleFrom(edges, 99)).toBeNull();
  });

  it('ends in a circle that does not come back to where it began', () => {
    const loop = new Map([
      [1, [2]],
      [2, [3]],
      [3, [2]],
    ]);
    expect(circleFrom(loop, 1)).toBeNull();
    expect(allBelow(loop, 1)).toEqual([2, 3]);
  });

  it('lists all below, the nearest first, each once and never itself', () => {
    expect(allBelow(edges, 1)).toEqual([2, 3, 4, 5]);
    expect(allBelow(edges, 2)).toEqual([4]);
    expect(allBelow(edges, 6)).toEqual([]);
    expect(allBelow(edges, 99)).toEqual([]);
  });

  it('agree: there is a circle where a watch is below one it leads to', () => {
    const graph = fc.array(fc.tuple(fc.nat(7), fc.uniqueArray(fc.nat(7))), { maxLength: 8 });
    fc.assert(
      fc.property(graph, fc.nat(7), (list, start) => {
        const some = new Map(list);
        const circle = circleFrom(some, start);
        const leadsBack = (some.get(start) ?? []).some(
          (next) => next === start || allBelow(some, next).includes(start),
        );
        expect(circle !== null).toBe(leadsBack);
        if (!circle) return;
        expect([circle[0], circle.at(-1)]).toEqual([start, start]);
        circle.slice(1).forEach((id, i) => expect(some.get(circle[i]!)).toContain(id));
      }),
    );
  });
});
