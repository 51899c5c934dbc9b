import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { decide } from '@/core/lifecycle/decide';
import { nextTickOf } from '@/core/lifecycle/decide-checkin';
import {
  newStatus,
  REPORT_KINDS,
  type CheckinRules,
  type Input,
  type ReportKind,
  type Status,
  type StatusEvent,
} from '@/core/lifecycle/status';

const MINUTE = 60_000;
const HOUR = 60 * MINUTE;
const START = Date.parse('2026-11-20T00:00:00Z');
const NIGHTLY: CheckinRules = {
  type: 'checkin',
  schedule: { type: 'cron', expression: '30 2 * * *', zone: 'UTC' },
  leewayMs: 30 * MINUTE,
  longestRunMs: null,
  zone: 'UTC',
};
const DUE = START + 2.5 * HOUR;
const DAY = 24 * HOUR;

function report(at: number, is: ReportKind = 'done', rest: { code?: number; run?: string } = {}): Input {
  return { type: 'report', report: { at, is, code: rest.code ?? null, run: rest.run ?? null } };
}

function timeOf(input: Input, fallback: number): number {
  return input.type === 'report' ? input.report.at : fallback;
}

function live(inputs: (Input | { tick: number })[], rules = NIGHTLY, from: Status = newStatus(START)) {
  let status = from;
  const events: StatusEvent[] = [];
  for (const input of inputs) {
    const decision =
      'tick' in input
        ? decide(rules, status, { type: 'tick' }, input.tick)
        : decide(rules, status, input, timeOf(input, 0));
    status = decision.status;
    events.push(...decision.events);
  }
  return { status, events };
}

