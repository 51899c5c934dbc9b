import { readMoment } from '@/cases/schemas/common';
import type { Db } from '@/store/db/connection';
import type { ListPage } from '@/store/db/list-page';
import * as store from '@/store/pages/windows';
import { orNotFound } from '@/cases/frame/find';
import { withoutReadOnly } from '@/cases/frame/read-only';
import { asIs, asks, changes, type Act } from '@/cases/frame/use-case';
import { validateBody } from '@/cases/frame/validate';
import { refuseChanged, versionOf, type VersionedChange } from '@/cases/frame/version';
import { windowSchema } from '@/cases/schemas/incidents';
import { refuseUnknownWatches } from './pages';
import { deletes } from '@/cases/frame/deletes';

async function found(db: Db, id: number): Promise<store.MaintenanceWindow> {
  return orNotFound(await store.fetchWindow(db, id), `window ${id}`);
}

export function windowVersion({ title, watchIds, begins, ends }: store.MaintenanceWindow): string {
  return versionOf([title, watchIds, begins, ends]);
}

/** Public pages show what is planned; the engine opens and closes the windows. */
function touched(
  { about, afterwards, world }: Act,
  { id, title }: Pick<store.MaintenanceWindow, 'id' | 'title'>,
) {
  about({ kind: 'window', id, name: title });
  afterwards(async () => {
    await world.engine.call('windowsChanged', {}).catch(() => undefined);
    world.hub.emit('plans');
  });
}

async function validWindow(db: Db, body: unknown): Promise<Omit<store.MaintenanceWindow, 'id'>> {
  interface WindowBody {
    title: string;
    watchIds: number[];
    from: string;
    until: string;
  }
  const { title, watchIds, from, until } = await validateBody<WindowBody>(windowSchema, body);
  await refuseUnknownWatches(db, watchIds, 'watchIds');
  return { title, watchIds, begins: readMoment(from)!, ends: readMoment(until)! };
}

export const listWindows = asks(
  'listWindows',
  'look',
  ({ db }, { page }: { page: ListPage }): Promise<store.MaintenanceWindow[]> =>
    store.fetchWindowList(db, page),
);

export const getWindow = asks('getWindow', 'look', ({ db }, { id }: { id: number }) => found(db, id));

export const createWindow = changes(
  'createWindow',
  'operate',
  asIs<{ body: unknown }>,
  async (act, { body }): Promise<store.MaintenanceWindow> => {
    const valid = await validWindow(act.trx, body);
    const id = await store.saveNewWindow(act.trx, valid);
    const window = { id, ...valid };
    // What has begun already is told as that.
    if (valid.begins > act.now) await store.saveWindowHappening(act.trx, window, 'planned', act.now);
    touched(act, { id, title: valid.title });
    return found(act.trx, id);
  },
);

export const changeWindow = changes(
  'changeWindow',
  'operate',
  asIs<VersionedChange>,
  async (act, { id, body, expected }): Promise<store.MaintenanceWindow> => {
    const window = await found(act.trx, id);
    refuseChanged(expected, windowVersion(window), `“${window.title}”`);
    const { title, watchIds, begins, ends } = window;
    const [from, until] = [new Date(begins).toISOString(), new Date(ends).toISOString()];
    const sent = withoutReadOnly(body, []);
    const valid = await validWindow(act.trx, { title, watchIds, from, until, ...sent });
    await store.saveWindowChange(act.trx, id, valid, act.now);
    touched(act, { id, title: valid.title });
    return found(act.trx, id);
  },
);

export const deleteWindow = deletes('deleteWindow', 'operate', {
  find: found,
  version: windowVersion,
  called: ({ title }) => `“${title}”`,
  remove: store.deleteWindow,
  touched,
});
