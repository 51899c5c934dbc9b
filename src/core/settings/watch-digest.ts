import type { State } from '@/core/lifecycle/state';

/** Of a watch, what lists and counts ask of all of them: kept by the engine, so that nothing else of them is read. */
export interface WatchDigest {
  watchId: number;
  state: State;
  /** What a text may be found in, in small letters: its name and what it looks at. */
  words: string;
  host: string | null;
  /** Where it was reached last. */
  address: string | null;
  /** Behind which time it wants a hand, ms since 1970; null while it wants none. */
  wantsFrom: number | null;
}

/** The words a watch is found by. */
export function wordsOf(name: string, target: string): string {
  return `${name}\n${target}`.toLowerCase();
}

export function isSameDigest(a: WatchDigest, b: WatchDigest): boolean {
  return (
    a.state === b.state &&
    a.words === b.words &&
    a.host === b.host &&
    a.address === b.address &&
    a.wantsFrom === b.wantsFrom
  );
}
