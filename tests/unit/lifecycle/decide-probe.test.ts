import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { decide } from '@/core/lifecycle/decide';
import { newStatus, type ProbeRules, type Status, type StatusEvent } from '@/core/lifecycle/status';
import { failed, fine, histories, PROBE, type Timed } from '../arbitraries';
import { processorMs } from '../effort';

const START = 1_000_000;

function replay(inputs: readonly Timed[], from: Status = newStatus(START), rules: ProbeRules = PROBE) {
  let status = from;
  const events: StatusEvent[] = [];
  for (const { input, now } of inputs) {
    const decision = decide(rules, status, input, now);
    status = decision.status;
    events.push(...decision.events);
  }
  return { status, events };
}

/** Looks one minute apart from minute 1 on. */
const at = (minute: number) => START + minute * 60_000;

describe('a probe watch', () => {
  it('waits until the first look, then is up as of that look', () => {
    expect(newStatus(START).state).toBe('waiting');
    const { status, events } = replay([fine(at(1))]);
    expect(status).toMatchObject({ state: 'up', since: at(1) });
    expect(events).toEqual([{ type: 'state', from: 'waiting', since: START, to: 'up', at: at(1) }]);
  });

  it('doubts after one failed look and is down once the second looks are used up', () => {
    const looks = [fine(at(1)), failed(at(2)), failed(at(2) + 10_000), failed(at(2) + 20_000)];
    expect(replay(looks.slice(0, 3)).status.state).toBe('doubtful');
    const { status, events } = replay(looks);
    expect(status).toMatchObject({ state: 'down', since: at(2) + 20_000 });
    expect(events.at(-2)).toMatchObject({
      type: 'outage-began',
      began: at(2),
      noticed: at(2) + 20_005,
      cause: 'port.refused',
    });
  });

  it('forgets a doubt that does not last, without an outage', () => {
    const { status, events } = replay([fine(at(1)), failed(at(2)), fine(at(3))]);
    expect(status.state).toBe('up');
    expect(events.filter((e) => e.type.startsWith('outage'))).toEqual([]);
  });

  it('is down at the first failed look when there are no second looks', () => {
    const { status } = replay([fine(at(1)), failed(at(2))], undefined, { ...PROBE, secondLooks: 0 });
    expect(status.state).toBe('down');
  });

  it('ends an outage at the first fine look, and dates it from the first failed one', () => {
    const rules = { ...PROBE, secondLooks: 1 };
    const { events } = replay([fine(at(1)), failed(at(2)), failed(at(3)), fine(at(9))], undefined, rules);
    // Between minutes 3 and 9 nobody looked; the outage itself still runs from 2 to 9.
    expect(events.at(-2)).toEqual({ type: 'outage-ended', began: at(2), ended: at(9) });
    expect(events.at(-1)).toMatchObject({ type: 'state', to: 'up', at: at(9) });
  });

  it('notes a change of cause once', () => {
    const rules = { ...PROBE, secondLooks: 0 };
    const looks = [failed(at(1)), failed(at(2), 'reply.status'), failed(at(3), 'reply.status')];
    const { events, status } = replay(looks, undefined, rules);
    expect(events.filter((e) => e.type === 'outage-cause')).toHaveLength(1);
    expect(status.outage?.causes).toEqual(['port.refused', 'reply.status']);
  });

  it('is slow after so many slow looks in a row, as of the first of them', () => {
    const looks = [fine(at(1)), fine(at(2), 900), fine(at(3), 900), fine(at(4), 900)];
    expect(replay(looks.slice(0, 3)).status.state).toBe('up');
    expect(replay(looks).status).toMatchObject({ state: 'slow', since: at(2) });
    expect(replay([...looks, fine(at(5))]).status).toMatchObject({ state: 'up', since: at(5) });
  });

  it('counts time without looks as unobserved, and starts its doubts afresh after it', () => {
    const { status, events } = replay([fine(at(1)), failed(at(2)), failed(at(2) + 10_000), failed(at(60))]);
    expect(events).toContainEqual({ type: 'unobserved', from: at(3) + 10_000, to: at(60) });
    expect(status.state).toBe('doubtful');
    expect(status.failing).toEqual({ began: at(60), count: 1 });
  });

  it('never holds against the target that this machine could not look', () => {
    const rules = { ...PROBE, secondLooks: 0 };
    const broken = (minute: number): Timed => {
      const finding = {
        at: at(minute),
        verdict: 'failed' as const,
        ms: 1,
        cause: 'look.broken' as const,
        detail: {},
      };
      return { input: { type: 'finding', finding }, now: at(minute) };
    };
    const looks = [fine(at(1)), broken(2), broken(3), broken(4), broken(5), fine(at(6))];
    const { events, status } = replay(looks, undefined, rules);
    expect(status.state).toBe('up');
    expect(events.some((e) => e.type === 'outage-began')).toBe(false);
    expect(events).toContainEqual({ type: 'unobserved', from: at(2), to: at(6) });
  });

  it('takes a look that comes a little late as regular', () => {
    const { events } = replay([fine(at(1)), fine(at(2) + 35_000)]);
    expect(events.some((e) => e.type === 'unobserved')).toBe(false);
  });

  it('ends an open outage when it is paused, and waits anew afterwards', () => {
    const rules = { ...PROBE, secondLooks: 0 };
    const pause: Timed = { input: { type: 'pause' }, now: at(5) };
    const resume: Timed = { input: { type: 'resume' }, now: at(600) };
    const { events, status } = replay([failed(at(1)), pause, resume], undefined, rules);
    expect(events).toContainEqual({ type: 'outage-ended', began: at(1), ended: at(5) });
    expect(status.state).toBe('waiting');
    // The pause is not a gap in the looks.
    const after = decide(rules, status, fine(at(601)).input, at(601));
    expect(after.events.some((e) => e.type === 'unobserved')).toBe(false);
  });

  it('opens no outage during maintenance, and shows what it knows after it', () => {
    const open: Timed = { input: { type: 'window', open: true }, now: at(2) };
    const close: Timed = { input: { type: 'window', open: false }, now: at(6) };
    const rules = { ...PROBE, secondLooks: 0 };
    const { events, status } = replay(
      [fine(at(1)), open, failed(at(3)), failed(at(4)), fine(at(5)), close],
      undefined,
      rules,
    );
    expect(events.some((e) => e.type === 'outage-began')).toBe(false);
    expect(status.state).toBe('up');
  });

  it('keeps an outage open below maintenance', () => {
    const rules = { ...PROBE, secondLooks: 0 };
    const open: Timed = { input: { type: 'window', open: true }, now: at(2) };
    const close: Timed = { input: { type: 'window', open: false }, now: at(6) };
    const { status } = replay([failed(at(1)), open, failed(at(3)), close], undefined, rules);
    expect(status.state).toBe('down');
    expect(status.outage?.began).toBe(at(1));
  });

  it('replays in two halves to what it replays to whole', () => {
    fc.assert(
      fc.property(histories(), fc.nat(), (inputs, cut) => {
        const middle = inputs.length === 0 ? 0 : cut % (inputs.length + 1);
        const first = replay(inputs.slice(0, middle));
        // Through JSON, as it goes through the database.
        const second = replay(inputs.slice(middle), JSON.parse(JSON.stringify(first.status)) as Status);
        const whole = replay(inputs);
        expect(second.status).toEqual(whole.status);
        expect([...first.events, ...second.events]).toEqual(whole.events);
      }),
    );
  });

  it('lets states follow one another without gap or overlap, and outages never overlap', () => {
    fc.assert(
      fc.property(histories(), (inputs) => {
        const { events, status } = replay(inputs);
        let since = START;
        let state = 'waiting';
        for (const e of events) {
          if (e.type !== 'state') continue;
          expect(e).toMatchObject({ from: state, since });
          expect(e.at).toBeGreaterThanOrEqual(since);
          since = e.at;
          state = e.to;
        }
        expect(status).toMatchObject({ state, since });
        let lastEnd = -Infinity;
        for (const e of events) {
          if (e.type === 'outage-began') {
            expect(e.began).toBeGreaterThanOrEqual(lastEnd);
            expect(e.noticed).toBeGreaterThanOrEqual(e.began);
          }
          if (e.type === 'outage-ended') {
            expect(e.ended).toBeGreaterThanOrEqual(e.began);
            lastEnd = e.ended;
          }
        }
      }),
    );
  });

  it('does not change the status it was given', () => {
    const before = replay([fine(at(1)), failed(at(2))]).status;
    const copy = structuredClone(before);
    decide(PROBE, before, failed(at(3)).input, at(3));
    expect(before).toEqual(copy);
  });

  it('ignores inputs of the other kind of watch', () => {
    const status = newStatus(START);
    const report = { at: at(1), is: 'done' as const, code: 0, run: null };
    expect(decide(PROBE, status, { type: 'report', report }, at(1))).toEqual({ status, events: [] });
    expect(decide(PROBE, status, { type: 'gap', from: 0, to: at(1) }, at(1)).events).toEqual([]);
  });

  it('replays ninety days at one look a minute in a small part of the time it covers', () => {
    const looks = Array.from({ length: 90 * 1440 }, (_, i) => (i % 997 < 3 ? failed(at(i)) : fine(at(i))));
    const started = process.cpuUsage();
    const { events, status } = replay(looks);
    const replayMs = processorMs(started);
    // Measured against taking the status through JSON as often, in the same run: machines differ, this does not.
    const bareStarted = process.cpuUsage();
    let copy = status;
    for (let i = 0; i < looks.length; i += 1) copy = JSON.parse(JSON.stringify(copy)) as Status;
    expect(replayMs / processorMs(bareStarted)).toBeLessThan(6);
    expect(copy).toEqual(status);
    expect(events.filter((e) => e.type === 'outage-began').length).toBe(Math.ceil(looks.length / 997));
  });
});
