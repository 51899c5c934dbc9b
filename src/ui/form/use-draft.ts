'use client';

import { DAY_MS } from '@/core/time/units';
import { useEffect, useRef, useState } from 'react';

const PREFIX = 'lantern-draft:';
const SAVE_AFTER_MS = 400;
/** What was left for longer is not what somebody comes back for. */
const KEPT_MS = 7 * DAY_MS;

interface Kept<T> {
  at: number;
  value: T;
}

function read<T>(key: string): T | null {
  try {
    const kept = JSON.parse(localStorage.getItem(PREFIX + key) ?? 'null') as Kept<T> | null;
    return kept && Date.now() - kept.at < KEPT_MS ? kept.value : null;
  } catch {
    return null;
  }
}

/**
 * Keeps a half-filled form in this browser, so that it outlasts going back, a reload and a closed tab. `keep` takes out
 * what must not lie there, such as secrets. Returns whether something was taken up again, and how to let go of it: for good,
 * or with the form going on from its beginning.
 */
export function useDraft<T>(
  key: string,
  value: T,
  initial: T,
  { keep, restore }: { keep: (value: T) => T; restore: (kept: T) => void },
): { restored: boolean; forget: (goesOn?: boolean) => void } {
  const [restored, setRestored] = useState(false);
  const done = useRef(false);
  // A state: what was typed before it was ready is kept by then, though nothing is typed behind it.
  const [ready, setReady] = useState(false);
  useEffect(() => {
    // Behind the first drawing, which knows nothing of this browser.
    const timer = setTimeout(() => {
      const kept = read<T>(key);
      setReady(true);
      if (kept === null) return;
      restore(kept);
      setRestored(true);
    }, 0);
    return () => clearTimeout(timer);
    // Once, when the form opens.
    // oxlint-disable-next-line react/exhaustive-deps
  }, [key]);
  useEffect(() => {
    if (!ready || done.current) return undefined;
    const timer = setTimeout(() => {
      // Saved meanwhile: what was typed last is no draft any more.
      if (done.current) return;
      try {
        const changed = JSON.stringify(value) !== JSON.stringify(initial);
        if (changed)
          localStorage.setItem(PREFIX + key, JSON.stringify({ at: Date.now(), value: keep(value) }));
        else localStorage.removeItem(PREFIX + key);
      } catch {
        // Without room to keep it, the form works all the same.
      }
    }, SAVE_AFTER_MS);
    return () => clearTimeout(timer);
  }, [ready, key, value, initial, keep]);
  const forget = (goesOn = false) => {
    done.current = !goesOn;
    setRestored(false);
    try {
      localStorage.removeItem(PREFIX + key);
    } catch {
      // Nothing was kept.
    }
  };
  return { restored, forget };
}
