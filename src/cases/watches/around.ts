import type { Db } from '@/store/db/connection';
import type { Vault } from '@/store/db/vault';
import { fetchChannelIds } from '@/store/messages/channels';
import { fetchLevels } from '@/store/watches/cascade';
import { fetchSections } from '@/store/watches/sections';
import { fetchTied } from '@/store/watches/tied';
import { fetchKnownIds, fetchWatch, type WatchWithStatus } from '@/store/watches/watches';
import { probeKind } from '@/probes/kinds/registry';
import type { World } from '@/cases/frame/world';
import { orNotFound } from '@/cases/frame/find';
import { versionOf } from '@/cases/frame/version';
import { withoutSecrets } from './secret-settings';
import type { Around } from './valid-watch';

/** What a check of a watch needs to know; null for one that is new. Secrets that stay are those of `like`. */
export async function aroundOf(
  db: Db,
  vault: Vault,
  watch: WatchWithStatus | null,
  like = watch,
): Promise<Around> {
  return {
    vault,
    levels: await fetchLevels(db),
    stored: like?.config.type === 'probe' ? like.config.settings : null,
    watch,
    tied: () => fetchTied(db),
    knownOf: (ids) => fetchKnownIds(db, ids),
    sections: await fetchSections(db),
    channels: await fetchChannelIds(db),
  };
}

export async function foundWatch(db: Db, id: number): Promise<WatchWithStatus> {
  return orNotFound(await fetchWatch(db, id), `watch ${id}`);
}

/** The engine has the last word on the state of a watch. */
export const asItIsNow = async (watch: WatchWithStatus, { db }: World): Promise<WatchWithStatus> =>
  (await fetchWatch(db, watch.id)) ?? watch;

/** The watch whose secrets a trial may use; null for none. */
export async function likeWatch(db: Db, id: number | undefined): Promise<WatchWithStatus | null> {
  return id === undefined ? null : fetchWatch(db, id);
}

/**
 * Tells the engine, and with `renamed` that routes choose them by another name. While it is away the change waits in the
 * database for its return.
 */
export async function tellEngine(
  { forgetKeys, engine }: World,
  watchIds: readonly number[],
  { renamed = false } = {},
): Promise<void> {
  await forgetKeys();
  if (watchIds.length === 0 && !renamed) return;
  await engine.call('watchesChanged', { watchIds: [...watchIds], renamed }).catch(() => undefined);
}

/** The mark of what is set on a watch; what is found out about it does not count. */
export function watchVersion({ kind, name, section, tags, own, config, paused }: WatchWithStatus): string {
  const settings = own.type === 'probe' ? withoutSecrets(probeKind(kind), own.settings) : null;
  return versionOf([kind, name, section, tags.map((tag) => tag.name), { ...own, settings }, config, paused]);
}
