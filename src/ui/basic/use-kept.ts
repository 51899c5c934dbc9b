'use client';

import { useCallback, useSyncExternalStore } from 'react';

const CHANGED = 'lantern-kept';

function follow(changed: () => void): () => void {
  // By other windows, and by this one.
  for (const name of ['storage', CHANGED]) window.addEventListener(name, changed);
  return () => {
    for (const name of ['storage', CHANGED]) window.removeEventListener(name, changed);
  };
}

/** A text that this browser keeps for the next visit; null where there is none, and while the page is drawn on the server. */
export function useKept(key: string): [text: string | null, keep: (text: string) => void] {
  const text = useSyncExternalStore(
    follow,
    () => localStorage.getItem(key),
    () => null,
  );
  const keep = useCallback(
    (next: string) => {
      localStorage.setItem(key, next);
      window.dispatchEvent(new Event(CHANGED));
    },
    [key],
  );
  return [text, keep];
}
