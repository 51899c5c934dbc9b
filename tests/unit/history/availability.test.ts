import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { availabilityOf, formatUptime, outageFigures } from '@/core/history/availability';
import { calmLine, coarseLine, worstWithin } from '@/core/history/calm-line';
import { lineInWords } from '@/core/history/line-text';
import { intersectSpans, subtractSpans, totalOf, unionSpans } from '@/core/history/spans';
import { SEVERITY } from '@/core/lifecycle/state';
import { stretchLists } from '../arbitraries';
import { effortOf } from '../effort';

const RANGE = { from: 0, to: 1000 };
const spans = fc.array(
  fc
    .tuple(fc.integer({ min: 0, max: 1000 }), fc.integer({ min: 0, max: 200 }))
    .map(([from, length]) => ({ from, to: from + length })),
  { maxLength: 12 },
);

/** Whether a list of spans covers a moment, by looking at each. */
const covers = (list: { from: number; to: number }[], at: number) =>
  list.some((s) => s.from <= at && at < s.to);

describe('spans', () => {
  it('join, meet and part as sets of moments do', () => {
    fc.assert(
      fc.property(spans, spans, (a, b) => {
        const [joined, common, rest] = [unionSpans([...a, ...b]), intersectSpans(a, b), subtractSpans(a, b)];
        for (let at = 0; at < 1250; at += 7) {
          expect(covers(joined, at)).toBe(covers(a, at) || covers(b, at));
          expect(covers(common, at)).toBe(covers(a, at) && covers(b, at));
          expect(covers(rest, at)).toBe(covers(a, at) && !covers(b, at));
        }
        expect(totalOf(a)).toBe(totalOf(common) + totalOf(rest));
      }),
    );
  });
});

describe('availability', () => {
  it('leaves time nobody looked out of every figure', () => {
    const line = [
      { from: 0, to: 100, kind: 'waiting' as const },
      { from: 100, to: 900, kind: 'up' as const },
      { from: 300, to: 400, kind: 'unobserved' as const },
      { from: 900, to: 1000, kind: 'maintenance' as const },
    ];
    expect(availabilityOf(RANGE, line, [{ from: 350, to: 470 }])).toEqual({
      spanMs: 1000,
      observedMs: 700,
      downMs: 70,
      uptime: 0.9,
    });
    // What is left out for a reason is neither down nor looked at.
    expect(availabilityOf(RANGE, line, [{ from: 350, to: 470 }], [{ from: 350, to: 470 }])).toMatchObject({
      downMs: 0,
      observedMs: 630,
      uptime: 1,
    });
  });

  it('has no figure where nothing was observed', () => {
    expect(availabilityOf(RANGE, [], []).uptime).toBeNull();
    expect(formatUptime(null)).toBe('no data');
  });

  it('splits observed time into down and up, without rest', () => {
    fc.assert(
      fc.property(stretchLists(), spans, (stretches, outages) => {
        const whole = availabilityOf(RANGE, stretches, outages);
        const up = totalOf(
          subtractSpans(
            intersectSpans(
              [RANGE],
              subtractSpans(
                stretches.filter((s) => ['up', 'slow', 'doubtful', 'overdue', 'down'].includes(s.kind)),
                stretches.filter((s) => s.kind === 'unobserved'),
              ),
            ),
            outages,
          ),
        );
        expect(whole.observedMs).toBe(whole.downMs + up);
        expect(whole.observedMs).toBeLessThanOrEqual(whole.spanMs);
        if (whole.uptime !== null) expect(whole.uptime).toBeCloseTo(up / whole.observedMs, 12);
      }),
    );
  });

  it('never rounds anything under 100 % up to it', () => {
    expect(formatUptime(1)).toBe('100 %');
    expect(formatUptime(0.9999999)).toBe('99.99 %');
    expect(formatUptime(0.991)).toBe('99.1 %');
    expect(formatUptime(0.5)).toBe('50 %');
    expect(formatUptime(0)).toBe('0 %');
    fc.assert(
      fc.property(fc.double({ min: 0, max: 1, maxExcluded: true, noNaN: true }), (uptime) => {
        expect(formatUptime(uptime)).not.toBe('100 %');
        expect(Number.parseFloat(formatUptime(uptime))).toBeLessThanOrEqual(uptime * 100 + 1e-6);
      }),
    );
  });

  it('works out length, longest and mean times of outages inside the range', () => {
    const figures = outageFigures(RANGE, [
      { from: -50, to: 100 },
      { from: 400, to: 450 },
      { from: 950, to: 2000 },
    ]);
    expect(figures).toEqual({
      count: 3,
      totalMs: 200,
      longestMs: 100,
      meanBetweenMs: 400,
      meanToMendMs: 200 / 3,
    });
    expect(outageFigures(RANGE, [])).toMatchObject({ count: 0, meanBetweenMs: null, meanToMendMs: null });
  });
});

