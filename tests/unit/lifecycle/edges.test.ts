import { describe, expect, it } from 'vitest';
import { decide } from '@/core/lifecycle/decide';
import { nextTickOf } from '@/core/lifecycle/decide-checkin';
import { graceOf, isOutOfDate } from '@/core/lifecycle/decide-probe';
import { knowWithinMs, knowWithinSentence, looksPerDaySentence } from '@/core/lifecycle/foresight';
import {
  newStatus,
  type CheckinRules,
  type Input,
  type ProbeRules,
  type Report,
  type Status,
  type StatusEvent,
  type Upstream,
} from '@/core/lifecycle/status';

const MINUTE = 60_000;
const HOUR = 60 * MINUTE;
const T0 = Date.parse('2026-11-20T00:00:00Z');
const JOB: CheckinRules = {
  type: 'checkin',
  schedule: { type: 'period', everyMs: HOUR },
  leewayMs: 10 * MINUTE,
  longestRunMs: 20 * MINUTE,
  shortestGapMs: null,
  zone: 'UTC',
};
const PROBE: ProbeRules = {
  type: 'probe',
  everyMs: MINUTE,
  timeoutMs: 10_000,
  secondLooks: 1,
  secondLookGapMs: 5000,
  slowAfterMs: 500,
  slowLooks: 2,
};

type Step = { at: number; input: Input; upstream?: Upstream };
const report = (at: number, is: Report['is'] = 'done', rest: Partial<Report> = {}): Step => ({
  at: T0 + at,
  input: { type: 'report', report: { at: T0 + at, is, code: null, run: null, ...rest } as Report },
});
const tick = (at: number): Step => ({ at: T0 + at, input: { type: 'tick' } });
const pause = (at: number): Step => ({ at: T0 + at, input: { type: 'pause' } });
const resume = (at: number): Step => ({ at: T0 + at, input: { type: 'resume' } });
const window = (at: number, open: boolean): Step => ({ at: T0 + at, input: { type: 'window', open } });
const gap = (from: number, to: number): Step => ({
  at: T0 + to,
  input: { type: 'gap', from: T0 + from, to: T0 + to },
});
const clock = (at: number): Step => ({ at: T0 + at, input: { type: 'clock' } });
const look = (at: number, verdict: 'fine' | 'failed' | 'slow' = 'fine', rest: object = {}): Step => ({
  at: T0 + at,
  input: {
    type: 'finding',
    finding: {
      at: T0 + at,
      ms: 5,
      verdict,
      ...(verdict !== 'fine' && {
        cause: verdict === 'slow' ? 'tls.expires-soon' : 'port.refused',
        detail: {},
      }),
      ...rest,
    } as never,
  },
});

function live(rules: CheckinRules | ProbeRules, steps: Step[], from: Status = newStatus(T0)) {
  let status = from;
  const events: StatusEvent[] = [];
  for (const { at, input, upstream } of steps) {
    const decision = decide(rules, status, input, at, upstream);
    status = decision.status;
    events.push(...decision.events);
  }
  return { status, events, told: events.map(({ type }) => type) };
}

