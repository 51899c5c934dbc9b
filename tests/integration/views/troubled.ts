import type { Knex } from 'knex';
import type { State } from '@/core/lifecycle/state';
import { newStatus, type Status } from '@/core/lifecycle/status';
import type { WatchConfig } from '@/core/settings/watch-config';
import { makeWatch } from '../helpers';

export const NOW = Date.parse('2026-11-20T12:00:00Z');
const MINUTE = 60_000;

/** Puts watches, their outages and what was said of them into a database as they stand at one moment, without an engine. */
export const troubled = (db: Knex) => ({
  /** A watch that has been in a state for so many minutes. */
  stand: async (
    name: string,
    config: WatchConfig,
    state: State,
    minutes: number,
    more: Partial<Status> = {},
  ): Promise<number> => {
    const since = NOW - minutes * MINUTE;
    const id = await makeWatch(db, config, { name, createdAt: since - 86_400_000 });
    const status = JSON.stringify({ ...newStatus(since), state, since, ...more });
    await db('watch_status').where({ watch_id: id }).update({ state, since, status });
    return id;
  },
  /** An outage that began so many minutes ago, and has ended where that is said. */
  outage: async (
    watchId: number,
    minutes: number,
    { follows = null, ended = null }: { follows?: number | null; ended?: number | null } = {},
  ): Promise<number> => {
    const began = NOW - minutes * MINUTE;
    const [id] = await db('outages').insert({
      ...{ watch_id: watchId, began, noticed: began, cause: 'port.refused', follows },
      ...{ causes: '["port.refused"]', detail: '{"port":80}' },
      ended: ended === null ? null : NOW - ended * MINUTE,
    });
    return id!;
  },
  /** A message about an outage, and what became of it in a channel. */
  said: async (outageId: number, channelId: number, state: 'delivered' | 'waiting'): Promise<void> => {
    const [id] = await db('messages').insert({ kind: 'down', text: '', created_at: NOW });
    await db('message_outages').insert({ message_id: id!, outage_id: outageId });
    await db('deliveries').insert({
      ...{ message_id: id!, channel_id: channelId, state, attempts: 1, next_at: NOW },
    });
  },
  take: (watchId: number, by: string, open = true) =>
    db('telling').insert({
      key: `thread w${watchId}`,
      state: JSON.stringify({ open: open ? { at: NOW } : null, taken: { by, at: NOW } }),
    }),
});