describe('a check-in watch', () => {
  it('stays waiting until it was heard of, however many due times pass', () => {
    expect(live([{ tick: DUE + 10 * DAY }]).status.state).toBe('waiting');
  });

  it('is up with the first check-in and expects the next due time', () => {
    const { status } = live([report(DUE + MINUTE)]);
    expect(status).toMatchObject({ state: 'up', since: DUE + MINUTE, due: DUE + DAY });
  });

  it('is overdue past the due time and down past the leeway', () => {
    const first = report(DUE);
    expect(live([first, { tick: DUE + DAY }]).status.state).toBe('up');
    expect(live([first, { tick: DUE + DAY + 1 }]).status).toMatchObject({
      state: 'overdue',
      since: DUE + DAY,
    });
    const deadline = DUE + DAY + 30 * MINUTE;
    expect(live([first, { tick: deadline }]).status.state).toBe('overdue');
    const { status, events } = live([first, { tick: DUE + DAY + 1 }, { tick: deadline + 400 }]);
    expect(status.state).toBe('down');
    expect(events.find((e) => e.type === 'outage-began')).toEqual({
      type: 'outage-began',
      began: deadline,
      noticed: deadline + 400,
      cause: 'checkin.missed',
      detail: { deadline: 'Sat 21 Nov, 03:00' },
    });
  });

  it('forgives lateness inside the leeway: the calm before it goes on', () => {
    const late = DUE + DAY + 20 * MINUTE;
    const { status, events } = live([report(DUE), { tick: DUE + DAY + 1 }, report(late)]);
    expect(status).toMatchObject({ state: 'up', since: DUE, lastAt: late, calmSince: null });
    expect(events.at(-1)).toEqual({ type: 'state', from: 'overdue', since: DUE + DAY, to: 'up', at: DUE });
  });

  it('does not forgive lateness that followed on anything but calm', () => {
    const heard = live([report(DUE)]).status;
    const paused = decide(NIGHTLY, heard, { type: 'pause' }, DUE + HOUR).status;
    const waiting = decide(NIGHTLY, paused, { type: 'resume' }, DUE + 2 * HOUR).status;
    const late = DUE + DAY + 20 * MINUTE;
    const { status } = live([{ tick: DUE + DAY + 1 }, report(late)], NIGHTLY, waiting);
    expect(status).toMatchObject({ state: 'up', since: late });
  });

  it('takes a check-in at the very deadline as on time', () => {
    const deadline = DUE + DAY + 30 * MINUTE;
    expect(live([report(DUE), report(deadline)]).status.state).toBe('up');
  });

  it('finds a miss out from a late check-in alone, with the true times', () => {
    const late = DUE + DAY + 3 * HOUR;
    const { events, status } = live([report(DUE), report(late)]);
    expect(events.find((e) => e.type === 'outage-ended')).toEqual({
      type: 'outage-ended',
      began: DUE + DAY + 30 * MINUTE,
      ended: late,
    });
    expect(status.state).toBe('up');
  });

  it('counts a check-in that comes a little early for the due time it precedes', () => {
    const { status } = live([report(DUE), report(DUE + DAY - 2 * MINUTE)]);
    expect(status.due).toBe(DUE + 2 * DAY);
    expect(live([report(DUE), report(DUE + DAY - 20 * MINUTE)]).status.due).toBe(DUE + DAY);
  });

  it('is down at once when a run fails, with its exit status', () => {
    const { status, events } = live([report(DUE), report(DUE + DAY, 'failed', { code: 75 })]);
    expect(status.state).toBe('down');
    expect(events.find((e) => e.type === 'outage-began')).toMatchObject({
      began: DUE + DAY,
      cause: 'checkin.exit-status',
      detail: { code: 75 },
    });
    expect(live([report(DUE, 'failed')]).status.outage?.causes).toEqual(['checkin.failed']);
  });

  it('measures a run from begun to done, tied by its id', () => {
    const { events, status } = live([
      report(DUE, 'begun', { run: 'a' }),
      report(DUE + MINUTE, 'begun', { run: 'b' }),
      report(DUE + 4 * MINUTE, 'done', { run: 'a' }),
    ]);
    expect(events.filter((e) => e.type === 'run-ended')).toEqual([
      { type: 'run-ended', at: DUE + 4 * MINUTE, ms: 4 * MINUTE },
    ]);
    expect(status.running).toEqual({ b: DUE + MINUTE });
  });

  it.each(['constructor', 'toString', '__proto__'])(
    'takes “%s” for the id of a run like any other',
    (run) => {
      const ended = (...inputs: Input[]) => live(inputs).events.filter((e) => e.type === 'run-ended');
      expect(ended(report(DUE, 'done', { run }))).toEqual([]);
      expect(ended(report(DUE, 'begun', { run }), report(DUE + MINUTE, 'done', { run }))).toEqual([
        { type: 'run-ended', at: DUE + MINUTE, ms: MINUTE },
      ]);
    },
  );

  it('says that a run began and never ended', () => {
    const { status } = live([report(DUE), report(DUE + DAY, 'begun'), { tick: DUE + DAY + HOUR }]);
    expect(status.outage?.causes).toEqual(['checkin.unfinished']);
  });

  it('notices a run that takes longer than allowed, once', () => {
    const rules = { ...NIGHTLY, longestRunMs: 10 * MINUTE };
    const inputs = [
      report(DUE),
      report(DUE + DAY, 'begun'),
      { tick: DUE + DAY + 10 * MINUTE + 1 },
      { tick: DUE + DAY + 2 * HOUR },
    ];
    const { status, events } = live(inputs, rules);
    expect(status).toMatchObject({ state: 'down' });
    const began = events.filter((e) => e.type === 'outage-began');
    expect(began).toHaveLength(1);
    expect(began[0]).toMatchObject({ cause: 'checkin.overlong', began: DUE + DAY + 10 * MINUTE });
  });

  it('changes nothing on a note', () => {
    const before = live([report(DUE)]).status;
    expect(live([report(DUE + HOUR, 'note')], NIGHTLY, before)).toEqual({ status: before, events: [] });
  });

  it('expects a period counted from the last check-in, so that a slow drift is no miss', () => {
    const rules: CheckinRules = {
      ...NIGHTLY,
      schedule: { type: 'period', everyMs: 15 * MINUTE },
      leewayMs: MINUTE,
    };
    const drifting = Array.from({ length: 500 }, (_, i) => report(START + i * (15 * MINUTE + 6000)));
    const { events, status } = live(drifting, rules);
    expect(events.filter((e) => e.type === 'outage-began')).toEqual([]);
    expect(live([{ tick: status.lastAt! + 16 * MINUTE + 1 }], rules, status).status.state).toBe('down');
  });

  it('does not judge a due time that falls into time nobody could hear', () => {
    const gap: Input = { type: 'gap', from: DUE + DAY - HOUR, to: DUE + DAY + 2 * HOUR };
    const heard = live([report(DUE)]).status;
    const { status, events } = decide(NIGHTLY, heard, gap, gap.to);
    expect(status).toMatchObject({ state: 'up', due: DUE + 2 * DAY });
    expect(events).toEqual([{ type: 'unobserved', from: gap.from, to: gap.to }]);
  });

  it('still judges what was missed before such a gap, and leaves gaps beside the due time alone', () => {
    const heard = live([report(DUE)]).status;
    const after = decide(
      NIGHTLY,
      heard,
      { type: 'gap', from: DUE + DAY + HOUR, to: DUE + DAY + 2 * HOUR },
      DUE + DAY + 2 * HOUR,
    );
    expect(after.status.state).toBe('down');
    const beside = decide(
      NIGHTLY,
      heard,
      { type: 'gap', from: DUE + HOUR, to: DUE + 2 * HOUR },
      DUE + 2 * HOUR,
    );
    expect(beside).toEqual({ status: heard, events: [] });
  });

  it('expects the next due time after a pause', () => {
    const heard = live([report(DUE)]).status;
    const paused = decide(NIGHTLY, heard, { type: 'pause' }, DUE + HOUR).status;
    const resumed = decide(NIGHTLY, paused, { type: 'resume' }, DUE + 3 * DAY + HOUR).status;
    expect(resumed).toMatchObject({ state: 'waiting', due: DUE + 4 * DAY });
    expect(nextTickOf({ status: paused }, NIGHTLY)).toBeNull();
  });

  it('is woken by its next tick exactly when something changes', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.record({ gap: fc.integer({ min: 1000, max: 2 * DAY }), is: fc.constantFrom(...REPORT_KINDS) }),
          { maxLength: 20 },
        ),
        (steps) => {
          let at = START;
          const reports = steps.map(({ gap, is }) => report((at += gap), is));
          const rules = { ...NIGHTLY, longestRunMs: 20 * MINUTE };
          const { status } = live(reports, rules);
          const tick = nextTickOf({ status }, rules);
          const until = tick ?? at + 30 * DAY;
          expect(decide(rules, status, { type: 'tick' }, until - 1).events).toEqual([]);
          if (tick !== null) expect(decide(rules, status, { type: 'tick' }, tick).events).not.toEqual([]);
        },
      ),
    );
  });

  it('replays in two halves to what it replays to whole', () => {
    const steps = fc.array(
      fc.record({
        gap: fc.integer({ min: 1, max: DAY }),
        is: fc.constantFrom(...REPORT_KINDS),
        code: fc.option(fc.integer({ min: 0, max: 3 }), { nil: undefined }),
        run: fc.constantFrom('a', 'b'),
      }),
      { maxLength: 40 },
    );
    fc.assert(
      fc.property(steps, fc.nat(), (made, cut) => {
        let at = START;
        const inputs = made.map(({ gap, is, code, run }) => report((at += gap), is, { code, run }));
        const middle = cut % (inputs.length + 1);
        const first = live(inputs.slice(0, middle));
        const second = live(
          inputs.slice(middle),
          NIGHTLY,
          JSON.parse(JSON.stringify(first.status)) as Status,
        );
        expect(second.status).toEqual(live(inputs).status);
      }),
    );
  });
});