describe('a job, at its edges', () => {
  it('is late past its due time and missed past its leeway, to the millisecond', () => {
    const at = (ms: number) => live(JOB, [report(0), tick(ms)]).status.state;
    expect([at(HOUR), at(HOUR + 1)]).toEqual(['up', 'overdue']);
    expect([at(HOUR + 10 * MINUTE), at(HOUR + 10 * MINUTE + 1)]).toEqual(['overdue', 'down']);
    const strict = { ...JOB, leewayMs: 0 };
    const { status, events } = live(strict, [report(0), tick(HOUR + 1)]);
    expect(status.state).toBe('down');
    expect(events.filter((one) => one.type === 'state').map((one) => one.to)).toEqual(['up', 'down']);
  });

  it('that came to its end late was overdue before it was down', () => {
    const { events } = live(JOB, [report(0), tick(2 * HOUR)]);
    const states = events.filter((one) => one.type === 'state');
    expect(states.map((one) => [one.to, one.at - T0])).toEqual([
      ['up', 0],
      ['overdue', HOUR],
      ['down', HOUR + 10 * MINUTE],
    ]);
  });

  it('never heard of is said once to be, after its first due time and leeway', () => {
    const never = (ms: number) => live(JOB, [tick(ms), tick(ms + 1), tick(ms + 2)]);
    expect(never(HOUR + 10 * MINUTE - 2).told).toEqual([]);
    const { status, events } = never(HOUR + 10 * MINUTE + 1);
    expect(events).toEqual([
      {
        type: 'warned',
        at: T0 + HOUR + 10 * MINUTE,
        cause: 'checkin.never',
        detail: { deadline: 'Fri 20 Nov, 01:10' },
      },
    ]);
    expect(status).toMatchObject({ state: 'waiting', warned: 'checkin.never' });
    expect(live(JOB, [report(3 * HOUR)], status).status.warned).toBeNull();
    // A note is news too, though no run.
    expect(live(JOB, [report(0, 'note'), tick(5 * HOUR)]).status.due).toBeNull();
  });

  it('known once, and waiting again after a pause, is not called never heard of', () => {
    const { told } = live(JOB, [report(0), pause(1), resume(2), tick(3)]);
    expect(told).not.toContain('warned');
    const silent = live({ ...JOB, schedule: { type: 'cron', expression: '0 0 30 2 *', zone: 'UTC' } }, [
      tick(9e10),
    ]);
    expect(silent.told).toEqual([]);
  });

  it('that runs too long is down as of its limit, and was late before where it was due before', () => {
    const begunAfter = (ms: number) =>
      live(JOB, [report(0), report(ms, 'begun'), tick(ms + 20 * MINUTE), tick(ms + 20 * MINUTE + 1)]);
    expect(begunAfter(50 * MINUTE).events.find((one) => one.type === 'outage-began')).toMatchObject({
      began: T0 + 70 * MINUTE,
      cause: 'checkin.unfinished',
    });
    expect(begunAfter(30 * MINUTE).events.find((one) => one.type === 'outage-began')).toMatchObject({
      began: T0 + 50 * MINUTE,
      noticed: T0 + 50 * MINUTE + 1,
      cause: 'checkin.overlong',
      detail: { begun: 'Fri 20 Nov, 00:30', limit: '20 min' },
    });
    const late = live(JOB, [report(0), report(45 * MINUTE, 'begun'), tick(65 * MINUTE + 1)]);
    const states = late.events.filter((one) => one.type === 'state').map((one) => [one.to, one.at - T0]);
    expect(states).toEqual([
      ['up', 0],
      ['overdue', HOUR],
      ['down', 65 * MINUTE],
    ]);
    expect(
      live({ ...JOB, longestRunMs: null }, [report(0), report(30 * MINUTE, 'begun'), tick(59 * MINUTE)])
        .status.state,
    ).toBe('up');
  });

  it('that ran out inside a window counts from its end', () => {
    const { events } = live(JOB, [
      report(0),
      report(10 * MINUTE, 'begun'),
      window(20 * MINUTE, true),
      tick(35 * MINUTE),
      window(40 * MINUTE, false),
      tick(40 * MINUTE + 1),
    ]);
    expect(events.filter((one) => one.type === 'outage-began')).toMatchObject([
      { began: T0 + 40 * MINUTE, cause: 'checkin.overlong' },
    ]);
  });

  it('is not judged while it is paused or in maintenance', () => {
    for (const rest of [pause(1), window(1, true)]) {
      expect(live(JOB, [report(0), rest, tick(9 * HOUR)]).told).not.toContain('outage-began');
    }
    expect(live(JOB, [report(0), window(1, true), report(2, 'failed')]).told).not.toContain('outage-began');
    expect(live(JOB, [report(0), pause(1), report(2, 'failed')]).status.state).toBe('paused');
  });

  it('missed while it runs is said to be unfinished, from its last beginning', () => {
    const slow = { ...JOB, longestRunMs: null };
    const { events } = live(slow, [
      report(0),
      report(20 * MINUTE, 'begun', { run: 'a' }),
      report(40 * MINUTE, 'begun', { run: 'b' }),
      tick(3 * HOUR),
    ]);
    expect(events.find((one) => one.type === 'outage-began')).toMatchObject({
      cause: 'checkin.unfinished',
      detail: { begun: 'Fri 20 Nov, 00:40' },
    });
    expect(
      live(slow, [report(0), tick(3 * HOUR)]).events.find((one) => one.type === 'outage-began'),
    ).toMatchObject({
      cause: 'checkin.missed',
      detail: { deadline: 'Fri 20 Nov, 01:10' },
    });
  });

  it('fails by word or by exit status, and says which', () => {
    const began = (rest: Partial<Report>, is: Report['is'] = 'done') =>
      live(JOB, [report(0), report(1, is, rest)]).events.find((one) => one.type === 'outage-began');
    expect(began({ code: 3 })).toMatchObject({ cause: 'checkin.exit-status', detail: { code: 3 } });
    expect(began({ code: 3 }, 'failed')).toMatchObject({ cause: 'checkin.exit-status', detail: { code: 3 } });
    expect(began({ code: 0 }, 'failed')).toMatchObject({ cause: 'checkin.failed', detail: {} });
    expect(began({}, 'failed')).toMatchObject({ cause: 'checkin.failed', detail: {} });
    expect(began({ code: 0 })).toBeUndefined();
    expect(live(JOB, [report(0, 'failed')]).status.lastFine).toBe(false);
    expect(live(JOB, [report(0, 'failed'), report(1)]).status).toMatchObject({
      lastFine: true,
      state: 'up',
      outage: null,
    });
  });

  it('that fails in another way is one outage with two causes', () => {
    const { status, told } = live(JOB, [
      report(0, 'failed'),
      report(1, 'failed'),
      report(2, 'done', { code: 9 }),
    ]);
    expect(status.outage!.causes).toEqual(['checkin.failed', 'checkin.exit-status']);
    expect(told.filter((type) => type === 'outage-cause')).toHaveLength(1);
  });

  it('remembers fifty runs at once, the newest', () => {
    const steps = Array.from({ length: 60 }, (_, i) => report(i, 'begun', { run: `r${i}` }));
    const running = Object.keys(live(JOB, steps).status.running).sort();
    expect(running).toHaveLength(50);
    expect(running).not.toContain('r9');
    expect(running).toContain('r10');
    expect(running).toContain('r59');
  });

  it('runs at once want a hand; the last that is left takes it back, and the beginning that is named is the newest', () => {
    const both = live(JOB, [
      report(0),
      report(5 * MINUTE, 'begun', { run: 'a' }),
      report(6 * MINUTE, 'begun', { run: 'b' }),
      report(7 * MINUTE, 'begun', { run: 'c' }),
    ]);
    expect(both.events.filter((one) => one.type === 'warned')).toMatchObject([
      { cause: 'checkin.doubled', detail: { begun: 'Fri 20 Nov, 00:05' } },
    ]);
    expect(both.status.warnedDetail).toEqual({ begun: 'Fri 20 Nov, 00:06' });
    expect(both.status.state).toBe('slow');
    const one = live(JOB, [report(8 * MINUTE, 'done', { run: 'a' })], both.status);
    expect(one.status).toMatchObject({ state: 'slow', warned: 'checkin.doubled' });
    const all = live(
      JOB,
      [report(9 * MINUTE, 'done', { run: 'b' }), report(9 * MINUTE, 'done', { run: 'c' })],
      one.status,
    );
    expect(all.status).toMatchObject({ state: 'up', warned: null });
  });

  it('a run longer than allowed that is still on when another ends well is forgotten, a younger one is not', () => {
    const { status } = live(JOB, [
      report(0),
      report(1 * MINUTE, 'begun', { run: 'old' }),
      report(15 * MINUTE, 'begun', { run: 'young' }),
      tick(22 * MINUTE),
      report(30 * MINUTE, 'done', { run: 'other' }),
    ]);
    expect(Object.keys(status.running)).toEqual(['young']);
    const edge = live(JOB, [report(0, 'begun', { run: 'x' }), report(20 * MINUTE, 'done', { run: 'y' })]);
    expect(Object.keys(edge.status.running)).toEqual(['x']);
  });

  it('done too soon after the last time wants a hand, to the millisecond', () => {
    const rules = { ...JOB, shortestGapMs: MINUTE };
    const after = (ms: number) => live(rules, [report(0), report(ms)]).status;
    expect(after(MINUTE - 1)).toMatchObject({
      state: 'slow',
      warned: 'checkin.too-soon',
      warnedDetail: { limit: '1 min' },
    });
    expect(after(MINUTE)).toMatchObject({ state: 'up', warned: null });
    expect(live(rules, [report(0)]).status.warned).toBeNull();
    expect(live(JOB, [report(0), report(1)]).status.warned).toBeNull();
  });

  it('says how long a run took, from its beginning or by its own clock', () => {
    const ends = (...steps: Step[]) => live(JOB, steps).events.filter((one) => one.type === 'run-ended');
    expect(ends(report(0, 'begun'), report(9))).toMatchObject([{ at: T0 + 9, ms: 9 }]);
    expect(ends(report(9, 'done', { took: 700 }))).toMatchObject([{ at: T0 + 9, ms: 700 }]);
    expect(ends(report(0, 'begun'), report(9, 'done', { took: 700 }))).toMatchObject([{ ms: 9 }]);
    expect(ends(report(9))).toEqual([]);
  });

  it('begun and never done counts from its first report on', () => {
    expect(live(JOB, [report(0, 'begun')]).status.due).toBe(T0 + HOUR);
    expect(live(JOB, [report(0), report(5, 'begun')]).status.due).toBe(T0 + HOUR);
  });
});

