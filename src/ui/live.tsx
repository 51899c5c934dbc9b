'use client';

import { useRouter } from 'next/navigation';
import { useEffect, useRef } from 'react';

const LEAST_BETWEEN_MS = 700;

interface LiveProps {
  source: string;
  /** When what is shown was read, by the server's clock. */
  readAt: number;
  /** Follow this watch only. */
  watchId?: number;
}

/**
 * Follows server-sent events and draws the page anew when something it shows has changed: at once for the
 * first change, then at most every 0.7 s. The browser reconnects by itself. Each greeting says
 * when something last changed, so that what happened before the connection stood is not missed either.
 */
export function Live({ source, readAt, watchId }: LiveProps) {
  const router = useRouter();
  const shown = useRef(readAt);
  useEffect(() => {
    shown.current = Math.max(shown.current, readAt);
  }, [readAt]);
  useEffect(() => {
    let last = 0;
    let timer: ReturnType<typeof setTimeout> | null = null;
    const refresh = () => {
      if (timer) return;
      const wait = Math.max(0, last + LEAST_BETWEEN_MS - Date.now());
      timer = setTimeout(() => {
        timer = null;
        last = Date.now();
        router.refresh();
      }, wait);
    };
    const events = new EventSource(source);
    events.addEventListener('hello', (event) => {
      const { changedAt } = JSON.parse((event as MessageEvent<string>).data) as { changedAt: number };
      if (changedAt >= shown.current) refresh();
    });
    events.addEventListener('changed', refresh);
    events.addEventListener('deliveries', refresh);
    events.addEventListener('watches', (event) => {
      const watches = JSON.parse((event as MessageEvent<string>).data) as { id: number }[];
      if (watchId === undefined || watches.some((w) => w.id === watchId)) refresh();
    });
    return () => {
      events.close();
      if (timer) clearTimeout(timer);
    };
  }, [router, source, watchId]);
  return null;
}
