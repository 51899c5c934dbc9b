import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { calmLine, coarseLine, worstWithin } from '@/core/history/calm-line';
import { intersectSpans, subtractSpans, totalOf, unionSpans, type Span } from '@/core/history/spans';
import { SEVERITY, STRETCH_KINDS, type StretchKind } from '@/core/lifecycle/state';
import { tries } from '../tries';

const MOST = 24;
const SPAN = fc.record({ from: fc.nat(MOST), to: fc.nat(MOST) });
const SPANS = fc.array(SPAN, { maxLength: 8 });

/** The slow way: which of the moments from 0 on are covered. */
function moments(spans: readonly Span[]): boolean[] {
  return Array.from({ length: MOST }, (_, at) => spans.some(({ from, to }) => from <= at && at < to));
}

/** Spans as they should always be: in order, apart, and none of them empty. */
function expectTidy(spans: readonly Span[]): void {
  spans.forEach(({ from, to }, i) => {
    expect(to).toBeGreaterThan(from);
    if (i > 0) expect(from).toBeGreaterThan(spans[i - 1]!.to);
  });
}

describe('spans of time', () => {
  it('joined, shared and taken away are what they are moment by moment', () => {
    fc.assert(
      fc.property(SPANS, SPANS, (a, b) => {
        const [inA, inB] = [moments(a), moments(b)];
        const joined = unionSpans(a);
        expectTidy(joined);
        expect(moments(joined)).toEqual(inA);
        const common = intersectSpans(a, b);
        expectTidy(common);
        expect(moments(common)).toEqual(inA.map((is, i) => is && inB[i]!));
        const rest = subtractSpans(a, b);
        for (const { from, to } of rest) expect(to).toBeGreaterThan(from);
        expect(moments(rest)).toEqual(inA.map((is, i) => is && !inB[i]!));
        expect(totalOf(a)).toBe(inA.filter(Boolean).length);
      }),
      { numRuns: tries(400) },
    );
  });

  it('leave what they were made from as it was', () => {
    const spans = [
      { from: 5, to: 9 },
      { from: 1, to: 6 },
    ];
    const frozen = structuredClone(spans);
    expect(unionSpans(spans)).toEqual([{ from: 1, to: 9 }]);
    subtractSpans(spans, [{ from: 2, to: 3 }]);
    expect(spans).toEqual(frozen);
    expect(totalOf([])).toBe(0);
  });
});

const STRETCH = fc.record({ from: fc.nat(MOST), to: fc.nat(MOST), kind: fc.constantFrom(...STRETCH_KINDS) });

/** Which kind counts at a moment, told one rule after the other. */
function kindAt(
  at: number,
  stretches: readonly (Span & { kind: StretchKind })[],
  outages: readonly Span[],
): StretchKind {
  const over = (span: Span) => span.from <= at && at < span.to;
  const first = (kinds: readonly StretchKind[]) =>
    stretches
      .filter((one) => kinds.includes(one.kind) && one.to > one.from)
      .sort((a, b) => a.from - b.from)
      .find((one) => over(one))?.kind;
  const rest = STRETCH_KINDS.filter((kind) => !['unobserved', 'maintenance', 'paused'].includes(kind));
  return (
    first(['unobserved']) ??
    first(['maintenance', 'paused']) ??
    (outages.some(over) ? 'down' : undefined) ??
    first(rest) ??
    'unobserved'
  );
}

describe('the calm line', () => {
  const range = { from: 2, to: 20 };

  it('is what counts at each moment, without gaps, and neighbours differ', () => {
    fc.assert(
      fc.property(fc.array(STRETCH, { maxLength: 8 }), SPANS, (stretches, outages) => {
        const line = calmLine(range, stretches, outages);
        expect(line[0]!.from).toBe(range.from);
        expect(line.at(-1)!.to).toBe(range.to);
        line.slice(1).forEach((one, i) => {
          expect(one.from).toBe(line[i]!.to);
          expect(one.kind).not.toBe(line[i]!.kind);
        });
        for (let at = range.from; at < range.to; at += 1) {
          expect(worstWithin(line, at, at), `at ${at}`).toBe(kindAt(at, stretches, outages));
        }
        expect(worstWithin(line, range.from - 1, range.from - 1)).toBeUndefined();
        expect(worstWithin(line, range.to, range.to)).toBeUndefined();
      }),
      { numRuns: tries(400) },
    );
  });

  it('drawn coarsely covers the same time, hides no trouble, and has few pieces', () => {
    const lengths = fc.array(fc.tuple(fc.integer({ min: 1, max: 30 }), fc.constantFrom(...STRETCH_KINDS)), {
      minLength: 1,
      maxLength: 200,
    });
    fc.assert(
      fc.property(lengths, (parts) => {
        let at = 0;
        const line = parts.map(([length, kind]) => ({ from: at, to: (at += length), kind }));
        const whole = { from: 0, to: at };
        const most = 20;
        const coarse = coarseLine(line, whole, most);
        if (line.length <= most) {
          expect(coarse).toEqual(line);
          return;
        }
        expect([coarse[0]!.from, coarse.at(-1)!.to]).toEqual([0, at]);
        coarse.slice(1).forEach((one, i) => expect(one.from).toBe(coarse[i]!.to));
        expect(coarse.length).toBeLessThanOrEqual(most * 2 + 1);
        const least = at / (most / 2);
        for (const piece of line) {
          const shown = coarse.filter((one) => one.from < piece.to && piece.from < one.to);
          const worst = Math.max(...shown.map((one) => SEVERITY[one.kind]));
          expect(worst).toBeGreaterThanOrEqual(SEVERITY[piece.kind]);
          // What is long enough to be seen stands as it is.
          if (piece.to - piece.from >= least) expect(shown.some((one) => one.kind === piece.kind)).toBe(true);
        }
      }),
      { numRuns: tries(300) },
    );
  });

  it('ends a piece that is long enough to be seen', () => {
    const line = Array.from({ length: 40 }, (_, i) => ({
      from: i * 5,
      to: (i + 1) * 5,
      kind: (i % 2 === 0 ? 'up' : 'down') as StretchKind,
    }));
    // 200 ms on at most 20 pieces: what is shorter than 20 ms grows to that length, and no further.
    expect(coarseLine(line, { from: 0, to: 200 }, 20)).toEqual([{ from: 0, to: 200, kind: 'down' }]);
    const mixed = line.map((one, i) => ({
      ...one,
      kind: (i < 4 ? 'down' : i % 2 ? 'up' : 'slow') as StretchKind,
    }));
    expect(coarseLine(mixed, { from: 0, to: 200 }, 20)).toEqual([
      { from: 0, to: 20, kind: 'down' },
      { from: 20, to: 200, kind: 'slow' },
    ]);
  });
});
