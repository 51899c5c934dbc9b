import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Input, ProbeRules, Rules } from '@/core/lifecycle/status';
import { jobModel, type JobHistory, type JobSettings } from './model/checkin-model';
import { probeModel, type Below, type Look, type ProbeHistory, type Rest } from './model/probe-model';
import { replay, type Step } from './model/replay';
import { tries } from '../tries';

const SEEN = ['up', 'slow', 'doubtful', 'overdue', 'down'];
const S = 1000;
const START = 1_800_000;

interface Happening {
  gap: number;
  what: string;
  ms: number;
  run: string;
}

function happenings(whats: fc.Arbitrary<string>, usual: number): fc.Arbitrary<Happening[]> {
  const gap = fc.oneof(
    { weight: 8, arbitrary: fc.constant(usual) },
    { weight: 3, arbitrary: fc.integer({ min: 2, max: usual * 2 }) },
    { weight: 1, arbitrary: fc.integer({ min: 2, max: usual * 12 }) },
  );
  return fc.array(
    fc.record({ gap, what: whats, ms: fc.constantFrom(100, 900, 2000), run: fc.constantFrom('', 'a', 'b') }),
    { maxLength: 60, minLength: 1, size: 'max' },
  );
}

describe('an independent model', () => {
  const rules: ProbeRules = {
    type: 'probe',
    everyMs: 60 * S,
    timeoutMs: 10 * S,
    secondLooks: 2,
    secondLookGapMs: 10 * S,
    slowAfterMs: 800,
    slowLooks: 3,
  };
  const probeWhats = fc.oneof(
    { weight: 10, arbitrary: fc.constant('fine') },
    { weight: 9, arbitrary: fc.constant('failed') },
    { weight: 1, arbitrary: fc.constantFrom('near', 'blind') },
    { weight: 2, arbitrary: fc.constantFrom('paused', 'maintenance', 'end', 'end') },
    { weight: 2, arbitrary: fc.constantFrom('tick', 'below well', 'below doubtful', 'below down') },
  );

  function probeStory(given: Happening[]): { history: ProbeHistory; steps: Step[] } {
    const steps: Step[] = [];
    const looks: Look[] = [];
    const rests: Rest[] = [];
    const below: Below[] = [];
    let at = START;
    let resting: Rest | null = null;
    const rest = (kind: Rest['kind'], open: boolean): Input =>
      kind === 'paused' ? { type: open ? 'pause' : 'resume' } : { type: 'window', open };
    for (const { gap, what, ms, run } of given) {
      at += gap * S;
      if (what === 'paused' || what === 'maintenance') {
        if (resting) continue;
        resting = { kind: what, from: at, to: Infinity };
        rests.push(resting);
        steps.push({ input: rest(what, true), now: at });
      } else if (what === 'end') {
        if (!resting) continue;
        resting.to = at;
        steps.push({ input: rest(resting.kind, false), now: at });
        resting = null;
      } else if (what === 'tick') steps.push({ input: { type: 'tick' }, now: at });
      else if (what.startsWith('below ')) {
        // Some change while a look is under way.
        const during = (looks.at(-1)?.at ?? at) + 50;
        const when = run === 'a' && during > (below.at(-1)?.at ?? 0) ? during : at;
        below.push({ at: when, down: what === 'below down' ? 7 : null, doubtful: what === 'below doubtful' });
      } else if (resting?.kind !== 'paused') {
        const is = what as Look['is'];
        looks.push({ at, ms, is });
        steps.push({
          input: {
            type: 'finding',
            finding:
              is === 'fine'
                ? { at, verdict: 'fine', ms }
                : is === 'near'
                  ? { at, verdict: 'slow', ms, cause: 'tls.expires-soon', detail: {} }
                  : {
                      at,
                      verdict: 'failed',
                      ms,
                      cause: is === 'blind' ? 'look.no-line' : 'port.refused',
                      detail: {},
                    },
          },
          now: at + ms,
        });
      }
    }
    const to = at + 60 * S;
    // Somebody pauses at the end: what is open is settled.
    if (!resting) {
      rests.push({ kind: 'paused', from: to, to: Infinity });
      steps.push({ input: { type: 'pause' }, now: to });
    }
    return { history: { from: START, to, looks, rests, below }, steps };
  }

  it('agrees on every outage, stretch and figure of what is looked at, with windows, the own line, slowness and what it rests on', () => {
    fc.assert(
      fc.property(happenings(probeWhats, 60), (given) => {
        const { history, steps } = probeStory(given);
        const model = probeModel(history, {
          everyMs: rules.everyMs,
          graceMs: 40 * S,
          secondLooks: rules.secondLooks,
          slowAfterMs: rules.slowAfterMs!,
          slowLooks: rules.slowLooks,
        });
        const range = { from: history.from, to: history.to };
        const real = replay(rules, steps, range, (now) => {
          const one = history.below.findLast((b) => b.at <= now);
          return one && { down: one.down, doubtful: one.doubtful, changedAt: one.at };
        });
        expect(real.outages).toEqual(model.outages);
        agree(range, real, model, [...model.edges, ...steps.map((step) => step.now)]);
      }),
      { numRuns: tries(1200) },
    );
  });

  const jobWhats = fc.oneof(
    { weight: 8, arbitrary: fc.constant('done') },
    { weight: 3, arbitrary: fc.constantFrom('begun', 'failed', 'note') },
    { weight: 3, arbitrary: fc.constant('tick') },
    { weight: 3, arbitrary: fc.constantFrom('deaf', 'paused', 'maintenance', 'end', 'end') },
  );

  function jobStory(given: Happening[]): { history: JobHistory; steps: Step[] } {
    const steps: Step[] = [];
    const history: JobHistory = { from: START / S, to: 0, said: [], rests: [], deaf: [] };
    let at = START / S;
    let resting: Rest | null = null;
    for (const { gap, what, run } of given) {
      const before = at;
      at += gap;
      const tick = { input: { type: 'tick' as const }, now: at * S };
      if (what === 'tick') steps.push(tick);
      else if (what === 'deaf') {
        if (resting) continue;
        // Somebody listened until a moment after the last thing, and again from now on.
        history.deaf.push({ from: before + 1, to: at });
        steps.push({ input: { type: 'gap', from: (before + 1) * S, to: at * S }, now: at * S });
      } else if (what === 'paused' || what === 'maintenance') {
        if (resting) continue;
        resting = { kind: what, from: at, to: Infinity };
        history.rests.push(resting);
        steps.push(tick, {
          input: what === 'paused' ? { type: 'pause' } : { type: 'window', open: true },
          now: at * S,
        });
      } else if (what === 'end') {
        if (!resting) continue;
        resting.to = at;
        steps.push({
          input: resting.kind === 'paused' ? { type: 'resume' } : { type: 'window', open: false },
          now: at * S,
        });
        resting = null;
      } else if (resting?.kind !== 'paused') {
        const is = what as 'done' | 'begun' | 'failed' | 'note';
        history.said.push({ at, is, run });
        steps.push({ input: { type: 'report', report: { at: at * S, is, code: null, run } }, now: at * S });
      }
    }
    history.to = at + 2000;
    steps.push({ input: { type: 'tick' }, now: history.to * S });
    return { history, steps };
  }

  it('agrees on every outage, stretch and figure of what is waited for, with windows, pauses and time nobody could hear', () => {
    const settings: fc.Arbitrary<JobSettings> = fc.record({
      every: fc.constantFrom(300, 600, 1200),
      onTheClock: fc.boolean(),
      leeway: fc.constantFrom(0, 1, 60, 400),
      longestRun: fc.constantFrom(null, 100, 500),
    });
    fc.assert(
      fc.property(settings, happenings(jobWhats, 300), (job, given) => {
        const { history, steps } = jobStory(given);
        const model = jobModel(history, job);
        const rules: Rules = {
          type: 'checkin',
          schedule: job.onTheClock
            ? { type: 'cron', expression: `*/${job.every / 60} * * * *`, zone: 'UTC' }
            : { type: 'period', everyMs: job.every * S },
          leewayMs: job.leeway * S,
          longestRunMs: job.longestRun === null ? null : job.longestRun * S,
          zone: 'UTC',
        };
        const range = { from: history.from * S, to: history.to * S };
        const real = replay(rules, steps, range);
        const spans = (all: { began: number; ended: number | null }[], unit: number) =>
          all.map(({ began, ended }) => [began * unit, ended === null ? null : ended * unit]);
        expect(spans(real.outages, 1)).toEqual(spans(model.outages, S));
        const isDown = (at: number) =>
          model.outages.some((o) => o.began * S <= at && at < (o.ended ?? Infinity) * S);
        const seconds = Array.from({ length: history.to - history.from }, (_, i) => (history.from + i) * S);
        agree(range, real, { kindAt: (at) => model.kindAt(Math.floor(at / S)), isDown }, seconds);
      }),
      { numRuns: tries(120) },
    );
  });
});

/** The same kind at every moment between two edges, and the same figures from adding the moments up. */
function agree(
  range: { from: number; to: number },
  real: ReturnType<typeof replay>,
  model: { kindAt: (at: number) => string; isDown: (at: number) => boolean },
  edges: number[],
): void {
  const all = [...edges, ...real.line.flatMap((stretch) => [stretch.from, stretch.to]), range.from, range.to];
  const times = [...new Set(all)].filter((at) => at >= range.from && at <= range.to).sort((a, b) => a - b);
  let observed = 0;
  let down = 0;
  for (const [i, from] of times.slice(0, -1).entries()) {
    const kind = model.kindAt(from);
    const drawn = real.kindAt(from);
    if (kind !== drawn)
      throw new Error(`At ${from} (${(from - range.from) / S} s) expected ${kind}, drawn ${drawn}`);
    if (!SEEN.includes(kind)) continue;
    observed += times[i + 1]! - from;
    if (model.isDown(from)) down += times[i + 1]! - from;
  }
  expect(real.figures).toEqual({
    spanMs: range.to - range.from,
    observedMs: observed,
    downMs: down,
    uptime: observed > 0 ? 1 - down / observed : null,
  });
}