describe('time in which a job could not be heard', () => {
  const due = HOUR;
  const leeway = 10 * MINUTE;
  it.each([
    ['just before the due time', due - 5000, due - 1, false],
    ['up to the due time', due - 5000, due, true],
    ['inside the leeway', due + 1000, due + 2000, true],
    ['from the end of the leeway on', due + leeway, due + leeway + 5000, true],
  ])('%s', (_, from, to, left) => {
    const { status, events } = live(JOB, [report(0), gap(from, to)]);
    expect(events.some((one) => one.type === 'unobserved')).toBe(left);
    expect(status.due).toBe(T0 + (left ? to + HOUR : HOUR));
  });

  it('begins with the watch itself, and takes back that it was late', () => {
    const first = live(JOB, [report(HOUR), gap(0, 3 * HOUR)]);
    expect(first.events.find((one) => one.type === 'unobserved')).toMatchObject({
      from: T0 + HOUR,
      to: T0 + 3 * HOUR,
    });
    const late = live(JOB, [report(0), tick(HOUR + 1), gap(HOUR + 5, HOUR + 6)]);
    expect(late.status).toMatchObject({ state: 'up', since: T0 });
    const patient = { ...JOB, longestRunMs: null };
    const never = live(patient, [report(0, 'begun'), tick(HOUR + 1), gap(HOUR + 5, HOUR + 6)]);
    expect(never.status.state).toBe('waiting');
  });

  it('forgets what ran, judges what was missed before, and says nothing of what is not awaited', () => {
    expect(live(JOB, [report(0), report(1, 'begun'), gap(2, 3)]).status.running).toEqual({});
    const before = live(JOB, [report(0), gap(HOUR + leeway + 1, 9 * HOUR)]);
    expect(before.status.outage).toMatchObject({ began: T0 + HOUR + leeway });
    expect(before.events.some((one) => one.type === 'unobserved')).toBe(false);
    expect(live(JOB, [gap(0, 9 * HOUR)]).events).toEqual([]);
  });
});

