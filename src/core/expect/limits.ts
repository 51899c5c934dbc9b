import type { CauseCode, CauseDetail } from '@/core/causes/causes';

/** Limits on either side of a reading; null for none. */
export interface Limits {
  failLow: number | null;
  warnLow: number | null;
  warnHigh: number | null;
  failHigh: number | null;
}

export interface LimitVerdict {
  verdict: 'slow' | 'failed';
  cause: CauseCode;
  detail: CauseDetail;
}

/** A number with its unit, short: "21.5 °C". */
export function readingText(value: number, unit: string): string {
  const digits = Math.abs(value) >= 100 || Number.isInteger(value) ? 0 : Math.abs(value) >= 1 ? 1 : 3;
  const text = Number.isInteger(value)
    ? String(value)
    : value
        .toFixed(digits)
        .replace(/(\.\d*?)0+$/, '$1')
        .replace(/\.$/, '');
  return unit === '' ? text : unit === '%' ? `${text} %` : `${text} ${unit}`;
}

/** What a reading comes to against its limits: null is fine. A limit itself is still inside. */
export function judgeReading(what: string, value: number, unit: string, limits: Limits): LimitVerdict | null {
  const detail = (limit: number): CauseDetail => ({
    what,
    value: readingText(value, unit),
    limit: readingText(limit, unit),
  });
  const { failLow, failHigh, warnLow, warnHigh } = limits;
  if (failLow !== null && value < failLow) {
    return { verdict: 'failed', cause: 'value.low', detail: detail(failLow) };
  }
  if (failHigh !== null && value > failHigh) {
    return { verdict: 'failed', cause: 'value.high', detail: detail(failHigh) };
  }
  if (warnLow !== null && value < warnLow) {
    return { verdict: 'slow', cause: 'value.low-soon', detail: detail(warnLow) };
  }
  if (warnHigh !== null && value > warnHigh) {
    return { verdict: 'slow', cause: 'value.high-soon', detail: detail(warnHigh) };
  }
  return null;
}

/** What is wrong with the order of limits, in words, or null. */
export function limitsProblem({ failLow, warnLow, warnHigh, failHigh }: Limits): string | null {
  const given = [failLow, warnLow, warnHigh, failHigh].filter((limit) => limit !== null);
  const rising = given.every((limit, i) => i === 0 || limit >= given[i - 1]!);
  return rising
    ? null
    : `Expected limits that rise: fails under, warns under, warns over, fails over; got ${given.join(', ')}.`;
}
