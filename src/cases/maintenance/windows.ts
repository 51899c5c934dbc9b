import { MINUTE_MS } from '@/core/time/units';
import { readMoment } from '@/cases/schemas/common';
import type { Db } from '@/store/db/connection';
import type { ListPage } from '@/store/db/list-page';
import { saveCalledOff } from '@/store/maintenance/series';
import * as store from '@/store/maintenance/windows';
import { orNotFound } from '@/cases/frame/find';
import { withoutReadOnly } from '@/cases/frame/read-only';
import { Refusal } from '@/cases/frame/refusal';
import { asIs, asks, changes, type Act } from '@/cases/frame/use-case';
import { validateBody } from '@/cases/frame/validate';
import { refuseChanged, versionOf, type VersionedChange } from '@/cases/frame/version';
import { extendSchema, windowSchema } from '@/cases/schemas/maintenance';
import { tellWindowChange } from '@/cases/followers/window-changes';
import { deletes } from '@/cases/frame/deletes';
import { refuseUnknownCoverage, touched, type PlanBody } from './planned';

type Window = store.MaintenanceWindow;
/** What a person says of one. */
type Said = store.WindowPlan & Pick<Window, 'begins' | 'ends'>;

async function found(db: Db, id: number): Promise<Window> {
  return orNotFound(await store.fetchWindow(db, id), `window ${id}`);
}

export function windowVersion(window: Said): string {
  const { title, text, watchIds, sectionIds, tagIds, announceDays, begins, ends } = window;
  return versionOf([title, text, watchIds, sectionIds, tagIds, announceDays, begins, ends]);
}

const about = (act: Act, { id, title }: Pick<Window, 'id' | 'title'>) =>
  touched(act, { kind: 'window', id, title });

/** One stretch as it was sent. */
export async function validWindow(db: Db, body: unknown, before: Window | null): Promise<Said> {
  const { from, until, ...plan } = await validateBody<PlanBody & { from: string; until: string }>(
    windowSchema,
    body,
  );
  await refuseUnknownCoverage(db, plan, before);
  return { ...plan, begins: readMoment(from)!, ends: readMoment(until)! };
}

export const listWindows = asks(
  'listWindows',
  'look',
  ({ db }, { page }: { page: ListPage }): Promise<Window[]> => store.fetchWindowList(db, page),
);

export const getWindow = asks('getWindow', 'look', ({ db }, { id }: { id: number }) => found(db, id));

export const createWindow = changes(
  'createWindow',
  'operate',
  asIs<{ body: unknown }>,
  async (act, { body }): Promise<Window> => {
    const valid = await validWindow(act.trx, body, null);
    const id = await store.saveNewWindow(act.trx, { ...valid, madeAt: act.now });
    const window = await found(act.trx, id);
    // What has begun already is told as that.
    if (valid.begins > act.now) await store.saveWindowHappening(act.trx, window, 'planned', act.now);
    about(act, window);
    return window;
  },
);

export const changeWindow = changes(
  'changeWindow',
  'operate',
  asIs<VersionedChange>,
  async (act, { id, body, expected }): Promise<Window> => {
    const window = await found(act.trx, id);
    refuseChanged(expected, windowVersion(window), `“${window.title}”`);
    const { title, text, watchIds, sectionIds, tagIds, announceDays, begins, ends } = window;
    const [from, until] = [new Date(begins).toISOString(), new Date(ends).toISOString()];
    const stands = { title, text, watchIds, sectionIds, tagIds, announceDays, from, until };
    const sent = withoutReadOnly(body, ['recurringId', 'covers']);
    const valid = await validWindow(act.trx, { ...stands, ...sent }, window);
    await store.saveWindowChange(act.trx, id, valid, act.now);
    const changed = await found(act.trx, id);
    if (changed.begins !== begins || changed.ends !== ends) {
      await tellWindowChange(act.trx, changed, 'moved', act.now);
    }
    about(act, changed);
    return changed;
  },
);

/** Moves one end of a window to another moment. */
function moves(
  name: string,
  move: (window: Window, now: number, minutes: number) => Partial<Said>,
  takesMinutes = false,
) {
  return changes(
    name,
    'operate',
    asIs<{ id: number; body?: unknown }>,
    async (act, { id, body }): Promise<Window> => {
      const window = await found(act.trx, id);
      const minutes = takesMinutes
        ? (await validateBody<{ minutes: number }>(extendSchema, body)).minutes
        : 0;
      if (window.ends <= act.now) throw new Refusal('window.over', `“${window.title}” is over already.`);
      await store.saveWindowChange(act.trx, id, { ...window, ...move(window, act.now, minutes) }, act.now);
      about(act, window);
      return found(act.trx, id);
    },
  );
}

/** It begins now rather than later; its end stays. What is under way is so since it began. */
export const beginWindow = moves('beginWindow', ({ begins }, now) => ({ begins: Math.min(begins, now) }));

/** It is over now rather than later. What has not begun is called off instead. */
export const endWindow = moves('endWindow', ({ begins, title }, now) => {
  if (begins >= now) throw new Refusal('window.waiting', `“${title}” has not begun; call it off instead.`);
  return { ends: now };
});

export const extendWindow = moves(
  'extendWindow',
  ({ ends }, _, minutes) => ({ ends: ends + minutes * MINUTE_MS }),
  true,
);

export const deleteWindow = deletes('deleteWindow', 'operate', {
  find: found,
  version: windowVersion,
  called: ({ title }) => `“${title}”`,
  remove: async (trx, id, now) => {
    const window = await found(trx, id);
    const { seriesId, wall } = window;
    await tellWindowChange(trx, window, 'off', now);
    // It is one time of something; that time does not come again by itself.
    if (seriesId !== null && wall !== null) await saveCalledOff(trx, seriesId, wall);
    await store.deleteWindow(trx, id);
  },
  touched: about,
});
