'use client';

import { useRouter } from 'next/navigation';
import { useEffect } from 'react';

const LEAST_BETWEEN_MS = 1500;

/**
 * Follows server-sent events and draws the page anew when something it shows has changed: at once for the
 * first change, then at most every second and a half. The browser reconnects by itself; after a reconnect
 * the page is drawn anew, since nobody knows what was missed.
 */
export function Live({ source, watchId }: { source: string; watchId?: number }) {
  const router = useRouter();
  useEffect(() => {
    let last = 0;
    let timer: ReturnType<typeof setTimeout> | null = null;
    let opened = false;
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
    events.addEventListener('hello', () => {
      if (opened) refresh();
      opened = true;
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
