import { group } from 'd3-array';
import { DAY_MS } from '@/core/time/units';
import type { Stretch } from '@/core/history/availability';
import { coarseLine } from '@/core/history/calm-line';
import { graceOf } from '@/core/lifecycle/decide-probe';
import { lineInWords } from '@/core/history/line-text';
import { WatchHistory, type PastOutage } from '@/core/history/past';
import type { Span } from '@/core/history/spans';
import { rulesOf } from '@/core/settings/watch-config';
import type { Db } from '@/store/db/connection';
import { fetchOutageSpans } from '@/store/history/outages';
import { fetchStretches } from '@/store/history/stretches';
import type { WatchWithStatus } from '@/store/watches/watches';
import { keptPasts, pastOutages } from './kept-pasts';

/** The history of some watches up to now, from which every line and figure is worked out. */
export type History = ReadonlyMap<number, WatchHistory>;

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
  range: Span,
  now: number,
): Promise<History> {
  const ids = watches.map((watch) => watch.id);
  const pasts = await keptPasts.fetch(db, ids, range, now);
  // Of a restless watch only what came since is read.
  const groups = [{ ids: ids.filter((id) => !pasts.has(id)), from: range.from }];
  for (const [id, { to }] of pasts) groups.push({ ids: [id], from: Math.max(range.from, to) });
  const recorded = new Map<number, { stretches: Stretch[]; outages: PastOutage[] }>();
  for (const { ids: some, from } of groups) {
    const stretches = await fetchStretches(db, some, from, Math.min(range.to, now));
    const outages = group(await fetchOutageSpans(db, some, from, range.to), ({ watchId }) => watchId);
    for (const id of some) {
      recorded.set(id, { stretches: stretches.get(id)!, outages: pastOutages(outages.get(id) ?? [], now) });
    }
  }
  return new Map(
    watches.map((watch) => {
      const own = recorded.get(watch.id)!;
      addUncoveredTail(watch, own.stretches, now);
      return [watch.id, new WatchHistory(range, own, pasts.get(watch.id))];
    }),
  );
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

/** A line as it is drawn, and in words as it is. */
export interface DrawnLine {
  line: Stretch[];
  words: string;
}

export function drawnLine(line: readonly Stretch[], range: Span): DrawnLine {
  return { line: coarseLine(line, range), words: lineInWords(line) };
}

export function lastDays(now: number, days: number): Span {
  return { from: now - days * DAY_MS, to: now };
}
