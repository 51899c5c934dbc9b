import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Knex } from 'knex';
import { NO_PICTURES, USE_OF, type PagePictures } from '@/core/pages/picture';
import { preparePicture } from '@/site/pictures/prepare';
import { savePicture } from '@/store/pages/pictures';

const FILES: Readonly<Record<keyof PagePictures, string>> = {
  logo: 'logo.svg',
  logoDark: 'logo-night.svg',
  favicon: 'logo.svg',
  cover: 'cover.svg',
};

/** The drawings of the ferries, taken in as anybody's would be. */
export async function fillPictures(db: Knex, folder: string, now: number): Promise<PagePictures> {
  const pictures = { ...NO_PICTURES };
  for (const name of Object.keys(FILES) as (keyof PagePictures)[]) {
    const made = await preparePicture(await readFile(join(folder, FILES[name])), USE_OF[name]);
    if ('problem' in made) throw new Error(`${FILES[name]}: ${made.problem}`);
    pictures[name] = (await savePicture(db, USE_OF[name], made, now)).name;
  }
  return pictures;
}
