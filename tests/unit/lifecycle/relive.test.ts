import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Finding } from '@/core/causes/finding';
import { compareLives, relive, type WatchPast } from '@/core/lifecycle/relive';
import type { CheckinRules, ProbeRules, Report } from '@/core/lifecycle/status';

const T0 = Date.parse('2026-11-26T00:00:00Z');
const MIN = 60_000;

const RULES: ProbeRules = {
  type: 'probe',
  everyMs: 5 * MIN,
  timeoutMs: 10_000,
  secondLooks: 1,
  secondLookGapMs: 20_000,
  slowAfterMs: null,
  slowLooks: 2,
};
const JOB: CheckinRules = {
  type: 'checkin',
  schedule: { type: 'period', everyMs: 60 * MIN },
  leewayMs: 10 * MIN,
  longestRunMs: null,
  zone: 'UTC',
};

const fine = (at: number, ms = 100): Finding => ({ at: T0 + at, ms, verdict: 'fine' });
const failed = (at: number): Finding => ({
  at: T0 + at,
  ms: 100,
  verdict: 'failed',
  cause: 'port.refused',
  detail: {},
});
const done = (at: number): Report => ({ at: T0 + at, is: 'done', code: 0, run: null });

function past(rest: Partial<WatchPast>, lasts = 60 * MIN): WatchPast {
  return { looks: [], reports: [], aside: [], from: T0, until: T0 + lasts, ...rest };
}

describe('the past of a probe', () => {
  // Fails at 10:00, again at its second look, and is seen fine at 15:00.
  const once = past({
    looks: [
      fine(0),
      fine(5 * MIN),
      failed(10 * MIN),
      failed(10 * MIN + 20_000),
      fine(15 * MIN),
      fine(20 * MIN),
    ],
  });

  it('is lived as it was with the rules it had', () => {
    const outage = { began: T0 + 10 * MIN, noticed: T0 + 10 * MIN + 20_000, ended: T0 + 15 * MIN };
    expect(relive(once, RULES)).toEqual({ outages: [outage], slow: 0 });
  });

  it('is noticed sooner with fewer second looks, and later with more', () => {
    const noticed = (secondLooks: number) =>
      relive(once, { ...RULES, secondLooks }).outages.map((outage) => outage.noticed - T0 - 10 * MIN);
    expect(noticed(0)).toEqual([0]);
    // The looks in between, which were not made, end as the one before.
    expect(noticed(3)).toEqual([60_000]);
    expect(noticed(14)).toEqual([280_000]);
    // By then it was seen fine.
    expect(noticed(15)).toEqual([]);
  });

  it('has an outage more where a look took longer than is waited now', () => {
    const slow = past({ looks: [fine(0), fine(5 * MIN, 4_000), fine(10 * MIN)] });
    expect(relive(slow, RULES).outages).toEqual([]);
    const lived = relive(slow, { ...RULES, timeoutMs: 3_000 });
    expect(lived.outages).toMatchObject([{ began: T0 + 5 * MIN, noticed: T0 + 5 * MIN + 20_000 }]);
    expect(relive(slow, { ...RULES, timeoutMs: 4_000 }).outages).toEqual([]);
  });

  it('counts how often it was slow', () => {
    const looks = [fine(0), fine(5 * MIN, 900), fine(10 * MIN, 900), fine(15 * MIN), fine(20 * MIN, 900)];
    const slow = (slowAfterMs: number | null) => relive(past({ looks }), { ...RULES, slowAfterMs }).slow;
    expect(slow(null)).toBe(0);
    expect(slow(500)).toBe(1);
    expect(slow(900)).toBe(0);
    expect(relive(past({ looks }), { ...RULES, slowAfterMs: 500, slowLooks: 1 }).slow).toBe(2);
  });

  it('has none while it rested or was in maintenance', () => {
    for (const kind of ['paused', 'maintenance'] as const) {
      const aside = [{ from: T0 + 9 * MIN, to: T0 + 14 * MIN, kind }];
      expect(relive({ ...once, aside }, RULES).outages).toEqual([]);
    }
    // One that lasts is still told when the window is over.
    const lasting = past({
      looks: [fine(0), ...[10, 15, 20, 25].map((at) => failed(at * MIN))],
      aside: [{ from: T0 + 9 * MIN, to: T0 + 14 * MIN, kind: 'maintenance' }],
    });
    expect(relive(lasting, RULES).outages).toMatchObject([{ began: T0 + 15 * MIN, ended: null }]);
  });

  it('ends an outage where nobody looks any more, and not where maintenance hides it', () => {
    const looks = [fine(0), ...[5, 10, 15, 20, 25].map((at) => failed(at * MIN)), fine(30 * MIN)];
    const ended = (kind: 'paused' | 'maintenance') => {
      const aside = [{ from: T0 + 12 * MIN, to: T0 + 18 * MIN, kind }];
      return relive(past({ looks, aside }), RULES).outages.map((one) => ((one.ended ?? 0) - T0) / MIN);
    };
    expect(ended('paused')).toEqual([12, 30]);
    expect(ended('maintenance')).toEqual([30]);
  });

  it('is not slow for what wants a hand', () => {
    const hand = (at: number): Finding => ({
      at: T0 + at,
      ms: 50,
      verdict: 'slow',
      cause: 'tls.expires-soon',
      detail: {},
    });
    expect(relive(past({ looks: [fine(0), hand(5 * MIN), hand(10 * MIN)] }), RULES).slow).toBe(0);
  });

  it('has no end that was not seen, and looks put in end where the past does', () => {
    const open = past({ looks: [fine(0), failed(10 * MIN)] }, 10 * MIN + 30_000);
    expect(relive(open, RULES).outages).toEqual([
      { began: T0 + 10 * MIN, noticed: T0 + 10 * MIN + 20_000, ended: null },
    ]);
    expect(relive(open, { ...RULES, secondLooks: 2 }).outages).toEqual([]);
  });

  it('never has more outages with more patience, and each no sooner', () => {
    const looks = fc
      .array(fc.tuple(fc.integer({ min: 1, max: 20 }), fc.boolean()), { maxLength: 60 })
      .map((steps) => {
        let at = 0;
        return steps.map(([gap, ok]) => {
          at += gap * 15_000;
          return ok ? fine(at) : failed(at);
        });
      });
    fc.assert(
      fc.property(looks, fc.integer({ min: 0, max: 4 }), fc.integer({ min: 1, max: 4 }), (all, few, more) => {
        const lived = past({ looks: all }, 24 * 60 * MIN);
        const before = relive(lived, { ...RULES, secondLooks: few });
        const after = relive(lived, { ...RULES, secondLooks: few + more });
        expect(after.outages.length).toBeLessThanOrEqual(before.outages.length);
        const { added, changed } = compareLives(before, after);
        expect(added).toEqual([]);
        for (const { noticed, then } of changed) expect(then ?? Infinity).toBeGreaterThan(noticed);
      }),
    );
  });
});

