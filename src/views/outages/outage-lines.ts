import { troubleSentence } from '@/core/causes/ladder-text';
import type { Db } from '@/store/db/connection';
import type { ListPage } from '@/store/db/list-page';
import { fetchOutages, fetchTold, type OutageFilter } from '@/store/history/outages';
import { fetchTakers } from '@/store/messages/telling';
import { fetchIncidentsOfOutages } from '@/store/pages/incidents';
import { fetchWatchNames } from '@/store/watches/watch-facts';

/** An outage as the desk shows it in a row. */
export interface OutageLine {
  id: number;
  watchId: number;
  watch: string;
  began: number;
  noticed: number;
  /** Null while it lasts. */
  ended: number | null;
  sentence: string;
  /** Names of the channels that were told. */
  told: string[];
  /** Who has it; null where nobody has, or it is over. */
  takenBy: string | null;
  /** What it followed from; its name is empty where that watch is gone. */
  follows: { id: number; name: string } | null;
  /** What the public was told of it. */
  incident: { id: number; title: string } | null;
}

/** Outages as the desk shows them, the newest first. */
export async function fetchOutageLines(db: Db, filter: OutageFilter, page: ListPage): Promise<OutageLine[]> {
  const outages = await fetchOutages(db, filter, page);
  const ids = outages.map(({ id }) => id);
  const told = await fetchTold(db, ids);
  const incidents = await fetchIncidentsOfOutages(db, ids);
  const watchIds = outages.flatMap(({ watchId, follows }) => [
    watchId,
    ...(follows === null ? [] : [follows]),
  ]);
  const names = await fetchWatchNames(db, watchIds);
  const open = outages.filter(({ ended }) => ended === null);
  const takers = await fetchTakers(
    db,
    open.map(({ watchId }) => watchId),
  );
  return outages.map(({ id, watchId, began, noticed, ended, cause, detail, evidence, follows }) => ({
    ...{ id, watchId, began, noticed, ended },
    watch: names.get(watchId) ?? '',
    sentence: troubleSentence(cause, detail, evidence?.walk ?? []),
    told: told.get(id) ?? [],
    takenBy: ended === null ? (takers.get(watchId) ?? null) : null,
    follows: follows === null ? null : { id: follows, name: names.get(follows) ?? '' },
    incident: incidents.get(id) ?? null,
  }));
}
