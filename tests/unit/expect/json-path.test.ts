import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { jsonPathProblem, PathTooFar, valuesAt } from '@/core/expect/json-path';

const queues = {
  queues: [
    { name: 'bookings', waiting: 3, by: { hand: true } },
    { name: 'tide', waiting: 0 },
  ],
};
const nested = (levels: number): unknown => (levels === 0 ? 1 : { a: nested(levels - 1) });

describe('values at a path', () => {
  it('are those of the document itself, in its order', () => {
    expect(valuesAt('$.queues[*].name', queues)).toEqual(['bookings', 'tide']);
    expect(valuesAt('$..waiting', queues)).toEqual([3, 0]);
    expect(valuesAt('$.queues[?@.waiting > 1].name', queues)).toEqual(['bookings']);
    const [first] = valuesAt('$..[?@.hand]', { list: queues.queues });
    expect(first).toBe(queues.queues[0]!.by);
    expect(valuesAt('$..none', queues)).toEqual([]);
    for (const plain of ['text', 7, null, true]) expect(valuesAt('$..*', plain)).toEqual([]);
    expect(valuesAt('$', 7)).toEqual([7]);
  });

  it('are the same whether steps are counted or not', () => {
    fc.assert(
      fc.property(fc.jsonValue({ maxDepth: 4 }), (document) => {
        // Beside a filter that everything passes steps are counted.
        expect(valuesAt('$[?@ == @]', document)).toEqual(valuesAt('$[*]', document));
        expect(valuesAt('$..*', document)).toHaveLength(count(document) - 1);
      }),
    );
    function count(value: unknown): number {
      if (typeof value !== 'object' || value === null) return 1;
      return Object.values(value).reduce<number>((sum, one) => sum + count(one), 1);
    }
  });

  // Without a bound these would not come to an end here.
  it.each([
    `$${'..a'.repeat(20)}`,
    `$${'..*'.repeat(8)}`,
    '$..[?count(@..[?count(@..*) > 1]) > 1]',
    '$..[?@.a && $..b]',
  ])('are given up where %s leads through the same again and again', (path) => {
    const document = { list: Array.from({ length: 40 }, () => nested(40)) };
    expect(() => valuesAt(path, document)).toThrow(PathTooFar);
  });

  it('are given up where they lie too deep', () => {
    expect(() => valuesAt('$..a', nested(200))).toThrow(PathTooFar);
    expect(valuesAt(`$${'.a'.repeat(200)}`, nested(200))).toEqual([1]);
  });

  it('are found in a large answer', () => {
    const large = { list: Array.from({ length: 50_000 }, (_, id) => ({ id, name: `Pier ${id}` })) };
    expect(valuesAt('$..id', large)).toHaveLength(50_000);
    expect(valuesAt('$.list[?@.id == 49999].name', large)).toEqual(['Pier 49999']);
  });

  it('are refused where the path is none', () => {
    expect(jsonPathProblem('$.queues[0]')).toBeNull();
    expect(jsonPathProblem('queues')).toMatch(
      /^Expected a JSON path such as \$\.queue\.length .* got “queues”: /,
    );
    for (const name of ['match', 'search']) {
      expect(jsonPathProblem(`$[?${name}(@.a, 'b')]`)).toContain('no such function');
    }
    expect(() => valuesAt('queues', queues)).toThrow();
  });
});
