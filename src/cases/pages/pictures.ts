import { PICTURE_USES, type PictureUse } from '@/core/pages/picture';
import { DAY_MS } from '@/core/time/units';
import { deleteUnusedPictures, savePicture, type Picture } from '@/store/pages/pictures';
import { refused } from '@/cases/frame/refusal';
import { changes } from '@/cases/frame/use-case';

/** Whoever chose a picture and has not saved the page within this time chooses it again. */
const UNUSED_MS = DAY_MS;

/** A picture as it will be shown: by its content, in its size, without whatever else the file held. */
export const keepPicture = changes(
  'keepPicture',
  'write',
  async ({ use, bytes }: { use: PictureUse; bytes: Buffer }, { world }) => {
    if (!PICTURE_USES.includes(use)) {
      throw refused([{ field: 'use', message: `Expected use to be ${PICTURE_USES.join(', ')}.` }]);
    }
    const made = await world.pictures.prepare(bytes, use);
    if ('problem' in made) throw refused([{ field: 'picture', message: made.problem }]);
    return { use, made };
  },
  async ({ trx, now, about }, { use, made }): Promise<Picture> => {
    await deleteUnusedPictures(trx, now - UNUSED_MS);
    const kept = await savePicture(trx, use, made, now);
    about({ kind: 'picture', id: null, name: kept.name });
    return kept;
  },
);
