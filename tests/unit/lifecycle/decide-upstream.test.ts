import { describe, expect, it } from 'vitest';
import { cronInWords } from '@/core/schedule/cron-words';
import { decide } from '@/core/lifecycle/decide';
import { factsOf, happeningsOf } from '@/core/telling/happen';
import type { Finding } from '@/core/causes/finding';
import { knowWithinSentence } from '@/core/lifecycle/foresight';
import { nextPlannedLook, standsForMs } from '@/core/schedule/schedule';
import {
  newStatus,
  NO_UPSTREAM,
  type Input,
  type Status,
  type StatusEvent,
  type Upstream,
} from '@/core/lifecycle/status';
import { PROBE } from '../arbitraries';

const T0 = Date.parse('2026-11-23T09:00:00Z');
const at = (seconds: number) => T0 + seconds * 1000;
const down: Upstream = { down: 7, doubtful: false, changedAt: at(0) };
const doubtful: Upstream = { down: null, doubtful: true, changedAt: at(0) };

const failed = (seconds: number): Input => ({
  type: 'finding',
  finding: {
    at: at(seconds),
    ms: 5,
    verdict: 'failed',
    cause: 'port.timeout',
    detail: { port: 443, limit: '10 s' },
  },
});
const WATCH = factsOf({ id: 1, name: 'Booking site', kind: 'web', section: null, tags: [] });

const fine = (seconds: number): Input => ({
  type: 'finding',
  finding: { at: at(seconds), ms: 5, verdict: 'fine' },
});

/** Runs inputs through `decide`; the last of each triple says how what it rests on stands. */
function live(
  steps: [Input, number, Upstream?][],
  rules = { ...PROBE, secondLooks: 0 } as Parameters<typeof decide>[0],
) {
  let status: Status = newStatus(at(0));
  const events: StatusEvent[] = [];
  const said: string[] = [];
  for (const [input, seconds, upstream = NO_UPSTREAM] of steps) {
    const decision = decide(rules, status, input, at(seconds), upstream);
    status = decision.status;
    events.push(...decision.events);
    const told = happeningsOf(WATCH, decision.events, { paused: false, at: at(seconds) });
    said.push(...told.flatMap((one) => (one.phase === 'joins' ? [] : [one.event.kind])));
  }
  return { status, events, said };
}

describe('a watch that rests on another', () => {
  it('is down and recorded, follows from what is down below, and is not announced', () => {
    const { status, events, said } = live([
      [fine(0), 0],
      [failed(60), 60, down],
    ]);
    expect(status.state).toBe('down');
    expect(events.find((e) => e.type === 'outage-began')).toMatchObject({ withheld: { follows: 7 } });
    expect(said).toEqual([]);
  });

  it('says nothing at its end either, when nobody was told of its beginning', () => {
    const { events, said } = live([
      [fine(0), 0],
      [failed(60), 60, down],
      [fine(120), 120],
    ]);
    expect(events.at(-2)).toMatchObject({ type: 'outage-ended', withheld: true });
    expect(said).toEqual([]);
  });

  it('waits while what it rests on is in doubt, and follows once that is down', () => {
    const { events, said, status } = live([
      [fine(0), 0],
      [failed(60), 60, doubtful],
      [failed(90), 90, down],
    ]);
    expect(events).toContainEqual({ type: 'outage-follows', of: 7 });
    expect(status.outage!.withheld).toEqual({ follows: 7 });
    expect(said).toEqual([]);
  });

  it('is told after all when what it rests on is back and it still fails', () => {
    const back: Upstream = { down: null, doubtful: false, changedAt: at(100) };
    const { events, said, status } = live([
      [fine(0), 0],
      [failed(60), 60, down],
      [failed(110), 110, back],
      [fine(200), 200, back],
    ]);
    expect(events.filter((e) => e.type === 'outage-announced')).toEqual([
      {
        type: 'outage-announced',
        began: at(60),
        noticed: at(110),
        cause: 'port.timeout',
        detail: { port: 443, limit: '10 s' },
      },
    ]);
    expect(said).toEqual(['down', 'recovered']);
    expect(status.outage).toBeNull();
  });

  it('is not told in maintenance, but after it', () => {
    const back: Upstream = { down: null, doubtful: false, changedAt: at(100) };
    const { events } = live([
      [fine(0), 0],
      [failed(60), 60, down],
      [{ type: 'window', open: true }, 90, back],
      [failed(110), 110, back],
      [{ type: 'window', open: false }, 150, back],
      [failed(170), 170, back],
    ]);
    const told = events.filter((event) => event.type === 'outage-announced');
    expect(told).toMatchObject([{ began: at(60), noticed: at(170) }]);
  });

  it('is not told because of a look that began before what it rests on came back', () => {
    const back: Upstream = { down: null, doubtful: false, changedAt: at(100) };
    expect(
      live([
        [fine(0), 0],
        [failed(60), 60, down],
        [failed(95), 101, back],
      ]).said,
    ).toEqual([]);
  });

  it('is told at once when what it rests on is well', () => {
    expect(
      live([
        [fine(0), 0],
        [failed(60), 60],
      ]).said,
    ).toEqual(['down']);
  });

  it('a job that stayed away is told when what it rests on is back', () => {
    const report = { at: at(0), is: 'done' as const, code: null, run: null };
    const rules = {
      type: 'checkin' as const,
      schedule: { type: 'period' as const, everyMs: 3_600_000 },
      leewayMs: 600_000,
      longestRunMs: null,
      zone: 'UTC',
    };
    const late = 90_000;
    const tick: Input = { type: 'tick' };
    const { said } = live(
      [
        [{ type: 'report', report }, 0],
        [tick, late, down],
        [tick, late + 1, down],
        [tick, late + 2],
      ],
      rules,
    );
    expect(said).toEqual(['down']);
  });
});

