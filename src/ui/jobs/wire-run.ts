import type { Run } from '@/core/reports/runs';

/** A run as the API tells it. */
export interface WireRun extends Omit<Run, 'due' | 'begun' | 'ended' | 'ms' | 'result' | 'address'> {
  dueAt: string | null;
  beganAt: string | null;
  endedAt: string | null;
  tookMs: number | null;
  result: 'done' | 'failed' | 'running' | 'never-done';
  client: string;
}

const momentOf = (text: string | null) => (text === null ? null : Date.parse(text));

export function runOf({ dueAt, beganAt, endedAt, tookMs, result, client, ...rest }: WireRun): Run {
  return {
    ...rest,
    due: momentOf(dueAt),
    begun: momentOf(beganAt),
    ended: momentOf(endedAt),
    ms: tookMs,
    result: result === 'never-done' ? 'never done' : result,
    address: client,
  };
}
