import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Past, WatchHistory, type PastOutage, type Recorded } from '@/core/history/past';
import type { Span } from '@/core/history/spans';
import { stretchLists } from '../arbitraries';
import { tries } from '../tries';

const END = 1200;
const outageLists: fc.Arbitrary<PastOutage[]> = fc
  .array(
    fc
      .tuple(
        fc.integer({ min: 0, max: 1000 }),
        fc.integer({ min: 1, max: 200 }),
        fc.constantFrom(null, 'our own cable'),
      )
      .map(([from, length, reason]) => ({ from, to: from + length, reason })),
    { maxLength: 12 },
  )
  .map((some) => some.sort((a, b) => a.from - b.from));

/** What is read of a history within a range: stretches cut to it, outages whole. */
function readIn({ stretches, outages }: Recorded, { from, to }: Span): Recorded {
  const meets = (span: Span) => span.from < to && span.to > from;
  return {
    stretches: stretches
      .filter(meets)
      .sort((a, b) => a.from - b.from)
      .map((one) => ({ ...one, from: Math.max(one.from, from), to: Math.min(one.to, to) })),
    outages: outages.filter(meets),
  };
}

/** Outages that overlap, which one watch never has, have no order of their own. */
const inOrder = (some: readonly Span[]) => some.map((one) => JSON.stringify(one)).sort();

const moment = fc.integer({ min: 0, max: END });
const ranges = fc
  .tuple(moment, moment)
  .map(([a, b]): Span => ({ from: Math.min(a, b), to: Math.max(a, b) }))
  .filter(({ from, to }) => to > from);

describe('a history behind a past that was worked out before', () => {
  it('says the same of every time as one that is read whole', () => {
    fc.assert(
      fc.property(
        stretchLists(),
        outageLists,
        ranges,
        ranges,
        ranges,
        (stretches, outages, kept, asked, part) => {
          const all = { stretches, outages };
          // What is kept reaches at least as far back as what is asked for.
          const past = new Past(
            { from: Math.min(kept.from, asked.from), to: Math.max(kept.to, asked.from) },
            readIn(all, { from: Math.min(kept.from, asked.from), to: Math.max(kept.to, asked.from) }),
          );
          const range = { from: asked.from, to: Math.max(asked.to, past.to) };
          const whole = new WatchHistory(range, readIn(all, range));
          const behind = new WatchHistory(range, readIn(all, { from: past.to, to: range.to }), past);
          for (const span of [
            range,
            { from: Math.max(part.from, range.from), to: Math.min(part.to, range.to) },
          ]) {
            if (span.to <= span.from) continue;
            expect(behind.line(span)).toEqual(whole.line(span));
            expect(behind.availability(span)).toEqual(whole.availability(span));
          }
          for (const some of ['outages', 'counted', 'leftOut'] as const)
            expect(inOrder(behind[some])).toEqual(inOrder(whole[some]));
        },
      ),
      { numRuns: tries(400) },
    );
  });

  it('is asked for a time of the past alone', () => {
    const stretches = [
      { from: 0, to: 400, kind: 'up' as const },
      { from: 400, to: 500, kind: 'down' as const },
      { from: 500, to: 1000, kind: 'up' as const },
    ];
    const outages = [{ from: 400, to: 500, reason: null }];
    const past = new Past({ from: 0, to: 900 }, { stretches, outages });
    const range = { from: 300, to: 450 };
    const history = new WatchHistory(range, { stretches: [], outages: [] }, past);
    expect(history.line(range)).toEqual([
      { from: 300, to: 400, kind: 'up' },
      { from: 400, to: 450, kind: 'down' },
    ]);
    expect(history.availability(range)).toEqual({
      spanMs: 150,
      observedMs: 150,
      downMs: 50,
      uptime: 1 - 50 / 150,
    });
    expect(history.outages).toEqual(outages);
  });

  it('knows when nobody looked, and how much is kept', () => {
    const unseen = { from: 100, to: 200, kind: 'unobserved' as const };
    const past = new Past(
      { from: 0, to: 500 },
      { stretches: [{ from: 0, to: 500, kind: 'up' }, unseen], outages: [] },
    );
    const later = { from: 600, to: 650, kind: 'unobserved' as const };
    const up = { from: 500, to: 600, kind: 'up' as const };
    const since = { stretches: [up, later], outages: [] };
    expect(new WatchHistory({ from: 0, to: 700 }, since, past).unseen).toEqual([unseen, later]);
    expect(new WatchHistory({ from: 500, to: 700 }, since).unseen).toEqual([later]);
    // Three pieces of a line, two spans that were observed.
    expect(past.size).toBe(5);
  });

  it('tells what counts from what was left out, and what is of a time from what touches it', () => {
    const outage = (from: number, to: number, reason: string | null = null) => ({ from, to, reason });
    const [cable, counts, drill] = [
      outage(100, 150, 'our own cable'),
      outage(160, 170),
      outage(200, 300, 'a drill'),
    ];
    const last = outage(410, 450);
    const outages = [outage(0, 100), cable, counts, drill, outage(300, 400), last, outage(450, 500)];
    const past = new Past({ from: 0, to: 450 }, { stretches: [{ from: 0, to: 450, kind: 'up' }], outages });
    // One is not over within it.
    expect(past.outages).toEqual(outages.slice(0, 6));
    const within = new WatchHistory({ from: 100, to: 300 }, { stretches: [], outages: [] }, past);
    expect(within.outages).toEqual([cable, counts, drill]);
    expect(within.counted).toEqual([counts]);
    expect(within.leftOut).toEqual([drill, cable]);
    const since = outage(480, 490, 'another drill');
    const behind = new WatchHistory({ from: 420, to: 600 }, { stretches: [], outages: [since] }, past);
    expect(behind.outages).toEqual([last, since]);
    expect(behind.leftOut).toEqual([since]);
  });

  it('keeps three pieces of a line, a span that was observed, one that was down, and its outage', () => {
    const past = new Past(
      { from: 0, to: 500 },
      {
        stretches: [{ from: 0, to: 500, kind: 'up' }],
        outages: [{ from: 100, to: 200, reason: null }],
      },
    );
    expect(past.size).toBe(6);
    expect(past.measure({ from: 150, to: 400 })).toEqual({ observedMs: 250, downMs: 50 });
    for (const none of [
      { from: 150, to: 150 },
      { from: 300, to: 150 },
    ]) {
      expect([past.measure(none), past.lineIn(none)]).toEqual([{ observedMs: 0, downMs: 0 }, []]);
    }
  });
});
