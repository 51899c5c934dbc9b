import { availabilityOf, type Availability, type Stretch } from '../core/availability';
import { calmLine } from '../core/calm-line';
import { graceOf } from '../core/decide-probe';
import type { Span } from '../core/spans';
import { rulesOf } from '../core/watch-config';
import type { Db } from '../store/connection';
import { fetchOutages, type Outage } from '../store/outages';
import { fetchStretches } from '../store/stretches';
import type { WatchWithStatus } from '../store/watches';

const DAY_MS = 86_400_000;

/** The history of some watches up to now, from which every line and figure is worked out. */
export interface History {
  now: number;
  stretches: Map<number, Stretch[]>;
  outages: Outage[];
}

/** Reads the history of the last `days` days. */
export async function fetchHistory(
  db: Db,
  watches: readonly WatchWithStatus[],
  days: number,
  now: number,
): Promise<History> {
  const ids = watches.map((watch) => watch.id);
  const since = now - days * DAY_MS;
  const stretches = await fetchStretches(db, ids, since, now);
  for (const watch of watches) addUncoveredTail(watch, stretches.get(watch.id)!, now);
  return { now, stretches, outages: await fetchOutages(db, { watchIds: ids, since }) };
}

/** While a look is far overdue, as when the engine is away, the time since counts for nothing yet. */
function addUncoveredTail(watch: WatchWithStatus, stretches: Stretch[], now: number): void {
  const { status } = watch;
  const rules = rulesOf(watch.config, 'UTC');
  if (rules.type !== 'probe' || status.coveredUntil === null || status.state === 'paused') return;
  if (now > status.coveredUntil + graceOf(rules)) {
    stretches.push({ from: status.coveredUntil, to: now, kind: 'unobserved' });
  }
}

function outageSpans(history: History, watchId: number): Span[] {
  return history.outages
    .filter((outage) => outage.watchId === watchId)
    .map((outage) => ({ from: outage.began, to: outage.ended ?? history.now }));
}

export function lineOf(history: History, watchId: number, range: Span): Stretch[] {
  return calmLine(range, history.stretches.get(watchId) ?? [], outageSpans(history, watchId));
}

export function availabilityFor(history: History, watchId: number, range: Span): Availability {
  return availabilityOf(range, history.stretches.get(watchId) ?? [], outageSpans(history, watchId));
}

export function lastDays(now: number, days: number): Span {
  return { from: now - days * DAY_MS, to: now };
}