describe('while this machine cannot reach out', () => {
  const blind = (seconds: number): Input => ({
    type: 'finding',
    finding: { at: at(seconds), ms: 5, verdict: 'failed', cause: 'look.no-line', detail: {} } as Finding,
  });

  it('nothing is concluded, the time stands as not observed, and what was in doubt is looked at afresh', () => {
    const rules = { ...PROBE, secondLooks: 1 };
    const { status, events, said } = live(
      [
        [fine(0), 0],
        [failed(60), 60],
        [blind(70), 70],
        [blind(130), 130],
        [failed(200), 200],
        [fine(210), 210],
      ],
      rules,
    );
    expect(events).toContainEqual({ type: 'unobserved', from: at(70), to: at(200) });
    expect(events.some((e) => e.type === 'outage-began')).toBe(false);
    expect(status.state).toBe('up');
    expect(said).toEqual([]);
  });

  it('an outage from before goes on, and still ends when a look is fine', () => {
    const { said } = live([
      [fine(0), 0],
      [failed(60), 60],
      [blind(120), 120],
      [fine(180), 180],
    ]);
    expect(said).toEqual(['down', 'recovered']);
  });
});

describe('a limit of the probe’s own', () => {
  const soon = (seconds: number, cause: 'tls.expires-soon' | 'tls.expires-urgent'): Input => ({
    type: 'finding',
    finding: { at: at(seconds), ms: 5, verdict: 'slow', cause, detail: { left: '9 d' } },
  });

  it('makes the watch slow at once, is up for all figures, and is told once for each cause', () => {
    const { status, events, said } = live([
      [fine(0), 0],
      [soon(60, 'tls.expires-soon'), 60],
      [soon(120, 'tls.expires-soon'), 120],
      [soon(180, 'tls.expires-urgent'), 180],
    ]);
    expect(status).toMatchObject({ state: 'slow', since: at(60), outage: null, lastFine: true });
    expect(said).toEqual(['warned', 'warned']);
    expect(events.filter((e) => e.type === 'warned').map((e) => e.cause)).toEqual([
      'tls.expires-soon',
      'tls.expires-urgent',
    ]);
  });

  it('is told again after it was well in between', () => {
    const { said } = live([
      [soon(0, 'tls.expires-soon'), 0],
      [fine(60), 60],
      [soon(120, 'tls.expires-soon'), 120],
    ]);
    expect(said).toEqual(['warned', 'warned']);
  });
});

describe('a probe that looks at set times', () => {
  const cron = { type: 'cron' as const, expression: '*/10 8-17 * * 1-5', zone: 'Europe/Lisbon' };
  const rules = { ...PROBE, cron };
  // 2026-11-23 is a Monday; Lisbon keeps UTC in winter.
  const time = (clock: string) => Date.parse(`2026-11-${clock}:00Z`);

  it('is due at its times only, and falls back on its grid where they never come', () => {
    expect(nextPlannedLook(rules, 1, time('23T17:45'))).toBe(time('23T17:50'));
    expect(nextPlannedLook(rules, 1, time('23T17:50'))).toBe(time('24T08:00'));
    expect(nextPlannedLook(rules, 1, time('27T17:50'))).toBe(Date.parse('2026-11-30T08:00:00Z'));
  });

  it('a look stands until the next one, but the last of the day not for the night', () => {
    expect(standsForMs(rules, time('23T12:00'))).toBe(600_000);
    expect(standsForMs(rules, time('23T12:04'))).toBe(360_000);
    expect(standsForMs(rules, time('23T17:50'))).toBe(600_000);
    expect(standsForMs(PROBE, time('23T12:00'))).toBe(PROBE.everyMs);
    const daily = { ...PROBE, cron: { ...cron, expression: '30 6 * * *' } };
    expect(standsForMs(daily, time('23T06:30'))).toBe(86_400_000);
  });

  it('what nobody looked at in between stands as not observed', () => {
    let status = newStatus(time('23T17:00'));
    const unobserved: StatusEvent[] = [];
    for (const clock of ['23T17:40', '23T17:50', '24T08:00', '24T08:10']) {
      const finding: Finding = { at: time(clock), ms: 4, verdict: 'fine' };
      const decision = decide(rules, status, { type: 'finding', finding }, time(clock));
      status = decision.status;
      unobserved.push(...decision.events.filter((e) => e.type === 'unobserved'));
    }
    expect(unobserved).toEqual([{ type: 'unobserved', from: time('23T18:00'), to: time('24T08:00') }]);
    expect(knowWithinSentence(rules)).toMatch(/^You would know within .* of the look that finds it\.$/);
    expect(cronInWords(cron.expression)).toContain('Monday through Friday');
    expect(cronInWords('nonsense')).toBeNull();
  });
});
