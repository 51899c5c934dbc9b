import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  decodeHistogram,
  emptyHistogram,
  encodeHistogram,
  HISTOGRAM_ERROR,
  histogramOf,
  mergeHistograms,
  quantileOf,
} from '@/core/history/histogram';
import { chartPoints } from '@/core/history/response-chart';

const times = fc.array(fc.double({ min: 0.02, max: 120_000, noNaN: true }), { minLength: 1, maxLength: 300 });

/** The nearest-rank quantile of the raw values. */
function exact(values: number[], q: number): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.max(1, Math.ceil(q * sorted.length)) - 1]!;
}

describe('the histogram', () => {
  it('answers quantiles within its stated error', () => {
    fc.assert(
      fc.property(times, fc.constantFrom(0.5, 0.9, 0.95, 0.99, 1), (values, q) => {
        const truth = exact(values, q);
        const said = quantileOf(histogramOf(values), q)!;
        expect(Math.abs(said - truth)).toBeLessThanOrEqual(truth * HISTOGRAM_ERROR * 1.0001);
      }),
    );
  });

  it('merges to what one histogram of everything would be, in any order', () => {
    fc.assert(
      fc.property(times, times, times, (a, b, c) => {
        const whole = histogramOf([...a, ...b, ...c]);
        expect(mergeHistograms([a, b, c].map(histogramOf))).toEqual(whole);
        const sorted = (h: typeof whole) => [...h.buckets].sort(([x], [y]) => x - y);
        const other = mergeHistograms([c, a, b].map(histogramOf));
        expect(sorted(other)).toEqual(sorted(whole));
        expect(other.count).toBe(whole.count);
      }),
    );
  });

  it('comes back from its packed form with the same quantiles', () => {
    fc.assert(
      fc.property(times, (values) => {
        const whole = histogramOf(values);
        const back = decodeHistogram(encodeHistogram(whole));
        expect(back.count).toBe(whole.count);
        expect([...back.buckets]).toEqual([...whole.buckets].sort(([x], [y]) => x - y));
        expect(Math.abs(back.min - whole.min)).toBeLessThanOrEqual(whole.min * 1e-6);
        expect(Math.abs(back.max - whole.max)).toBeLessThanOrEqual(whole.max * 1e-6);
      }),
    );
  });

  it('says nothing when it is empty', () => {
    expect(quantileOf(emptyHistogram(), 0.5)).toBeNull();
    expect(decodeHistogram(encodeHistogram(emptyHistogram())).count).toBe(0);
  });

  it('packs an hour of looks into few bytes', () => {
    const hour = Array.from({ length: 60 }, (_, i) => 120 + 30 * Math.sin(i));
    expect(encodeHistogram(histogramOf(hour)).length).toBeLessThan(60);
  });
});

describe('the points of a chart', () => {
  const range = { from: 0, to: 10_000 };

  it('are the same from rollups as from single looks', () => {
    const looks = Array.from({ length: 100 }, (_, i) => ({ at: i * 100, ms: 50 + (i % 17) * 9 }));
    const rollups = Array.from({ length: 10 }, (_, hour) => ({
      hour: hour * 1000,
      times: histogramOf(looks.filter((l) => Math.floor(l.at / 1000) === hour).map((l) => l.ms)),
    }));
    expect(chartPoints(range, 1000, rollups, [])).toEqual(chartPoints(range, 1000, [], looks));
    // Half and half, with the seam inside a column.
    expect(chartPoints(range, 2000, rollups.slice(0, 5), looks.slice(50))).toEqual(
      chartPoints(range, 2000, [], looks),
    );
  });

  it('leave columns without looks out', () => {
    const points = chartPoints(
      range,
      1000,
      [],
      [
        { at: 100, ms: 5 },
        { at: 9100, ms: 7 },
      ],
    );
    expect(points.map((p) => [p.at, p.count])).toEqual([
      [500, 1],
      [9500, 1],
    ]);
  });
});
