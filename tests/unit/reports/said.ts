import type { RunReport } from '@/core/reports/runs';

export const T0 = Date.parse('2026-11-23T02:30:00Z');

/** A report so many milliseconds after T0, of which nothing is said but its kind. */
export function saidAt(
  id: number,
  at: number,
  kind: RunReport['kind'],
  rest: Partial<RunReport> = {},
): RunReport {
  return {
    id,
    at: T0 + at,
    kind,
    code: null,
    run: null,
    progress: null,
    took: null,
    output: null,
    address: '127.0.0.1',
    agent: null,
    ...rest,
  };
}
