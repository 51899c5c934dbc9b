import { groupTroubles, type TroubleGroup, type WellFacts } from '@/core/causes/group-troubles';
import type { TroubleFacts } from '@/core/causes/machines';
import { allBelow } from '@/core/settings/graph';
import { sharedFacts, targetOf } from '@/probes/diagnosis/trouble-facts';
import type { KeptEvidence } from '@/store/history/evidence';
import type { Outage } from '@/store/history/outages';
import type { WatchWithStatus } from '@/store/watches/watches';

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
  return {
    watchId: watch.id,
    name: watch.name,
    began,
    cause,
    restsOn: below,
    ...sharedFacts(watch, lastFinding?.evidence, kept?.evidence),
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