describe('the calm line', () => {
  it('covers its range without gap or overlap, whatever was recorded', () => {
    fc.assert(
      fc.property(stretchLists(), spans, (stretches, outages) => {
        const line = calmLine(RANGE, stretches, outages);
        expect(line[0]!.from).toBe(0);
        expect(line.at(-1)!.to).toBe(1000);
        for (const [i, stretch] of line.entries()) {
          if (i > 0) expect(stretch.from).toBe(line[i - 1]!.to);
          if (i > 0) expect(stretch.kind).not.toBe(line[i - 1]!.kind);
        }
      }),
    );
  });

  it('shows at each moment what lies highest there', () => {
    const rank = (kind: string) => {
      if (kind === 'unobserved') return 0;
      return kind === 'maintenance' || kind === 'paused' ? 1 : 3;
    };
    fc.assert(
      fc.property(stretchLists(), spans, (stretches, outages) => {
        const line = calmLine(RANGE, stretches, outages);
        const layers = [
          ...stretches.map((s) => ({ ...s, rank: rank(s.kind) })),
          ...outages.map((o) => ({ ...o, kind: 'down', rank: 2 })),
        ].sort((a, b) => a.rank - b.rank || a.from - b.from);
        for (let at = 0; at < 1000; at += 1) {
          const top = layers.find((s) => s.from <= at && at < s.to);
          expect(worstWithin(line, at, at)).toBe(top?.kind ?? 'unobserved');
        }
      }),
    );
  });

  it('is put together from a history that never rests without taking the square of its length', () => {
    const flapping = (count: number) => {
      const kinds = ['up', 'doubtful', 'down', 'slow'] as const;
      const stretches = Array.from({ length: count }, (_, i) => ({
        from: i * 10,
        to: i * 10 + 10,
        kind: kinds[i % 4]!,
      }));
      return [stretches, stretches.filter((s) => s.kind === 'down')] as const;
    };
    const range = { from: 0, to: 400_000 };
    const took = (count: number) => {
      const [stretches, outages] = flapping(count);
      return effortOf(() => {
        const line = calmLine(range, stretches, outages);
        availabilityOf(range, stretches, outages);
        expect(line.length).toBeGreaterThanOrEqual(count);
      });
    };
    took(2000);
    // Sixteen times as long: the square would be 256 times.
    expect(took(32_000) / took(2000)).toBeLessThan(80);
  });

  it('is drawn in few pieces that cover as much and hide no trouble', () => {
    fc.assert(
      fc.property(stretchLists(), spans, fc.integer({ min: 4, max: 40 }), (stretches, outages, most) => {
        const line = calmLine(RANGE, stretches, outages);
        const coarse = coarseLine(line, RANGE, most);
        expect(coarse.length).toBeLessThanOrEqual(most + 1);
        if (line.length <= most) expect(coarse).toEqual(line);
        expect([coarse[0]!.from, coarse.at(-1)!.to]).toEqual([0, 1000]);
        for (const [i, piece] of coarse.entries()) {
          if (i > 0) expect(piece.from).toBe(coarse[i - 1]!.to);
          const below = line.filter((s) => s.from < piece.to && s.to > piece.from);
          expect(SEVERITY[piece.kind]).toBe(Math.max(...below.map((s) => SEVERITY[s.kind])));
        }
      }),
    );
  });

  it('shows time before there was a watch as unobserved, not as up', () => {
    const line = calmLine(RANGE, [{ from: 800, to: 1000, kind: 'up' }], []);
    expect(line.map((s) => s.kind)).toEqual(['unobserved', 'up']);
    expect(worstWithin(line, 100, 100)).toBe('unobserved');
    expect(worstWithin(line, 1000, 1000)).toBeUndefined();
  });

  it('tells the worst within what a point stands for, wherever in it one asks', () => {
    const line = calmLine(
      RANGE,
      [{ from: 0, to: 1000, kind: 'up' }],
      [
        { from: 400, to: 405 },
        { from: 700, to: 701 },
      ],
    );
    for (const [at, kind] of [
      [389, 'up'],
      [390, 'down'],
      [414.9, 'down'],
      [415, 'up'],
      [700.5, 'down'],
      [711, 'up'],
    ] as const) {
      expect(worstWithin(line, at - 10, at + 10), `around ${at}`).toBe(kind);
    }
  });

  it('draws an outage over the doubt it grew from', () => {
    const line = calmLine(
      RANGE,
      [
        { from: 0, to: 500, kind: 'up' },
        { from: 500, to: 600, kind: 'doubtful' },
        { from: 600, to: 1000, kind: 'down' },
      ],
      [{ from: 500, to: 1000 }],
    );
    expect(line).toEqual([
      { from: 0, to: 500, kind: 'up' },
      { from: 500, to: 1000, kind: 'down' },
    ]);
  });

  it('is told in words too', () => {
    const minute = 60_000;
    expect(
      lineInWords([
        { from: 0, to: minute, kind: 'up' },
        { from: minute, to: 3 * minute, kind: 'down' },
        { from: 3 * minute, to: 8 * minute, kind: 'maintenance' },
      ]),
    ).toBe('down 2 min, in maintenance 5 min; up otherwise');
    expect(lineInWords([{ from: 0, to: 1, kind: 'up' }])).toBe('up all the time');
    expect(lineInWords([])).toBe('no history yet');
  });
});
