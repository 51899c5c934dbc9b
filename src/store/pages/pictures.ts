import { createHash } from 'node:crypto';
import { PICTURE_KINDS, type PictureUse } from '@/core/pages/picture';
import type { Db } from '@/store/db/connection';

export interface Picture {
  name: string;
  use: PictureUse;
}

/** What pictures are, without what is in them. */
export async function fetchPictures(db: Db, names: readonly string[]): Promise<Picture[]> {
  if (names.length === 0) return [];
  return db('pictures').whereIn('name', names).select('name', 'use');
}

export async function fetchPictureBytes(db: Db, name: string): Promise<Buffer | null> {
  const row = await db('pictures').where({ name }).first('bytes');
  return row?.bytes ?? null;
}

/** A picture that was made ready to be shown. */
export interface MadePicture {
  bytes: Uint8Array;
  /** In pixels. */
  wide: number;
  high: number;
}

/** Keeps a picture under a name that says what is in it; the same one is kept once. */
export async function savePicture(
  db: Db,
  use: PictureUse,
  { bytes, wide, high }: MadePicture,
  now: number,
): Promise<Picture> {
  const mark = createHash('sha256').update(bytes).digest('base64url').slice(0, 22);
  const name = `${mark}.${wide}x${high}.${PICTURE_KINDS[use].type}`;
  await db('pictures')
    .insert({ name, use, bytes: Buffer.from(bytes), made_at: now })
    .onConflict('name')
    .merge({ made_at: now });
  return { name, use };
}

/** Lets go of what was taken in before then and stands on no page. */
export async function deleteUnusedPictures(db: Db, before: number): Promise<number> {
  return db('pictures')
    .where('made_at', '<', before)
    .whereRaw('NOT EXISTS (SELECT 1 FROM pages WHERE instr(pages.settings, pictures.name) > 0)')
    .delete();
}