describe('when a job wants the next tick', () => {
  it.each<[string, Step[], number | null]>([
    ['at its due time', [report(0)], HOUR + 1],
    ['at the end of its leeway once it is late', [report(0), tick(HOUR + 1)], HOUR + 10 * MINUTE + 1],
    ['at its longest run, where that comes first', [report(0), report(1, 'begun')], 20 * MINUTE + 2],
    ['at its first due time while it was never heard of', [], HOUR + 10 * MINUTE + 1],
    ['not while it is down', [report(0, 'failed')], null],
    ['not while it is paused', [report(0), pause(1)], null],
    ['not in maintenance', [report(0), window(1, true)], null],
    ['not once it was said to be never heard of', [tick(9 * HOUR)], null],
  ])('%s', (_, steps, at) => {
    const next = nextTickOf(live(JOB, steps), JOB);
    expect(next === null ? null : next - T0).toBe(at);
  });
});

describe('a probe, at its edges', () => {
  it('is slow over its limit, not at it, and only in a row', () => {
    const times = (...ms: number[]) =>
      live(
        PROBE,
        ms.map((one, i) => look(i * MINUTE, 'fine', { ms: one })),
      ).status;
    expect(times(500, 500, 500).state).toBe('up');
    expect(times(501).state).toBe('up');
    expect(times(501, 501)).toMatchObject({ state: 'slow' });
    expect(times(501, 500, 501).state).toBe('up');
    expect(times(100, 501, 501)).toMatchObject({ state: 'slow', since: T0 + MINUTE });
    expect(times(501, 501, 100)).toMatchObject({ state: 'up', slowRun: null });
    expect(
      live({ ...PROBE, slowAfterMs: null }, [look(0, 'fine', { ms: 9e5 }), look(1, 'fine', { ms: 9e5 })])
        .status.state,
    ).toBe('up');
    const apart = live(PROBE, [
      look(0, 'fine', { ms: 501 }),
      look(1000, 'failed'),
      look(2000, 'fine', { ms: 501 }),
    ]);
    expect(apart.status.slowRun).toMatchObject({ count: 1 });
  });

  it('stands for its interval and a grace, and for nothing after that', () => {
    expect(graceOf(PROBE)).toBe(40_000);
    expect(graceOf({ ...PROBE, everyMs: 10 * MINUTE })).toBe(10_000 + 5 * MINUTE);
    expect(
      graceOf({
        ...PROBE,
        everyMs: 10 * MINUTE,
        cron: { type: 'cron', expression: '* * * * *', zone: 'UTC' },
      }),
    ).toBe(40_000);
    const { status } = live(PROBE, [look(0)]);
    const until = status.coveredUntil! + graceOf(PROBE) + PROBE.timeoutMs + 10_000;
    expect(isOutOfDate(status, PROBE, until)).toBe(false);
    expect(isOutOfDate(status, PROBE, until + 1)).toBe(true);
    for (const state of ['waiting', 'paused', 'maintenance', 'down', 'overdue'] as const) {
      expect(isOutOfDate({ ...status, state }, PROBE, until + 1)).toBe(false);
    }
    for (const state of ['slow', 'doubtful'] as const)
      expect(isOutOfDate({ ...status, state }, PROBE, until + 1)).toBe(true);
    expect(isOutOfDate({ ...status, coveredUntil: null }, PROBE, until + 1)).toBe(false);
    expect(live(PROBE, [tick(until - T0)], status).status.state).toBe('up');
    expect(live(PROBE, [look(0, 'failed'), tick(until - T0 + 1)]).status).toMatchObject({
      state: 'waiting',
      since: status.coveredUntil,
      failing: null,
    });
  });

  it('time nobody looked begins where the last look ended to stand, or where the line was lost', () => {
    const unobserved = (...steps: Step[]) =>
      live(PROBE, steps).events.filter((one) => one.type === 'unobserved');
    const lost = (at: number) => look(at, 'failed', { cause: 'look.no-line' });
    const grace = graceOf(PROBE);
    expect(unobserved(look(0), look(MINUTE + grace))).toEqual([]);
    expect(unobserved(look(0), look(MINUTE + grace + 1))).toMatchObject([
      { from: T0 + MINUTE, to: T0 + MINUTE + grace + 1 },
    ]);
    expect(unobserved(look(0), lost(10_000), lost(20_000), look(30_000))).toMatchObject([
      { from: T0 + 10_000, to: T0 + 30_000 },
    ]);
    expect(unobserved(lost(10_000), look(30_000))).toMatchObject([{ from: T0 + 10_000 }]);
    expect(unobserved(look(0), lost(90_000), look(95_000))).toMatchObject([
      { from: T0 + MINUTE, to: T0 + 95_000 },
    ]);
    expect(unobserved(look(0), look(10, 'failed', { cause: 'look.broken' }), look(20))).toEqual([]);
    expect(unobserved(look(0), lost(10_000), pause(30_000))).toMatchObject([
      { from: T0 + 10_000, to: T0 + 30_000 },
    ]);
    expect(unobserved(look(0), lost(10_000), window(30_000, true))).toHaveLength(1);
    expect(live(PROBE, [look(0, 'failed'), lost(1000), look(2000, 'failed')]).status.failing).toMatchObject({
      count: 1,
    });
  });

  it('a limit of its own is told once for each cause, and forgotten once all is well', () => {
    const other = { cause: 'value.high-soon' };
    const { events, status } = live(PROBE, [
      look(0, 'slow'),
      look(1, 'slow'),
      look(2, 'slow', other),
      look(3),
      look(4, 'slow'),
    ]);
    expect(events.filter((one) => one.type === 'warned').map((one) => one.at - T0)).toEqual([0, 2, 4]);
    expect(status.state).toBe('slow');
    expect(
      live(PROBE, [look(0, 'slow'), window(1, true), look(2, 'slow', other)]).events.filter(
        (one) => one.type === 'warned',
      ),
    ).toHaveLength(1);
  });

  it('in maintenance fails for nobody, and a doubt from before is forgotten', () => {
    const inside = live(PROBE, [look(0, 'failed'), window(1, true), look(2, 'failed'), look(3, 'failed')]);
    expect(inside.status).toMatchObject({
      state: 'maintenance',
      failing: null,
      outage: null,
      lastFine: false,
    });
    expect(live(PROBE, [window(4, false)], inside.status).status.state).toBe('waiting');
    expect(live(PROBE, [look(4), window(5, false)], inside.status).status.state).toBe('up');
    const down = live({ ...PROBE, secondLooks: 0 }, [look(0, 'failed'), window(1, true), window(2, false)]);
    expect(down.status.state).toBe('down');
  });

  it('paused takes nothing in, and begins anew', () => {
    const paused = live(PROBE, [look(0), pause(1), look(2, 'failed'), pause(3)]);
    expect(paused.status).toMatchObject({ state: 'paused', since: T0 + 1 });
    expect(live(PROBE, [window(4, true), window(5, false)], paused.status).status.state).toBe('paused');
    const again = live(PROBE, [resume(6)], paused.status).status;
    expect(again).toMatchObject({ state: 'waiting', coveredUntil: null, lastFine: null });
    expect(live(PROBE, [resume(7)], live(PROBE, [look(0)]).status).status.state).toBe('up');
    expect(live(PROBE, [window(7, false)], live(PROBE, [look(0)]).status).events).toEqual([]);
  });

  it('keeps the last twenty causes of an outage', () => {
    const steps = Array.from({ length: 30 }, (_, i) =>
      look(i, 'failed', { cause: i % 2 ? 'port.refused' : 'port.timeout' }),
    );
    expect(live({ ...PROBE, secondLooks: 0 }, steps).status.outage!.causes).toHaveLength(20);
  });
});

