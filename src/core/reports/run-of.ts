import type { Report, StatusEvent } from '@/core/lifecycle/status';

/** The run a report ended: when, whether well, and how long it took where that is known. */
export function runOf(
  report: Report,
  events: readonly StatusEvent[],
): { at: number; fine: boolean; ms: number | null } | null {
  if (report.is !== 'done' && report.is !== 'failed') return null;
  const ended = events.find((e) => e.type === 'run-ended');
  return {
    at: report.at,
    fine: report.is === 'done' && (report.code ?? 0) === 0,
    ms: ended ? ended.ms : null,
  };
}
