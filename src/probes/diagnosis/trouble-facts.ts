import type { SeenThere, SharedFacts } from '@/core/causes/machines';
import type { WatchConfig } from '@/core/settings/watch-config';
import { probeKind } from '@/probes/kinds/registry';

/** Kinds of what other services stand on. */
const CARRIERS: ReadonlySet<string> = new Set(['database', 'redis', 'broker']);

interface Target {
  host: string | null;
  port: number | null;
  resolver: string | null;
}

interface Looked {
  kind: string;
  config: WatchConfig;
}

/** Where a watch looks; nowhere for one that waits to hear. */
export function targetOf({ kind, config }: Looked): Target {
  if (config.type !== 'probe') return { host: null, port: null, resolver: null };
  const { settings } = config;
  if (kind === 'name') {
    const { name, resolver } = settings as { name?: string; resolver?: string };
    return { host: name || null, port: null, resolver: resolver || null };
  }
  const target = probeKind(kind)?.walkTo(settings);
  return { host: target?.host || null, port: target?.port ?? null, resolver: null };
}

/** What a trouble may share with others: by its target, what it last saw, and the ladder that was walked first. */
export function sharedFacts(
  watch: Looked,
  last: SeenThere | undefined,
  first: SeenThere | undefined,
): SharedFacts {
  const host = first?.walk?.find((rung) => rung.rung === 'host');
  return {
    ...targetOf(watch),
    carries: CARRIERS.has(watch.kind),
    address: last?.address ?? first?.address ?? null,
    certificate: last?.certificate?.fingerprint ?? null,
    hostAnswers: host?.result === 'fine' ? true : host?.result === 'failed' ? false : null,
  };
}
