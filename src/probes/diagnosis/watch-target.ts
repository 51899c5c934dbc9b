import { formatDuration } from '@/core/time/duration';
import { expressionLines } from '@/core/schedule/schedule';
import type { State } from '@/core/lifecycle/state';
import type { WatchConfig } from '@/core/settings/watch-config';
import type { Filterable } from '@/core/settings/watch-filter';
import { probeKind } from '@/probes/kinds/registry';

interface Targeted {
  kind: string;
  config: WatchConfig;
}

/** What is looked at, or when a job is expected; for the desk only. */
export function targetText({ kind, config }: Targeted): string {
  if (config.type === 'checkin') {
    const { schedule } = config;
    return schedule.type === 'period'
      ? `every ${formatDuration(schedule.every * 1000)}`
      : `${expressionLines(schedule.expression).join('; ')} in ${schedule.zone}`;
  }
  return probeKind(kind)?.targetOf(config.settings) ?? '';
}

/** A watch as filters look at it. */
export function filterable(
  watch: Targeted & Pick<Filterable, 'name' | 'section' | 'tags'> & { status: { state: State } },
): Filterable {
  const { name, kind, section, tags, status } = watch;
  return { name, kind, section, tags, state: status.state, target: targetText(watch) };
}

/** The watches a watch is put together from; none for all but combined ones. */
export function partsOf({ kind, config }: { kind: string; config: WatchConfig }): number[] {
  return config.type === 'probe' ? (probeKind(kind)?.partsOf?.(config.settings) ?? []) : [];
}