describe('a clock that was set back', () => {
  it('leaves nothing to be waited for that lies ahead', () => {
    const job = live(JOB, [report(5 * HOUR), report(5 * HOUR + 1, 'begun'), clock(HOUR)]).status;
    expect(job).toMatchObject({
      lastAt: T0 + HOUR,
      doneAt: T0 + HOUR,
      running: { '': T0 + HOUR },
      due: T0 + 2 * HOUR,
    });
    const ahead = live(JOB, [report(0), clock(10 * MINUTE)]).status;
    expect(ahead).toMatchObject({ lastAt: T0, due: T0 + HOUR });
    const probe = live(PROBE, [
      look(5 * HOUR, 'failed'),
      look(5 * HOUR + 1, 'failed', { cause: 'look.no-line' }),
      clock(HOUR),
    ]).status;
    expect(probe).toMatchObject({
      coveredUntil: T0 + HOUR,
      lastAt: T0 + HOUR,
      blindSince: T0 + HOUR,
      failing: null,
      due: null,
    });
    expect(live(JOB, [clock(HOUR)]).status.due).toBeNull();
  });
});

describe('what rests on something else', () => {
  const below = (rest: Partial<Upstream>): Upstream => ({
    down: null,
    doubtful: false,
    changedAt: 0,
    ...rest,
  });
  const with_ = (step: Step, upstream: Upstream): Step => ({ ...step, upstream });
  const strict = { ...PROBE, secondLooks: 0 };

  it('is told only by a failed look that began after the change, not in maintenance, and not by our own fault', () => {
    const held = live(strict, [with_(look(0, 'failed'), below({ doubtful: true }))]);
    expect(held.told).toContain('outage-began');
    expect(held.status.outage).toMatchObject({ withheld: { follows: null } });
    const back = below({ changedAt: T0 + 100 });
    const next = (step: Step) => live(strict, [with_(step, back)], held.status).told;
    expect(next(look(100, 'failed'))).not.toContain('outage-announced');
    expect(next(look(101, 'failed'))).toContain('outage-announced');
    expect(next(look(101, 'failed', { cause: 'look.broken' }))).not.toContain('outage-announced');
    expect(next(tick(101))).not.toContain('outage-announced');
    expect(next(window(101, true))).not.toContain('outage-announced');
    expect(next(look(101))).toEqual(expect.arrayContaining(['outage-ended']));
    expect(next(look(101))).not.toContain('outage-announced');
  });

  it('a job is told by what it says, or by time that passes', () => {
    const held = live(JOB, [with_(report(0, 'failed'), below({ down: 7 }))]);
    expect(held.status.outage).toMatchObject({ withheld: { follows: 7 } });
    const next = (step: Step) => live(JOB, [with_(step, below({}))], held.status).told;
    expect(next(tick(5))).toContain('outage-announced');
    expect(next(report(5, 'failed'))).toContain('outage-announced');
    expect(next(clock(5))).not.toContain('outage-announced');
    expect(next(gap(4, 5))).not.toContain('outage-announced');
  });

  it('follows another one where that is what is down now', () => {
    const held = live(strict, [with_(look(0, 'failed'), below({ down: 7 }))]);
    const follows = live(strict, [with_(look(1, 'failed'), below({ down: 8 }))], held.status);
    expect(follows.events.filter((one) => one.type === 'outage-follows')).toMatchObject([{ of: 8 }]);
    expect(live(strict, [with_(look(2, 'failed'), below({ down: 8 }))], follows.status).told).not.toContain(
      'outage-follows',
    );
  });
});