describe('the past of a job', () => {
  // Every hour; once 15 min late, once 2 hours.
  const late = past({ reports: [0, 60, 135, 195, 375].map((at) => done(at * MIN)) }, 400 * MIN);

  it('is lived as it was, missed at the end of its leeway', () => {
    const { outages } = relive(late, JOB);
    expect(outages.map(({ began, ended }) => [(began - T0) / MIN, ((ended ?? 0) - T0) / MIN])).toEqual([
      [130, 135],
      [265, 375],
    ]);
  });

  it('has fewer misses with more leeway, and more with less', () => {
    const missed = (leeway: number) => relive(late, { ...JOB, leewayMs: leeway * MIN }).outages.length;
    expect([0, 10, 15, 20, 121].map(missed)).toEqual([2, 2, 1, 1, 0]);
  });

  it('is missed up to the end of what is known', () => {
    expect(relive(past({ reports: [done(0)] }, 71 * MIN), JOB).outages).toMatchObject([
      { began: T0 + 70 * MIN, ended: null },
    ]);
    expect(relive(past({ reports: [done(0)] }, 70 * MIN), JOB).outages).toEqual([]);
  });

  it('is not missed for time nobody could hear it', () => {
    const aside = [{ from: T0 + 100 * MIN, to: T0 + 134 * MIN, kind: 'unobserved' as const }];
    expect(relive({ ...late, aside }, JOB).outages.map(({ began }) => (began - T0) / MIN)).toEqual([265]);
  });

  it('runs too long by other limits', () => {
    const begun: Report = { at: T0, is: 'begun', code: null, run: '1' };
    const run = past({ reports: [begun, { ...done(30 * MIN), run: '1' }] }, 50 * MIN);
    expect(relive(run, JOB).outages).toEqual([]);
    expect(relive(run, { ...JOB, longestRunMs: 20 * MIN }).outages).toMatchObject([{ began: T0 + 20 * MIN }]);
  });
});

describe('two lives', () => {
  const outage = (began: number, noticed = began, ended: number | null = began + 10) => ({
    began,
    noticed,
    ended,
  });
  const lived = (...outages: ReturnType<typeof outage>[]) => ({ outages, slow: outages.length });

  it('are compared outage by outage', () => {
    const now = lived(outage(0), outage(100), outage(200), outage(300, 301, null));
    const then = lived(outage(0), outage(104, 107), outage(250), outage(305, 309, null));
    expect(compareLives(now, then)).toEqual({
      now: { outages: 4, slow: 4 },
      then: { outages: 4, slow: 4 },
      changed: [
        { ...outage(100), then: 107 },
        { ...outage(200), then: null },
        { ...outage(300, 301, null), then: 309 },
      ],
      added: [outage(250)],
    });
  });

  it('are the same where nothing is other', () => {
    const now = lived(outage(0), outage(100), outage(200, 201, null));
    expect(compareLives(now, now)).toMatchObject({ changed: [], added: [] });
  });

  it('of thousands of outages are compared in a moment', () => {
    const many = lived(...Array.from({ length: 30_000 }, (_, n) => outage(n * 100)));
    expect(compareLives(many, many).changed).toEqual([]);
  });
});
