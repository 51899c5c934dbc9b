import { needsHand } from '@/core/lifecycle/wants-hand';
import { SEVERITY, type State } from '@/core/lifecycle/state';
import { asKnown } from '@/core/settings/known-state';
import { compareWatches } from '@/core/settings/watch-order';
import { passes, type WatchFilter } from '@/core/settings/watch-filter';
import type { WellFacts } from '@/core/causes/group-troubles';
import { targetOf } from '@/probes/diagnosis/trouble-facts';
import { filterable } from '@/probes/diagnosis/watch-target';
import type { Span } from '@/core/history/spans';
import type { Db } from '@/store/db/connection';
import type { ListPage } from '@/store/db/list-page';
import { fetchStretches } from '@/store/history/stretches';
import {
  areDigested,
  countStates,
  fetchKindsThereAre,
  fetchMatching,
  fetchWanting,
  fetchWell,
  type ListOrder,
  type Wanting,
} from '@/store/watches/digests';
import { fetchTied } from '@/store/watches/tied';
import { fetchWatches, type WatchWithStatus } from '@/store/watches/watches';
import { fetchKnownWatches } from '@/views/watches-once';

/** What is asked of all watches at once. */
export interface AllWatches {
  states: ReadonlyMap<State, number>;
  /** Of which kinds there are any, and whether any is in no section. */
  kinds: ReadonlySet<string>;
  loose: boolean;
  /** Those that want a hand. */
  wanting: readonly Wanting[];
  /** The ids of those a filter lets through: in the order of sections, or in another. */
  matching: (filter: WatchFilter, order?: ListOrder) => Promise<readonly number[]>;
  /** Some of them whole, in the order of their ids here. */
  read: (ids: readonly number[]) => Promise<WatchWithStatus[]>;
  /** Those that are well, as far as they look at these hosts or were reached at these addresses. */
  well: (hosts: readonly string[], addresses: readonly string[]) => Promise<WellFacts[]>;
  /** What each rests on, of those that rest on anything. */
  restsOn: () => Promise<ReadonlyMap<number, readonly number[]>>;
}

/** Some watches as they are known at `now`, in the order of their ids here. */
async function fetchKnown(db: Db, ids: readonly number[], now: number): Promise<WatchWithStatus[]> {
  const found = new Map((await fetchWatches(db, ids)).map((watch) => [watch.id, asKnown(watch, now)]));
  return ids.flatMap((id) => found.get(id) ?? []);
}

async function fetchRests(db: Db): Promise<Map<number, readonly number[]>> {
  return new Map((await fetchTied(db)).map(({ id, config }) => [id, config.restsOn ?? []]));
}

/** From what the engine keeps of each watch: only those that are shown are read. */
export async function allFromDigests(db: Db, now: number): Promise<AllWatches> {
  return {
    states: await countStates(db),
    ...(await fetchKindsThereAre(db)),
    wanting: await fetchWanting(db, now),
    matching: (filter, order) => fetchMatching(db, filter, order),
    read: (ids) => fetchKnown(db, ids, now),
    well: (hosts, addresses) => fetchWell(db, hosts, addresses),
    restsOn: () => fetchRests(db),
  };
}

/** How bad a watch was: its time in trouble, each state with its weight. */
async function badnessOf(
  db: Db,
  watches: readonly WatchWithStatus[],
  { from, to }: Span,
): Promise<Map<number, number>> {
  const ids = watches.map(({ id }) => id);
  const stretches = await fetchStretches(db, ids, from, to);
  return new Map(
    [...stretches].map(([id, some]) => [
      id,
      some.reduce((sum, s) => sum + (SEVERITY[s.kind] >= 3 ? (s.to - s.from) * SEVERITY[s.kind] : 0), 0),
    ]),
  );
}

/** The same from the watches themselves, where the engine is away or has not caught up. */
export async function allFromWatches(db: Db, now: number): Promise<AllWatches> {
  const watches = await fetchKnownWatches(db, now);
  const byId = new Map(watches.map((watch) => [watch.id, watch]));
  const states = new Map<State, number>();
  for (const { status } of watches) states.set(status.state, (states.get(status.state) ?? 0) + 1);
  return {
    states,
    kinds: new Set(watches.map(({ kind }) => kind)),
    loose: watches.some(({ section }) => section === null),
    wanting: watches
      .filter((watch) => needsHand(watch, now))
      .map(({ id, status: { state, since } }) => ({ id, state, since })),
    matching: async (filter, { sort, worstIn } = {}) => {
      const shown = watches.filter((watch) => passes(filter, filterable(watch)));
      const told = ({ id, name, kind, status }: WatchWithStatus) => ({ id, name, kind, state: status.state });
      if (sort) shown.sort((a, b) => compareWatches(sort, told(a), told(b)));
      if (worstIn) {
        const badness = await badnessOf(db, shown, worstIn);
        shown.sort(
          (a, b) =>
            SEVERITY[b.status.state] - SEVERITY[a.status.state] || badness.get(b.id)! - badness.get(a.id)!,
        );
      }
      return shown.map(({ id }) => id);
    },
    read: (ids) => Promise.resolve(ids.flatMap((id) => byId.get(id) ?? [])),
    well: (hosts, addresses) =>
      Promise.resolve(
        watches
          .filter(({ status: { state } }) => state === 'up' || state === 'slow')
          .map((watch) => ({
            host: targetOf(watch).host,
            address: watch.lastFinding?.evidence?.address ?? null,
          }))
          .filter(
            ({ host, address }) =>
              (host !== null && hosts.includes(host)) || (address !== null && addresses.includes(address)),
          ),
      ),
    restsOn: () => fetchRests(db),
  };
}

/** The ids behind those that were shown: behind the last of them, or its place where it is gone. */
export function pageBehind(inOrder: readonly number[], { after, limit, ascending }: ListPage): number[] {
  const ids = ascending ? [...inOrder] : inOrder.toReversed();
  const place = after ? ids.indexOf(after[1]) : -1;
  const from = !after ? 0 : place >= 0 ? place + 1 : after[0];
  return ids.slice(from, from + limit);
}

/** What is asked of all watches, with as little read as there can be. */
export async function fetchAll(db: Db, now: number, engineAnswers: boolean): Promise<AllWatches> {
  return engineAnswers && (await areDigested(db)) ? allFromDigests(db, now) : allFromWatches(db, now);
}
