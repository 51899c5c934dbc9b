import type { MessageEvent } from './message';
import type { Report, StatusEvent } from '@/core/lifecycle/status';

/** What of a decision's events is to be told, or null. A pause ends an outage without a word. */
export function toldOf(events: readonly StatusEvent[], paused: boolean): MessageEvent | null {
  let event: MessageEvent | null = null;
  for (const e of events) {
    if ((e.type === 'outage-began' && !e.withheld) || e.type === 'outage-announced') {
      event = { kind: 'down', began: e.began, noticed: e.noticed, cause: e.cause, detail: e.detail };
    } else if (e.type === 'outage-ended' && !e.withheld && !paused) {
      event = { kind: 'recovered', began: e.began, ended: e.ended };
    } else if (e.type === 'warned' && event === null) {
      event = { kind: 'warned', at: e.at, cause: e.cause, detail: e.detail };
    }
  }
  return event;
}

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