describe('how soon one would know', () => {
  it('adds up what may pass before it is sure', () => {
    expect(knowWithinMs(PROBE)).toBe(60_000 + 10_000 + 1 * 15_000);
    expect(knowWithinMs({ ...PROBE, secondLooks: 3 })).toBe(60_000 + 10_000 + 3 * 15_000);
    expect(knowWithinMs(JOB)).toBe(70 * MINUTE);
    const nightly = { ...JOB, schedule: { type: 'cron', expression: '30 2 * * *', zone: 'UTC' } } as const;
    expect(knowWithinMs(nightly)).toBe(10 * MINUTE);
    expect(knowWithinSentence(PROBE)).toBe('You would know within 1 min 25 s.');
    expect(knowWithinSentence(JOB)).toBe('You would know within 1 h 10 min.');
    expect(knowWithinSentence(nightly)).toBe('You would know within 10 min of a due time.');
    expect(knowWithinSentence({ ...nightly, leewayMs: 0 })).toBe(
      'You would know as soon as a due time passes without a check-in.',
    );
    expect(
      knowWithinSentence({ ...PROBE, cron: { type: 'cron', expression: '0 8 * * *', zone: 'UTC' } }),
    ).toBe('You would know within 25 s of the look that finds it.');
    expect(knowWithinSentence({ ...JOB, leewayMs: 0 })).toBe('You would know within 1 h.');
  });

  it.each([
    [60, 'The target is asked 1,440 times a day.'],
    [43_200, 'The target is asked 2 times a day.'],
    [86_400, 'The target is asked once a day.'],
    [172_800, 'The target is asked once in 2 d.'],
  ])('looking every %i s: %s', (every, sentence) => expect(looksPerDaySentence(every)).toBe(sentence));
});
