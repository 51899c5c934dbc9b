import type { State } from '@/core/lifecycle/state';
import type { Outage } from '@/store/history/outages';
import type { WatchWithStatus } from '@/store/watches/watches';

export interface TiedWatch {
  id: number;
  name: string;
  state: State;
}

/** How a watch hangs together with others. */
export interface WatchTies {
  restsOn: TiedWatch[];
  /** Those that rest on it. */
  carries: TiedWatch[];
  /** The one its open outage follows from. */
  follows: TiedWatch | null;
}

export function tiesOf(
  watch: WatchWithStatus,
  others: readonly WatchWithStatus[],
  open: Outage | undefined,
): WatchTies {
  const tied = ({ id, name, status }: WatchWithStatus): TiedWatch => ({ id, name, state: status.state });
  const below = watch.config.restsOn ?? [];
  const follows = others.find((other) => other.id === open?.follows);
  return {
    restsOn: others.filter((other) => below.includes(other.id)).map(tied),
    carries: others.filter((other) => other.config.restsOn?.includes(watch.id)).map(tied),
    follows: follows ? tied(follows) : null,
  };
}
