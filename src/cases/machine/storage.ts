import { asks } from '@/cases/frame/use-case';
import { fetchStorage, type Storage } from '@/store/db/file-size';

/** How much room what is kept takes, how fast it grows, and when the disk is full at that pace. */
export const getStorage = asks('getStorage', 'look', ({ db, now }): Promise<Storage> =>
  fetchStorage(db, now),
);
