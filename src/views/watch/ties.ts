import type { State } from '@/core/lifecycle/state';
import { partsOf } from '@/probes/diagnosis/watch-target';
import type { Db } from '@/store/db/connection';
import { fetchNamed, fetchTied } from '@/store/watches/tied';
import type { WatchWithStatus } from '@/store/watches/watches';

export interface NamedState {
  id: number;
  name: string;
  state: State;
}

/** How a watch hangs together with others. */
export interface WatchTies {
  restsOn: NamedState[];
  /** Those that rest on it. */
  carries: NamedState[];
  /** The one its open outage follows from. */
  follows: NamedState | null;
  /** The names of those it is a part of. */
  wholes: string[];
}

/** What a watch is tied to; `follows` is the watch its open outage follows from. */
export async function fetchTies(
  db: Db,
  watch: WatchWithStatus,
  follows: number | null | undefined,
): Promise<WatchTies> {
  const tied = await fetchTied(db);
  const below = watch.config.restsOn ?? [];
  const named = new Map(
    (await fetchNamed(db, [...below, ...(follows ? [follows] : [])])).map((one) => [one.id, one]),
  );
  const bare = ({ id, name, state }: NamedState): NamedState => ({ id, name, state });
  return {
    restsOn: below.flatMap((id) => named.get(id) ?? []),
    carries: tied.filter(({ config }) => config.restsOn?.includes(watch.id)).map(bare),
    follows: (follows && named.get(follows)) || null,
    wholes: tied.filter((other) => partsOf(other).includes(watch.id)).map(({ name }) => name),
  };
}
