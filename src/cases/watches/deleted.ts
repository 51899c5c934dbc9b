import { array, number } from 'yup';
import { inChunks } from '@/store/db/chunks';
import {
  fetchDeletedTogether,
  fetchDeletedWatches,
  fetchRestorable,
  restoreWatches,
  type DeletedWatch,
} from '@/store/watches/deleted-watches';
import type { WatchWithStatus } from '@/store/watches/watches';
import { notFound, refused } from '@/cases/frame/refusal';
import { asIs, asks, changes, type Act } from '@/cases/frame/use-case';
import { validateBody } from '@/cases/frame/validate';
import { momentOrNone, readMoment, strictObject } from '@/cases/schemas/common';
import { asItIsNow, foundWatch, tellEngine } from './around';
import { A_PART, type BatchLine } from './batch';

export const listDeletedWatches = asks('listDeletedWatches', 'look', ({ db, now }): Promise<DeletedWatch[]> =>
  fetchDeletedWatches(db, now),
);

/** What those are called that came back, by id; told to the engine with one word. */
async function bringBack(
  { trx, now, about, afterwards, world }: Act,
  ids: readonly number[],
): Promise<Map<number, string>> {
  const names = await fetchRestorable(trx, ids, now);
  await restoreWatches(trx, [...names.keys()]);
  for (const [id, name] of names) about({ kind: 'watch', id, name });
  afterwards(() => tellEngine(world, [...names.keys()]));
  return names;
}

/** Some of many, in one transaction. */
export const restoreSomeOfMany = changes(
  'restoreSomeOfMany',
  'operate',
  asIs<{ ids: readonly number[] }>,
  (act, { ids }) => bringBack(act, ids),
);

export const restoreDeletedWatch = changes(
  'restoreDeletedWatch',
  'operate',
  asIs<{ id: number }>,
  async (act, { id }): Promise<WatchWithStatus> => {
    if ((await bringBack(act, [id])).size === 0) throw notFound(`deleted watch ${id}`);
    return foundWatch(act.trx, id);
  },
  asItIsNow,
);

export const restoreSchema = strictObject({
  ids: array(number().integer().required())
    .optional()
    .default(undefined)
    .max(10_000, 'Expected at most 10,000 watches.')
    .meta({ description: 'Ids of deleted watches.' }),
  deletedAt: momentOrNone('the moment').meta({
    description: 'Or all that one change deleted at this moment.',
  }),
});

interface Restore {
  ids?: number[];
  deletedAt?: unknown;
}

/** Brings many deleted watches back, or all that one change deleted: each that can, and a word on each that cannot. */
export const restoreDeletedWatches = asks(
  'restoreDeletedWatches',
  'operate',
  async ({ who, world, db }, { body }: { body: unknown }): Promise<BatchLine[]> => {
    const { ids, deletedAt } = await validateBody<Restore>(restoreSchema, body);
    const moment = readMoment(deletedAt);
    if ((ids === undefined) === (moment === null))
      throw refused([{ field: 'ids', message: 'Expected either ids or the moment they were deleted.' }]);
    const asked = ids ?? (await fetchDeletedTogether(db, moment!));
    if (moment !== null && asked.length === 0)
      throw refused([
        {
          field: 'deletedAt',
          message: `Nothing was deleted at ${new Date(moment).toISOString()} that can be brought back.`,
        },
      ]);
    const lines: BatchLine[] = [];
    for (const some of inChunks([...new Set(asked)], A_PART)) {
      const back = await restoreSomeOfMany(who, { ids: some }, world);
      for (const id of some) {
        const name = back.get(id);
        if (name !== undefined) lines.push({ id, name, problem: null });
        else lines.push({ id: null, name: '', problem: `There is no deleted watch ${id} to bring back.` });
      }
    }
    return lines;
  },
);
