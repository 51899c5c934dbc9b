import { rulesOf } from '@/core/settings/watch-config';
import { DAY_MS } from '@/core/time/units';
import type { Db } from '@/store/db/connection';
import { newCheckinKey } from '@/accounts/secrets';
import { wireOf } from '@/core/settings/wire-names';
import { stemOf, uniqueName } from '@/core/settings/unique-name';
import type { WatchFilter } from '@/core/settings/watch-filter';
import { probeKind } from '@/probes/kinds/registry';
import {
  deleteWatches,
  fetchWatch,
  saveNewWatch,
  saveWatchChange,
  saveWatchesPaused,
  type WatchWithStatus,
} from '@/store/watches/watches';
import type { ListPage } from '@/store/db/list-page';
import { fetchAll, pageBehind } from '@/views/overview/all-watches';
import { Refusal, refused } from '@/cases/frame/refusal';
import { withChoicesCarried } from '@/cases/followers/carry-choices';
import { fetchNamesFrom } from '@/store/watches/tied';
import { asIs, asks, changes, type Act } from '@/cases/frame/use-case';
import { refuseChanged, type Expected } from '@/cases/frame/version';
import type { WatchTried, World } from '@/cases/frame/world';
import { aroundOf, asItIsNow, foundWatch, likeWatch, tellEngine, watchVersion } from './around';
import { changedBody } from './changed-body';
import { withoutSecrets } from './secret-settings';
import { bodyOf, validateWatch, withoutInherited, type ValidWatch } from './valid-watch';

/** Notes what a watch was called, and tells the engine once it is committed. */
function touched({ about, afterwards, world }: Act, { id, name }: { id: number; name: string }): void {
  about({ kind: 'watch', id, name });
  afterwards(() => tellEngine(world, [id]));
}

export const listWatches = asks(
  'listWatches',
  'look',
  async (
    { db, world, now },
    { filter, page }: { filter: WatchFilter; page: ListPage },
  ): Promise<WatchWithStatus[]> => {
    const all = await fetchAll(db, now, await world.engine.isConnected());
    return all.read(pageBehind(await all.matching(filter), page));
  },
);

export const getWatch = asks('getWatch', 'look', ({ db }, { id }: { id: number }) => foundWatch(db, id));

export const createWatch = changes(
  'createWatch',
  'operate',
  asIs<{ body: unknown; like?: number }>,
  async (act, { body, like }): Promise<WatchWithStatus> => {
    const { trx, world, now } = act;
    const around = await aroundOf(trx, world.vault, null, await likeWatch(trx, like));
    const valid = await validateWatch(body, around);
    if (!(body as { name?: unknown }).name) {
      valid.name = uniqueName(valid.name, await fetchNamesFrom(trx, stemOf(valid.name)));
    }
    const id = await saveNewWatch(trx, {
      ...valid,
      config: valid.own,
      checkinKey: valid.config.type === 'checkin' ? newCheckinKey() : null,
      createdAt: now,
    });
    touched(act, { id, name: valid.name });
    return (await fetchWatch(trx, id))!;
  },
  asItIsNow,
);

/** A watch as it would be with what was sent, checked. */
async function validChange(
  db: Db,
  { vault }: Pick<World, 'vault'>,
  watch: WatchWithStatus,
  sent: object,
): Promise<{ valid: ValidWatch; paused: boolean | undefined }> {
  const { paused, ...change } = changedBody(watch, sent as Record<string, unknown>);
  if (paused !== undefined && typeof paused !== 'boolean') {
    throw refused([{ field: 'paused', message: 'Expected paused to be true or false.' }]);
  }
  if (change.kind !== undefined && change.kind !== watch.kind) {
    throw refused([{ field: 'kind', message: 'The kind of a watch cannot be changed; make a new one.' }]);
  }
  const { own } = watch;
  const stored = own.type === 'probe' ? withoutSecrets(probeKind(watch.kind), own.settings) : null;
  const settings = stored && { ...stored, ...(change.settings as object) };
  const back = Array.isArray(change.inherit) ? change.inherit.map(String) : [];
  const body = { ...wireOf(bodyOf(watch, settings)), ...change, ...(settings && { settings }) };
  const valid = await validateWatch(withoutInherited(body, back), await aroundOf(db, vault, watch));
  return { valid, paused };
}

/** So far back settings are tried. */
const PAST_DAYS = 90;

/** What a watch would have gone through with other settings, on what is kept of it. */
export interface WatchTrial extends WatchTried {
  until: number;
}

/** Tries settings of a watch on its past before they are saved; nothing is changed. */
export const tryWatchOnPast = asks(
  'tryWatchOnPast',
  'operate',
  async ({ db, world, now }, { id, body }: { id: number; body: object }): Promise<WatchTrial> => {
    const watch = await foundWatch(db, id);
    const { valid } = await validChange(db, world, watch, body);
    const { zone } = world.place;
    const tried = await world.past.tryWatch({
      watchId: id,
      since: Math.max(watch.createdAt, now - PAST_DAYS * DAY_MS),
      until: now,
      now: rulesOf(watch.config, zone),
      then: rulesOf(valid.config, zone),
    });
    if (!tried)
      throw new Refusal('work.too-long', 'The past could not be gone through in time. Try it again.');
    return { ...tried, until: now };
  },
);

export const changeWatch = changes(
  'changeWatch',
  'operate',
  asIs<{ id: number; body: object; expected: Expected }>,
  async (act, { id, body, expected }): Promise<WatchWithStatus> => {
    const { trx, world } = act;
    const watch = await foundWatch(trx, id);
    refuseChanged(expected, watchVersion(watch), `“${watch.name}”`);
    const { valid, paused } = await validChange(trx, world, watch, body);
    const save = () => saveWatchChange(trx, watch.id, { ...valid, config: valid.own });
    await (valid.name === watch.name ? save() : withChoicesCarried(trx, save));
    if (paused !== undefined && paused !== watch.paused) await saveWatchesPaused(trx, [id], paused);
    touched(act, { id, name: valid.name });
    return foundWatch(trx, id);
  },
  asItIsNow,
);

export const deleteWatch = changes(
  'deleteWatch',
  'operate',
  asIs<{ id: number; expected: Expected }>,
  async (act, { id, expected }) => {
    const watch = await foundWatch(act.trx, id);
    refuseChanged(expected, watchVersion(watch), `“${watch.name}”`);
    await deleteWatches(act.trx, [id], act.now);
    touched(act, watch);
  },
);

async function setPaused(act: Act, id: number, paused: boolean): Promise<WatchWithStatus> {
  const watch = await foundWatch(act.trx, id);
  await saveWatchesPaused(act.trx, [id], paused);
  touched(act, watch);
  return foundWatch(act.trx, id);
}

export const pauseWatch = changes(
  'pauseWatch',
  'operate',
  asIs<{ id: number }>,
  (act, { id }) => setPaused(act, id, true),
  asItIsNow,
);

export const resumeWatch = changes(
  'resumeWatch',
  'operate',
  asIs<{ id: number }>,
  (act, { id }) => setPaused(act, id, false),
  asItIsNow,
);