describe('runs that are not as they should be', () => {
  const night = (n: number) => DUE + n * DAY;

  it('begun again before done wants a hand, once, until a run ends alone', () => {
    const twice = live([
      report(night(0)),
      report(night(1), 'begun', { run: 'a' }),
      report(night(1) + MINUTE, 'begun', { run: 'b' }),
      report(night(1) + 2 * MINUTE, 'begun', { run: 'c' }),
    ]);
    expect(twice.status).toMatchObject({ state: 'overdue', warned: 'checkin.doubled' });
    expect(twice.events.filter((event) => event.type === 'warned')).toMatchObject([
      { cause: 'checkin.doubled', at: night(1) + MINUTE, detail: { begun: 'Sat 21 Nov, 02:30' } },
    ]);
    const oneLeft = live(
      [
        report(night(1) + 3 * MINUTE, 'done', { run: 'a' }),
        report(night(1) + 4 * MINUTE, 'done', { run: 'b' }),
      ],
      NIGHTLY,
      twice.status,
    );
    expect(oneLeft.status.state).toBe('slow');
    const after = live([report(night(1) + 5 * MINUTE, 'done', { run: 'c' })], NIGHTLY, oneLeft.status);
    expect(after.status).toMatchObject({ state: 'up', warned: null });
  });

  it('a begun that comes again without a name leaves the earlier run never done', () => {
    const { status } = live([
      report(night(0)),
      report(night(1), 'begun'),
      report(night(1) + HOUR / 4, 'begun'),
    ]);
    expect(status.warned).toBe('checkin.doubled');
    expect(Object.values(status.running)).toEqual([night(1) + HOUR / 4]);
  });

  it('done sooner after the last time than allowed wants a hand', () => {
    const rules = { ...NIGHTLY, shortestGapMs: HOUR };
    const soon = live([report(night(0)), report(night(0) + 20 * MINUTE)], rules);
    expect(soon.status).toMatchObject({ state: 'slow', warned: 'checkin.too-soon' });
    expect(soon.status.warnedDetail).toEqual({ gap: '20 min', limit: '1 h' });
    const later = live([report(night(1))], rules, soon.status);
    expect(later.status).toMatchObject({ state: 'up', warned: null });
    // Without a limit, runs by hand in between are nobody's trouble.
    expect(live([report(night(0)), report(night(0) + 1000)]).status.state).toBe('up');
  });

  it('never warns of what is down already', () => {
    const { status, events } = live([
      report(night(0)),
      report(night(1), 'begun', { run: 'a' }),
      { tick: night(1) + HOUR },
      report(night(2), 'begun', { run: 'b' }),
    ]);
    expect(status.state).toBe('down');
    expect(events.some((event) => event.type === 'warned')).toBe(false);
  });

  it('a done without a begun says itself how long it took', () => {
    const said: Input = {
      type: 'report',
      report: { at: night(0), is: 'done', code: 0, run: null, took: 90_000 },
    };
    expect(live([said]).events).toContainEqual({ type: 'run-ended', at: night(0), ms: 90_000 });
  });
});

