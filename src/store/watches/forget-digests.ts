import { inChunks } from '@/store/db/chunks';
import type { Db } from '@/store/db/connection';

/** What the digests of watches say may not hold any more: they are gone until the engine has written them anew. */
export async function forgetDigests(trx: Db, ids: readonly number[]): Promise<void> {
  for (const some of inChunks(ids)) await trx('watch_digests').whereIn('watch_id', some).delete();
}
