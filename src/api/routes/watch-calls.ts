import { probeKinds } from '../../probes/registry';
import { fetchWatch, fetchWatches, type WatchWithStatus } from '../../store/watches';
import type { Call } from '../route';
import { checkinSchema, probeSchema, validateWatch, type ValidWatch } from '../schemas/watch';

/** The body that describes a watch: one shape for each kind. */
export const watchBody = {
  oneOf: () => [...probeKinds().map((kind) => probeSchema(kind.id)!), checkinSchema],
};

/** Checks what a call says of a watch, null for one that is new; secrets that stay are those of `like`. */
export async function validWatch(
  call: Call,
  body: unknown,
  watch: WatchWithStatus | null,
  like = watch,
): Promise<ValidWatch> {
  const { db, vault } = call.context;
  const stored = like?.config.type === 'probe' ? like.config.settings : null;
  return validateWatch(body, { vault, stored, id: watch?.id ?? null, others: await fetchWatches(db) });
}

/** The watch whose secrets a trial may use. */
export async function likeWatch(call: Call): Promise<WatchWithStatus | null> {
  const id = Number(call.query.get('watch') ?? 0);
  return id > 0 ? fetchWatch(call.context.db, id) : null;
}
