import { statfs } from 'node:fs/promises';
import { dirname } from 'node:path';
import { growthOf, type FileSize, type Growth } from '@/core/history/growth';
import { DAY_MS } from '@/core/time/units';
import { withRawConnection, type Db } from './connection';

const KEEP_MS = 400 * DAY_MS;

export interface Storage {
  /** What the database takes on the disk, what is free in it left out. */
  usedBytes: number;
  /** What is free on its disk. */
  freeBytes: number;
  /** Null while too few days are known. */
  growth: Growth | null;
}

async function usedBytes(db: Db): Promise<number> {
  return withRawConnection(db, (raw) => {
    const pragma = (name: string) => Number(raw.pragma(name, { simple: true }));
    return (pragma('page_count') - pragma('freelist_count')) * pragma('page_size');
  });
}

/** Notes what the database takes; the last note of a day (UTC) counts. */
export async function saveFileSize(db: Db, now: number): Promise<void> {
  const day = Math.floor(now / DAY_MS) * DAY_MS;
  await db('file_sizes')
    .insert({ day, bytes: await usedBytes(db) })
    .onConflict('day')
    .merge();
  await db('file_sizes')
    .where('day', '<', day - KEEP_MS)
    .delete();
}

export async function fetchFileSizes(db: Db, now: number): Promise<FileSize[]> {
  return db('file_sizes').where('day', '<=', now).orderBy('day');
}

/** How much room the database takes, how fast it grows, and when its disk is full at that pace. */
export async function fetchStorage(db: Db, now: number): Promise<Storage> {
  const file = await withRawConnection(db, (raw) => raw.name);
  const { bavail, bsize } = await statfs(dirname(file));
  const freeBytes = bavail * bsize;
  return {
    usedBytes: await usedBytes(db),
    freeBytes,
    growth: growthOf(await fetchFileSizes(db, now), freeBytes, now),
  };
}
