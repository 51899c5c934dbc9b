'use client';

import { useEffect, useState } from 'react';
import { formatDuration } from '@/core/time/duration';

/** A length that goes on: how long ago `since` was, drawn anew every second under a minute, else every 15 s. */
export function Ago({ since, now, suffix = '' }: { since: number; now: number; suffix?: string }) {
  const [at, setAt] = useState(now);
  useEffect(() => {
    const drift = Date.now() - now;
    const update = () => setAt(Date.now() - drift);
    const timer = setInterval(update, Date.now() - drift - since < 60_000 ? 1000 : 15_000);
    return () => clearInterval(timer);
  }, [since, now]);
  return (
    <>
      {formatDuration(Math.max(at, now) - since)}
      {suffix}
    </>
  );
}
