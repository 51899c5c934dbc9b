import { parseStatusRanges } from './address';
import type { Run } from './run';

/** An answer as JSON; what is none fails the look with the reason. */
export function parseJson(run: Run, text: string): unknown {
  try {
    return JSON.parse(text) as unknown;
  } catch (error) {
    return run.fail('json.unreadable', { reason: (error as Error).message.slice(0, 120) });
  }
}

/** Fails the look when a status is not among those accepted, such as "200-299, 401". */
export function expectStatus(run: Run, accepted: string, status: number): void {
  const ranges = parseStatusRanges(accepted) ?? [[200, 299]];
  if (!ranges.some(([from, to]) => status >= from && status <= to)) run.fail('reply.status', { status });
}
