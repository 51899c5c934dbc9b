import type { Knex } from 'knex';
import type { SaidEvent } from '@/core/messages/said';
import { factsOf } from '@/core/telling/happen';
import { NOTHING_TOLD } from '@/core/telling/telling';
import { saveTold } from '@/store/messages/telling';

/** A message about a watch to some channels, as if the routes had led there. */
export async function sayTo(
  db: Knex,
  {
    event,
    name,
    channels,
    at,
    thread = null,
    openedAt = at,
  }: {
    event: SaidEvent;
    name: string;
    channels: number[];
    at: number;
    thread?: string | null;
    openedAt?: number;
  },
): Promise<void> {
  const watch = factsOf({ id: 1, name, kind: 'web', section: null, tags: [] });
  const says = channels.map((channelId) => ({
    channelId,
    thread,
    watch,
    openedAt,
    follows: null,
    outageIds: [],
    drill: null,
    event,
    routeId: null,
    rule: 'step' as const,
  }));
  const told = {
    telling: NOTHING_TOLD,
    says,
    notes: [],
    changedThreads: new Set<string>(),
    changedRooms: new Set<number>(),
  };
  await saveTold(db, told, { happenings: [], at });
}
