import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { availabilityOf } from '@/core/history/availability';
import { calmLine } from '@/core/history/calm-line';
import { STRETCH_KINDS } from '@/core/lifecycle/state';
import {
  coarsePublic,
  combineLines,
  cutLine,
  figureOf,
  publicKind,
  publicLine,
  publicState,
  PUBLIC_KINDS,
  together,
  type PublicKind,
  type PublicStretch,
} from '@/core/pages/public-line';

const at = (from: number, to: number, kind: PublicKind): PublicStretch => ({ from, to, kind });
const RANGE = { from: 0, to: 100 };

/** A line over the range without gaps. */
const lines = fc
  .array(fc.tuple(fc.integer({ min: 1, max: 30 }), fc.constantFrom(...PUBLIC_KINDS)), { maxLength: 8 })
  .map((pieces) => {
    const line: PublicStretch[] = [];
    let cursor = 0;
    for (const [length, kind] of pieces) {
      const to = Math.min(100, cursor + length);
      if (to > cursor) line.push(at(cursor, to, kind));
      cursor = to;
    }
    if (cursor < 100) line.push(at(cursor, 100, 'running'));
    return line;
  });
const kindAt = (line: readonly PublicStretch[], t: number) =>
  line.find(({ from, to }) => from <= t && t < to)?.kind;

describe('how a service stands to the public', () => {
  it.each([
    ['up', true, 'running'],
    ['doubtful', true, 'running'],
    ['overdue', true, 'running'],
    ['slow', true, 'slow'],
    ['slow', false, 'running'],
    ['down', true, 'out'],
    ['maintenance', true, 'maintenance'],
    ['paused', true, 'unknown'],
    ['waiting', true, 'unknown'],
    ['unobserved', true, 'unknown'],
  ] as const)('%s (timed: %s) is %s', (kind, timed, is) => expect(publicKind(kind, timed)).toBe(is));

  it('is not slow where only a limit of ours is passed', () => {
    expect(publicState({ state: 'slow', warned: 'reading.high' })).toBe('running');
    expect(publicState({ state: 'slow' })).toBe('slow');
  });
});

describe('several as one', () => {
  it.each<[PublicKind[], PublicKind, PublicKind]>([
    [['running', 'running'], 'running', 'running'],
    [['running', 'out'], 'out', 'partly'],
    [['out', 'out'], 'out', 'out'],
    [['running', 'slow'], 'slow', 'running'],
    [['slow', 'slow'], 'slow', 'slow'],
    [['running', 'unknown'], 'unknown', 'running'],
    [['out', 'unknown'], 'out', 'partly'],
    [['out', 'maintenance'], 'out', 'out'],
    [['running', 'maintenance'], 'maintenance', 'running'],
    [['maintenance', 'maintenance'], 'maintenance', 'maintenance'],
    [['unknown', 'unknown'], 'unknown', 'unknown'],
    [['running', 'partly'], 'partly', 'running'],
    [[], 'unknown', 'unknown'],
  ])('%j are %s by any, %s by all', (kinds, any, all) => {
    expect([together(kinds, 'any'), together(kinds, 'all')]).toEqual([any, all]);
  });

  it('are at each moment what they are together', () => {
    fc.assert(
      fc.property(
        fc.array(lines, { minLength: 1, maxLength: 4 }),
        fc.constantFrom('any' as const, 'all' as const),
        (all, counting) => {
          const line = combineLines(all, counting);
          for (let t = 0; t < 100; t += 1) {
            const kinds = all.map((one) => kindAt(one, t)!);
            expect(kindAt(line, t)).toBe(all.length === 1 ? kinds[0] : together(kinds, counting));
          }
          expect(line.every((one, i) => i === 0 || line[i - 1]!.to === one.from)).toBe(true);
        },
      ),
    );
  });

  it('are nothing where there is none', () => expect(combineLines([], 'any')).toEqual([]));
});

describe('figures of a line', () => {
  it('count only time somebody looked', () => {
    const line = [at(0, 10, 'unknown'), at(10, 40, 'running'), at(40, 50, 'out'), at(50, 60, 'maintenance')];
    expect(figureOf(line)).toEqual({ uptime: 0.75, observedMs: 40 });
    expect(figureOf([at(0, 9, 'unknown')])).toEqual({ uptime: null, observedMs: 0 });
    expect(figureOf([at(0, 9, 'partly')])).toEqual({ uptime: 1, observedMs: 9 });
  });

  it('leave out what is left out for a reason, and no more', () => {
    const line = [at(0, 80, 'running'), at(80, 100, 'out')];
    expect(figureOf(line, [{ from: 70, to: 90 }])).toEqual({ uptime: 80 / 90, observedMs: 90 });
  });

  it('are those of the desk for one watch', () => {
    const stretch = fc
      .tuple(fc.nat({ max: 99 }), fc.integer({ min: 1, max: 40 }), fc.constantFrom(...STRETCH_KINDS))
      .map(([from, long, kind]) => ({ from, to: Math.min(100, from + long), kind }));
    // The stretches of a watch follow each other; an outage lies where it is down.
    fc.assert(
      fc.property(fc.array(stretch, { maxLength: 6 }), (some) => {
        const stretches = [...some]
          .sort((a, b) => a.from - b.from)
          .map((one, i, all) => ({ ...one, to: Math.min(one.to, all[i + 1]?.from ?? 100) }))
          .filter(({ from, to }) => to > from);
        const outages = stretches.filter(({ kind }) => kind === 'down');
        const desk = availabilityOf(RANGE, stretches, outages);
        const figure = figureOf(publicLine(calmLine(RANGE, stretches, outages), true));
        expect(figure.observedMs).toBe(desk.observedMs);
        if (desk.uptime === null) expect(figure.uptime).toBeNull();
        else expect(figure.uptime).toBeCloseTo(desk.uptime, 12);
      }),
    );
  });
});

describe('pieces of a line', () => {
  it('are cut to a span', () => {
    const line = [at(0, 10, 'running'), at(10, 20, 'out'), at(20, 30, 'running')];
    expect(cutLine(line, { from: 15, to: 25 })).toEqual([at(15, 20, 'out'), at(20, 25, 'running')]);
    expect(cutLine(line, { from: 30, to: 40 })).toEqual([]);
  });

  it('are few enough to be drawn, and hide no trouble', () => {
    const line = Array.from({ length: 100 }, (_, i) =>
      at(i, i + 1, i % 2 ? 'running' : i === 50 ? 'out' : 'slow'),
    );
    const coarse = coarsePublic(line, RANGE, 20);
    expect(coarse.length).toBeLessThanOrEqual(21);
    expect(coarse.some(({ kind }) => kind === 'out')).toBe(true);
    expect([coarse[0]!.from, coarse.at(-1)!.to]).toEqual([0, 100]);
    expect(coarsePublic(line, RANGE, 100)).toEqual(line);
  });
});
