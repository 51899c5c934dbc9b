import { fetchLevels } from '@/store/watches/cascade';
import { fetchWatch, fetchWatches, type WatchWithStatus } from '@/store/watches/watches';
import { probeKinds } from '@/probes/kinds/registry';
import type { Call } from '@/api/route';
import { checkinSchema, probeSchema } from '@/api/schemas/watch';
import { validateWatch, type Around, type ValidWatch } from '@/api/valid-watch';

/** The body that describes a watch: one shape for each kind. */
export const watchBody = {
  oneOf: () => [...probeKinds().map((kind) => probeSchema(kind.id)!), checkinSchema],
};

/** What a check of a watch needs to know; null for one that is new. Secrets that stay are those of `like`. */
export async function aroundOf(call: Call, watch: WatchWithStatus | null, like = watch): Promise<Around> {
  const { db, vault } = call.context;
  return {
    vault,
    levels: await fetchLevels(db),
    stored: like?.config.type === 'probe' ? like.config.settings : null,
    id: watch?.id ?? null,
    others: await fetchWatches(db),
  };
}

/** Checks what a call says of a watch, null for one that is new; secrets that stay are those of `like`. */
export async function validWatch(
  call: Call,
  body: unknown,
  watch: WatchWithStatus | null,
  like = watch,
): Promise<ValidWatch> {
  return validateWatch(body, await aroundOf(call, watch, like));
}

/** The watch whose secrets a trial may use. */
export async function likeWatch(call: Call): Promise<WatchWithStatus | null> {
  const id = Number(call.query.get('watch') ?? 0);
  return id > 0 ? fetchWatch(call.context.db, id) : null;
}

/** Tells the engine; while it is away the change waits in the database for its return. */
export async function tellEngine(call: Call, watchIds: readonly number[]): Promise<void> {
  call.context.forgetKeys();
  if (watchIds.length === 0) return;
  await call.context.engine.call('watchesChanged', { watchIds: [...watchIds] }).catch(() => undefined);
}
