import { groupTroubles, type TroubleGroup, type WellFacts } from '@/core/causes/group-troubles';
import type { TroubleFacts } from '@/core/causes/machines';
import { allBelow } from '@/core/settings/graph';
import { sharedFacts } from '@/probes/diagnosis/trouble-facts';
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

/** What is asked of all other watches. */
type Others = {
  well: (hosts: readonly string[], addresses: readonly string[]) => Promise<WellFacts[]>;
  restsOn: () => Promise<ReadonlyMap<number, readonly number[]>>;
};

/** Which of the watches in trouble belong together. */
export async function togetherOf(
  others: Others,
  inTrouble: readonly WatchWithStatus[],
  outages: ReadonlyMap<number, Outage>,
  kept: ReadonlyMap<number, KeptEvidence>,
): Promise<TroubleGroup[]> {
  const down = inTrouble.filter(({ status: { state } }) => state === 'down' || state === 'doubtful');
  if (down.length < 2) return [];
  const edges = await others.restsOn();
  const troubles = down
    .map((watch) => factsOf(watch, allBelow(edges, watch.id), outages.get(watch.id), kept.get(watch.id)))
    .filter((facts) => facts !== null);
  if (troubles.length < 2) return [];
  const hosts = new Set(troubles.flatMap(({ host }) => host ?? []));
  const addresses = new Set(troubles.flatMap(({ address }) => address ?? []));
  return groupTroubles(troubles, await others.well([...hosts], [...addresses]));
}
