import { SECOND_MS } from '@/core/time/units';

/** So many runs at least say how long a job takes: one alone may have waited for something. */
const LEAST_NOW = 3;
const LEAST_BEFORE = 5;
/** So much longer than before, and by so much at least, is worth a word. */
const FACTOR = 1.5;
const LEAST_MS = 10 * SECOND_MS;

export interface Slower {
  ms: number;
  beforeMs: number;
}

/** The middle of some numbers; of an even number of them the lower one. */
function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.floor((sorted.length - 1) / 2)]!;
}

/** How long a job takes now against before, by its middle run; null where that is no longer, or too few runs say so. */
export function slowerOf(now: readonly number[], before: readonly number[]): Slower | null {
  if (now.length < LEAST_NOW || before.length < LEAST_BEFORE) return null;
  const [ms, beforeMs] = [median(now), median(before)];
  return ms >= beforeMs * FACTOR && ms - beforeMs >= LEAST_MS ? { ms, beforeMs } : null;
}