describe('due times that crowd', () => {
  const EVERY_FIVE: CheckinRules = {
    ...NIGHTLY,
    schedule: { type: 'cron', expression: '*/5 * * * *', zone: 'UTC' },
    leewayMs: 12 * MINUTE,
  };
  const at = (minute: number) => START + minute * MINUTE;

  it('two or three inside one leeway are missed once, counted from the first of them', () => {
    const { status, events } = live([report(at(0)), { tick: at(16) }, { tick: at(18) }], EVERY_FIVE);
    expect(status.state).toBe('down');
    const began = events.filter((event) => event.type === 'outage-began');
    expect(began).toMatchObject([{ began: at(17), cause: 'checkin.missed' }]);
  });

  it('a check-in inside a leeway longer than the period answers all due times before it', () => {
    const { status } = live([report(at(0)), { tick: at(14) }, report(at(14))], EVERY_FIVE);
    // One minute early counts for the due time it precedes, as clocks differ.
    expect(status).toMatchObject({ state: 'up', due: at(20) });
  });
});

describe('a clock that is set', () => {
  it('back by an hour makes nothing overdue, and what is heard counts from then on', () => {
    const before = live([report(DUE)]);
    const { status, events } = live(
      [{ tick: DUE - HOUR }, report(DUE - HOUR + MINUTE), { tick: DUE - 10 * MINUTE }],
      NIGHTLY,
      before.status,
    );
    expect(events.some((event) => event.type === 'outage-began')).toBe(false);
    expect(status).toMatchObject({ state: 'up', due: DUE });
  });

  it('forward by an hour is time nobody could be heard: the due time inside it is not judged', () => {
    const before = live([report(DUE)]);
    const gap: Input = { type: 'gap', from: DUE + DAY - 5 * MINUTE, to: DUE + DAY + 55 * MINUTE };
    const { status, events } = live([gap, { tick: DUE + DAY + 56 * MINUTE }], NIGHTLY, before.status);
    expect(events.some((event) => event.type === 'outage-began')).toBe(false);
    expect(status).toMatchObject({ state: 'up', due: DUE + 2 * DAY });
  });
});
