import { DAY_MS } from '@/core/time/units';
import { availabilityOf, type Availability, type Stretch } from '@/core/history/availability';
import { calmLine, coarseLine } from '@/core/history/calm-line';
import { graceOf } from '@/core/lifecycle/decide-probe';
import { lineInWords } from '@/core/history/line-text';
import type { Span } from '@/core/history/spans';
import { rulesOf } from '@/core/settings/watch-config';
import type { Db } from '@/store/db/connection';
import { fetchOutageSpans, type OutageSpan } from '@/store/history/outages';
import { fetchStretches } from '@/store/history/stretches';
import type { WatchWithStatus } from '@/store/watches/watches';

/** The history of some watches up to now, from which every line and figure is worked out. */
export interface History {
  now: number;
  stretches: Map<number, Stretch[]>;
  outages: OutageSpan[];
  /** The same outages by watch, as spans of time. */
  spans: Map<number, Span[]>;
  /** Those of them that count in figures. */
  counted: Map<number, Span[]>;
  /** Those of them that a person has left out of figures, with the reason. */
  leftOut: Map<number, LeftOut[]>;
}

export interface LeftOut extends Span {
  reason: string;
}

/** Reads the history of the last `days` days. */
export function fetchHistory(
  db: Db,
  watches: readonly WatchWithStatus[],
  days: number,
  now: number,
): Promise<History> {
  return fetchHistoryIn(db, watches, lastDays(now, days), now);
}

/** Reads the history of a span of time, and nothing beyond it. */
export async function fetchHistoryIn(
  db: Db,
  watches: readonly WatchWithStatus[],
  { from, to }: Span,
  now: number,
): Promise<History> {
  const ids = watches.map((watch) => watch.id);
  const stretches = await fetchStretches(db, ids, from, Math.min(to, now));
  for (const watch of watches) addUncoveredTail(watch, stretches.get(watch.id)!, now);
  const outages = await fetchOutageSpans(db, ids, from, to);
  const spans = new Map<number, Span[]>(ids.map((id) => [id, []]));
  const counted = new Map<number, Span[]>(ids.map((id) => [id, []]));
  const leftOut = new Map<number, LeftOut[]>(ids.map((id) => [id, []]));
  // The oldest first, as spans are gone through.
  for (const { watchId, began, ended, leftOut: reason } of outages.toReversed()) {
    const span = { from: began, to: ended ?? now };
    spans.get(watchId)?.push(span);
    if (reason === null) counted.get(watchId)?.push(span);
    else leftOut.get(watchId)?.unshift({ ...span, reason });
  }
  return { now, stretches, outages, spans, counted, leftOut };
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

export function lineOf(history: History, watchId: number, range: Span): Stretch[] {
  return calmLine(range, history.stretches.get(watchId) ?? [], history.spans.get(watchId) ?? []);
}

/** A line as it is drawn, and in words as it is. */
export interface DrawnLine {
  line: Stretch[];
  words: string;
}

export function drawnLine(line: readonly Stretch[], range: Span): DrawnLine {
  return { line: coarseLine(line, range), words: lineInWords(line) };
}

export function availabilityFor(history: History, watchId: number, range: Span): Availability {
  return availabilityOf(
    range,
    history.stretches.get(watchId) ?? [],
    history.spans.get(watchId) ?? [],
    history.leftOut.get(watchId) ?? [],
  );
}

/** The outages of a watch that count in figures, as spans of time. */
export function countedSpans({ counted }: History, watchId: number): readonly Span[] {
  return counted.get(watchId) ?? [];
}

export function lastDays(now: number, days: number): Span {
  return { from: now - days * DAY_MS, to: now };
}
