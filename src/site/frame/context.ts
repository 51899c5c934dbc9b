import { createContext, useContext } from 'react';
import type { PageSpeech } from '@/core/languages/page-speech';
import type { Place } from './place';

/** What every part of a sheet goes by. */
export interface SheetContext {
  speech: PageSpeech;
  zone: string;
  place: Place;
  /** The names of the files that ship with the product, by what they are called in the source. */
  assets: (name: string) => string;
}

const Context = createContext<SheetContext | null>(null);

export const SheetProvider = Context.Provider;

export function useSheet(): SheetContext {
  const context = useContext(Context);
  if (!context) throw new Error('Parts of a public page are drawn within a sheet.');
  return context;
}
