import { asIs, asks, changes } from '@/cases/frame/use-case';
import { foundIncident } from '@/cases/pages/incidents';
import type { Letter } from '@/store/followers/letters';
import { fetchUntold, takeBack } from './telling';

/** What of an incident those who follow are still to be told, and when. */
export const listUntoldLetters = asks(
  'listUntoldLetters',
  'look',
  async ({ db }, { id }: { id: number }): Promise<Letter[]> =>
    fetchUntold(db, (await foundIncident(db, id)).id),
);

/** Followers are not told what has not gone out yet; what is published stays so. */
export const takeLettersBack = changes(
  'takeLettersBack',
  'write',
  asIs<{ id: number }>,
  async (act, { id }): Promise<{ taken: number }> => {
    const { title } = await foundIncident(act.trx, id);
    act.about({ kind: 'incident', id, name: title });
    return { taken: await takeBack(act.trx, id) };
  },
);
