import { isOutOfDate } from '@/core/lifecycle/decide-probe';
import type { Status } from '@/core/lifecycle/status';
import { rulesOf, type WatchConfig } from './watch-config';

/**
 * A watch as it is known at `now`: "up" on the word of a finding that is too old is no news any more. The engine says so
 * by itself; this is for whoever reads while it is away.
 */
export function asKnown<W extends { config: WatchConfig; status: Status }>(watch: W, now: number): W {
  const { status } = watch;
  const rules = rulesOf(watch.config, 'UTC');
  if (rules.type !== 'probe' || !isOutOfDate(status, rules, now)) return watch;
  const since = Math.max(status.since, status.coveredUntil!);
  return { ...watch, status: { ...status, state: 'waiting', since } };
}
