import type { Db } from '@/store/db/connection';

/** How the last copy of a page went: when it was made, or why it could not be. */
export interface CopyState {
  copiedAt: number | null;
  problem: string | null;
}

export async function fetchCopyState(db: Db, pageId: number): Promise<CopyState> {
  const row = await db('pages').where({ id: pageId }).first('copied_at', 'copy_problem');
  return { copiedAt: row?.copied_at ?? null, problem: row?.copy_problem ?? null };
}

export async function saveCopied(db: Db, pageId: number, at: number): Promise<void> {
  await db('pages').where({ id: pageId }).update({ copied_at: at, copy_problem: null });
}

export async function saveCopyProblem(db: Db, pageId: number, problem: string): Promise<void> {
  await db('pages').where({ id: pageId }).update({ copy_problem: problem });
}

/** Pages of which no copy could be made the last time. */
export async function fetchBrokenCopies(db: Db): Promise<{ id: number; title: string; problem: string }[]> {
  const rows = await db('pages').whereNotNull('copy_problem').select('id', 'title', 'copy_problem');
  return rows.map(({ id, title, copy_problem }) => ({ id, title, problem: copy_problem! }));
}
