import { fetchByWords } from '@/store/watches/tied';
import type { NamedWatch } from '@/store/watches/watches';
import { asks } from '@/cases/frame/use-case';

/** Watches by a part of their name, as they are looked for while it is typed. */
export const findWatches = asks(
  'findWatches',
  'look',
  ({ db }, { words, most }: { words: string; most: number }): Promise<NamedWatch[]> =>
    fetchByWords(db, words, most),
);
