import type { PushKeys } from '@/core/messages/notice';
import type { Db } from '@/store/db/connection';
import { fetchSetting } from '@/store/db/settings';
import { ensureSecret, type Vault } from '@/store/db/vault';

const KEY = 'push_keys';

/** The keys this desk signs pushes with. Throws where there are none, or no key opens them. */
export async function fetchPushKeys(db: Db, vault: Vault): Promise<PushKeys> {
  const sealed = await fetchSetting(db, KEY);
  if (sealed === null) throw new Error('no device was switched on here');
  return JSON.parse(vault.open(sealed)) as PushKeys;
}

/** The same, with new ones where there are none yet: devices are bound to them from then on. */
export async function ensurePushKeys(db: Db, vault: Vault, make: () => PushKeys): Promise<PushKeys> {
  return JSON.parse(await ensureSecret(db, vault, KEY, () => JSON.stringify(make()))) as PushKeys;
}
