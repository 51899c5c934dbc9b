import { allBelow, type Edges } from '@/core/settings/graph';
import type { Status, Upstream } from '@/core/lifecycle/status';
import { partsOf } from '@/probes/diagnosis/watch-target';
import type { Watch } from '@/store/watches/watches';

function addTo(map: Map<number, Set<number>>, key: number, value: number): void {
  map.set(key, (map.get(key) ?? new Set()).add(value));
}

/** How watches hang together: which rests on which, and which is a part of which. */
export class Dependencies {
  private readonly below = new Map<number, number[]>();
  private readonly parts = new Map<number, number[]>();
  private readonly resting = new Map<number, Set<number>>();
  private readonly wholes = new Map<number, Set<number>>();

  set(watch: Pick<Watch, 'id' | 'kind' | 'config'>): void {
    this.remove(watch.id);
    const below = watch.config.restsOn ?? [];
    const parts = partsOf(watch);
    if (below.length > 0) this.below.set(watch.id, below);
    if (parts.length > 0) this.parts.set(watch.id, parts);
    for (const id of below) addTo(this.resting, id, watch.id);
    for (const id of parts) addTo(this.wholes, id, watch.id);
  }

  remove(id: number): void {
    for (const other of this.below.get(id) ?? []) this.resting.get(other)?.delete(id);
    for (const other of this.parts.get(id) ?? []) this.wholes.get(other)?.delete(id);
    this.below.delete(id);
    this.parts.delete(id);
  }

  /** The watches a watch rests on, directly and through others, the nearest first. */
  belowOf(id: number): number[] {
    return this.below.has(id) ? allBelow(this.below as Edges, id) : [];
  }

  /** The watches that rest on it directly. */
  restingOn(id: number): number[] {
    return [...(this.resting.get(id) ?? [])];
  }

  /** The combined watches it is a part of. */
  wholesOf(id: number): number[] {
    return [...(this.wholes.get(id) ?? [])];
  }

  /** How what a watch rests on stands. Of several that are down, the nearest counts. */
  upstreamOf(id: number, statusOf: (id: number) => Status | undefined): Upstream {
    const upstream: Upstream = { down: null, doubtful: false, changedAt: 0 };
    for (const other of this.belowOf(id)) {
      const status = statusOf(other);
      if (!status) continue;
      if (status.outage && status.state !== 'maintenance') upstream.down ??= other;
      else if (status.state === 'doubtful' || status.state === 'overdue') upstream.doubtful = true;
      upstream.changedAt = Math.max(upstream.changedAt, status.since);
    }
    return upstream;
  }
}
