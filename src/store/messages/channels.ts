import type { Knex } from 'knex';
import { USUAL_LANGUAGE, type Language } from '@/core/languages/language';
import { transaction, type Db } from '@/store/db/connection';
import { saveInstead } from './fallback';
import { isSealed, type Vault } from '@/store/db/vault';
import type { ChannelRow } from '@/store/db/tables';

export interface Channel {
  id: number;
  kind: string;
  name: string;
  /** Its texts are sealed. */
  settings: object;
  enabled: boolean;
  /** The channel that is told instead where this one takes nothing. */
  fallbackId: number | null;
  /** What messages to it are said in. */
  language: Language;
  createdAt: number;
}

function channelOf(row: ChannelRow): Channel {
  return {
    id: row.id,
    kind: row.kind,
    name: row.name,
    settings: JSON.parse(row.settings) as object,
    enabled: Boolean(row.enabled),
    fallbackId: row.fallback_id,
    language: row.language as Language,
    createdAt: row.created_at,
  };
}

export async function fetchChannels(db: Db): Promise<Channel[]> {
  return (await db('channels').orderBy('id')).map(channelOf);
}

/** Whether answers are taken there; what is on or off is not sealed. */
export function listensThere({ settings }: Pick<Channel, 'settings'>): boolean {
  return (settings as { listens?: unknown }).listens === true;
}

export async function fetchChannelIds(db: Db): Promise<number[]> {
  return db('channels').orderBy('id').pluck('id');
}

export async function fetchChannel(db: Db, id: number): Promise<Channel | null> {
  const row = await db('channels').where({ id }).first();
  return row ? channelOf(row) : null;
}

export async function saveNewChannel(
  db: Db,
  channel: Omit<Channel, 'id' | 'fallbackId' | 'language'> &
    Partial<Pick<Channel, 'fallbackId' | 'language'>>,
): Promise<number> {
  const [id] = await db('channels').insert({
    kind: channel.kind,
    name: channel.name,
    settings: JSON.stringify(channel.settings),
    enabled: channel.enabled,
    fallback_id: channel.fallbackId ?? null,
    language: channel.language ?? USUAL_LANGUAGE,
    created_at: channel.createdAt,
  });
  return id!;
}

export async function saveChannelChange(
  db: Db,
  id: number,
  change: Pick<Channel, 'name' | 'settings' | 'enabled'> & Partial<Pick<Channel, 'fallbackId' | 'language'>>,
): Promise<void> {
  await db('channels')
    .where({ id })
    .update({
      name: change.name,
      settings: JSON.stringify(change.settings),
      enabled: change.enabled,
      ...(change.fallbackId !== undefined && { fallback_id: change.fallbackId }),
      ...(change.language !== undefined && { language: change.language }),
    });
}

/** Sends a channel to rest that is gone for good; what waits for it goes to the one that stands in for it. */
export async function restChannel(db: Knex, id: number, at: number): Promise<void> {
  await transaction(db, async (trx) => {
    await saveInstead(trx, id, { at, olderThanMs: 0 });
    await trx('channels').where({ id }).update({ enabled: false });
  });
}

export async function deleteChannel(db: Db, id: number): Promise<boolean> {
  await db('channels').where({ fallback_id: id }).update({ fallback_id: null });
  return (await db('channels').where({ id }).delete()) > 0;
}

/** Channel settings with every text sealed: an address to post to is a key to the room. */
export function sealSettings(vault: Vault, settings: object): object {
  return Object.fromEntries(
    Object.entries(settings).map(([name, value]) => [
      name,
      typeof value === 'string' && !isSealed(value) ? vault.seal(value) : (value as unknown),
    ]),
  );
}

/** Seals what was kept open by an earlier version. */
export async function sealChannelSettings(db: Db, vault: Vault): Promise<void> {
  for (const { id, settings } of await fetchChannels(db)) {
    const sealed = JSON.stringify(sealSettings(vault, settings));
    if (sealed !== JSON.stringify(settings)) await db('channels').where({ id }).update({ settings: sealed });
  }
}
