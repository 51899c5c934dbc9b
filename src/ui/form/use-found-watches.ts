'use client';

import { useEffect, useState } from 'react';
import type { State } from '@/core/lifecycle/state';
import { callApi } from '@/ui/basic/call-api';

export interface FoundWatch {
  id: number;
  name: string;
  state: State;
}

/** What was found for some words. */
export interface Found {
  words: string;
  watches: FoundWatch[];
}

/** Names are asked for so long after the last key. */
const REST_MS = 80;

/** Watches with these words in their names, as they are typed; what was found last stays until more is. Nothing for no words. */
export function useFoundWatches(words: string, most: number): Found | null {
  const [last, setLast] = useState<Found | null>(null);
  useEffect(() => {
    if (words === '') return;
    let over = false;
    const timer = setTimeout(() => {
      const query = new URLSearchParams({ words, limit: String(most) });
      void callApi<FoundWatch[]>('GET', `/watch-names?${query}`).then((answer) => {
        if (!over && answer.ok) setLast({ words, watches: answer.value });
      });
    }, REST_MS);
    return () => {
      over = true;
      clearTimeout(timer);
    };
  }, [words, most]);
  return last;
}
