import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { histogramOf, quantileOf } from '@/core/history/histogram';
import { packHours, unpackHours } from '@/core/history/packed-hours';
import { mergeRollups, type Rollup } from '@/core/history/rollup';
import { tries } from '../tries';

const HOUR = 3_600_000;
const DAY = Date.parse('2026-11-25T00:00:00Z');

const count = fc.oneof(fc.nat(60), fc.nat(2 ** 40));
const times = fc.array(fc.double({ min: 0.02, max: 120_000, noNaN: true }), { maxLength: 200 });
const readings = fc.option(
  fc.record({
    least: fc.double({ noNaN: true }),
    most: fc.double({ noNaN: true }),
    total: fc.double({ noNaN: true }),
    count: fc.integer({ min: 1, max: 2 ** 33 }),
  }),
);
const hours = fc
  .uniqueArray(fc.nat(23), { maxLength: 24 })
  .chain((numbers) =>
    fc.tuple(
      ...numbers
        .sort((a, b) => a - b)
        .map((n) =>
          fc.record({ hour: fc.constant(DAY + n * HOUR), fine: count, failed: count, times, readings }),
        ),
    ),
  )
  .map((list) => list.map((hour): Rollup => ({ ...hour, times: histogramOf(hour.times) })));

const sorted = (buckets: Map<number, number>) => [...buckets].sort(([a], [b]) => a - b);

describe('the hours of a day', () => {
  it('come back as they were packed: counts, buckets and readings exactly, the least and the most time nearly', () => {
    fc.assert(
      fc.property(hours, (list) => {
        const back = unpackHours(DAY, packHours(DAY, list));
        expect(back).toHaveLength(list.length);
        for (const [i, hour] of list.entries()) {
          const { times: was, ...counts } = hour;
          const { times: is, ...others } = back[i]!;
          expect(others).toEqual(counts);
          expect([is.count, sorted(is.buckets)]).toEqual([was.count, sorted(was.buckets)]);
          if (was.count === 0) continue;
          expect(Math.abs(is.min - was.min)).toBeLessThanOrEqual(was.min * 1e-6);
          expect(Math.abs(is.max - was.max)).toBeLessThanOrEqual(was.max * 1e-6);
          for (const q of [0.5, 0.95, 1]) {
            expect(quantileOf(is, q)! / quantileOf(was, q)!).toBeCloseTo(1, 5);
          }
        }
      }),
      { numRuns: tries(200) },
    );
  });

  it('take a byte for a bucket with up to 63 in it, no more than three from the one before', () => {
    const one = (values: number[]) =>
      packHours(DAY, [{ hour: DAY, fine: 1, failed: 0, times: histogramOf(values), readings: null }]).length;
    const near = 100 * 1.0408;
    expect(one([100, near]) - one([100])).toBe(1);
    expect(one([100, ...Array<number>(63).fill(near)]) - one([100])).toBe(1);
    expect(one([100, ...Array<number>(64).fill(near)]) - one([100])).toBe(3);
    expect(one([100, 100 * 1.0408 ** 4]) - one([100])).toBe(1);
    expect(one([100, 100 * 1.0408 ** 6]) - one([100])).toBe(3);
  });

  it('are refused where they were packed in another way, or are cut short', () => {
    const packed = packHours(DAY, [
      { hour: DAY, fine: 2, failed: 0, times: histogramOf([100, 200]), readings: null },
    ]);
    expect(() => unpackHours(DAY, Buffer.concat([Buffer.from([9]), packed.subarray(1)]))).toThrow(
      'Expected hours packed as 1, got 9.',
    );
    expect(() => unpackHours(DAY, packed.subarray(0, packed.length - 1))).toThrow(RangeError);
  });

  it('are put together into their day', () => {
    const of = (hour: number, fine: number, value: number | null): Rollup => ({
      hour: DAY + hour * HOUR,
      fine,
      failed: 1,
      times: histogramOf([fine]),
      readings: value === null ? null : { least: value, most: value + 1, total: value, count: 1 },
    });
    expect(mergeRollups(DAY, [of(1, 5, null), of(2, 7, 3), of(3, 9, -2)])).toMatchObject({
      hour: DAY,
      fine: 21,
      failed: 3,
      times: { count: 3, min: 5, max: 9 },
      readings: { least: -2, most: 4, total: 1, count: 2 },
    });
  });
});
