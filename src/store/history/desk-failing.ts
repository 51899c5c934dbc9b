import type { Db } from '@/store/db/connection';
import { fetchSetting, saveSetting } from '@/store/db/settings';

const FAILING = 'desk_failing';

/** Notes whether the process that draws pages does not stay up. */
export async function saveDeskFailing(db: Db, failing: boolean): Promise<void> {
  await saveSetting(db, FAILING, failing ? '1' : '0');
}

export async function isDeskFailing(db: Db): Promise<boolean> {
  return (await fetchSetting(db, FAILING)) === '1';
}
