import { groupTroubles, type TroubleGroup, type WellFacts } from '@/core/causes/group-troubles';
import type { TroubleFacts } from '@/core/causes/machines';
import { allBelow } from '@/core/settings/graph';
import { probeKind } from '@/probes/kinds/registry';
import type { KeptEvidence } from '@/store/history/evidence';
import type { Outage } from '@/store/history/outages';
import type { WatchWithStatus } from '@/store/watches/watches';

/** Kinds of what other services stand on. */
const CARRIERS: ReadonlySet<string> = new Set(['database', 'redis', 'broker']);

interface Target {
  host: string | null;
  port: number | null;
  resolver: string | null;
}

function targetOf(watch: WatchWithStatus): Target {
  if (watch.config.type !== 'probe') return { host: null, port: null, resolver: null };
  const { settings } = watch.config;
  if (watch.kind === 'name') {
    const { name, resolver } = settings as { name?: string; resolver?: string };
    return { host: name || null, port: null, resolver: resolver || null };
  }
  const target = probeKind(watch.kind)?.walkTo(settings);
  return { host: target?.host || null, port: target?.port ?? null, resolver: null };
}

function factsOf(
  watch: WatchWithStatus,
  below: number[],
  outage: Outage | undefined,
  kept: KeptEvidence | undefined,
): TroubleFacts | null {
  const { status, lastFinding } = watch;
  const cause = outage?.cause ?? lastFinding?.cause ?? kept?.cause;
  const began = outage?.began ?? status.failing?.began ?? status.since;
  if (!cause) return null;
  const evidence = lastFinding?.evidence;
  const host = kept?.evidence.walk?.find((rung) => rung.rung === 'host');
  return {
    watchId: watch.id,
    name: watch.name,
    began,
    cause,
    ...targetOf(watch),
    carries: CARRIERS.has(watch.kind),
    address: evidence?.address ?? kept?.evidence.address ?? null,
    certificate: evidence?.certificate?.fingerprint ?? null,
    restsOn: below,
    hostAnswers: host?.result === 'fine' ? true : host?.result === 'failed' ? false : null,
  };
}

/** Which of the watches in trouble belong together. */
export function togetherOf(
  watches: readonly WatchWithStatus[],
  inTrouble: readonly WatchWithStatus[],
  outages: ReadonlyMap<number, Outage>,
  kept: ReadonlyMap<number, KeptEvidence>,
): TroubleGroup[] {
  const edges = new Map(watches.map((watch) => [watch.id, watch.config.restsOn ?? []]));
  const troubles = inTrouble
    .filter((watch) => watch.status.state === 'down' || watch.status.state === 'doubtful')
    .map((watch) => factsOf(watch, allBelow(edges, watch.id), outages.get(watch.id), kept.get(watch.id)))
    .filter((facts) => facts !== null);
  if (troubles.length < 2) return [];
  const well: WellFacts[] = watches
    .filter((watch) => watch.status.state === 'up' || watch.status.state === 'slow')
    .map((watch) => ({ host: targetOf(watch).host, address: watch.lastFinding?.evidence?.address ?? null }));
  return groupTroubles(troubles, well);
}
