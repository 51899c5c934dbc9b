import fc from 'fast-check';
import type { Stretch } from '@/core/history/availability';
import type { Input, ProbeRules } from '@/core/lifecycle/status';
import { STRETCH_KINDS } from '@/core/lifecycle/state';

export const PROBE: ProbeRules = {
  type: 'probe',
  everyMs: 60_000,
  timeoutMs: 10_000,
  secondLooks: 2,
  secondLookGapMs: 10_000,
  slowAfterMs: 800,
  slowLooks: 3,
};

export interface Timed {
  input: Input;
  now: number;
}

export function fine(at: number, ms = 100): Timed {
  return { input: { type: 'finding', finding: { at, verdict: 'fine', ms } }, now: at + ms };
}

export function failed(at: number, cause: 'port.refused' | 'reply.status' = 'port.refused'): Timed {
  const finding = { at, verdict: 'failed' as const, ms: 5, cause, detail: { port: 80, status: 503 } };
  return { input: { type: 'finding', finding }, now: at + 5 };
}

/** A history of looks, pauses and windows in the order of time. */
export function histories(): fc.Arbitrary<Timed[]> {
  const step = fc.record({
    gap: fc.oneof(
      { weight: 8, arbitrary: fc.constant(60_000) },
      { weight: 1, arbitrary: fc.integer({ min: 1, max: 900_000 }) },
    ),
    what: fc.oneof(
      { weight: 6, arbitrary: fc.constant('fine' as const) },
      { weight: 4, arbitrary: fc.constant('failed' as const) },
      { weight: 1, arbitrary: fc.constantFrom('slow' as const, 'pause' as const, 'resume' as const) },
      { weight: 1, arbitrary: fc.constantFrom('open' as const, 'close' as const) },
    ),
  });
  return fc.array(step, { maxLength: 120 }).map((steps) => {
    let at = 1_000_000;
    return steps.map(({ gap, what }) => {
      at += gap;
      if (what === 'fine') return fine(at);
      if (what === 'slow') return fine(at, 900);
      if (what === 'failed') return failed(at);
      if (what === 'open' || what === 'close') {
        return { input: { type: 'window' as const, open: what === 'open' }, now: at };
      }
      return { input: { type: what }, now: at };
    });
  });
}

/** Stretches that may overlap, inside [0, 1000]. */
export function stretchLists(): fc.Arbitrary<Stretch[]> {
  const one = fc
    .tuple(
      fc.integer({ min: 0, max: 1000 }),
      fc.integer({ min: 0, max: 300 }),
      fc.constantFrom(...STRETCH_KINDS),
    )
    .map(([from, length, kind]) => ({ from, to: from + length, kind }));
  return fc.array(one, { maxLength: 20 });
}
