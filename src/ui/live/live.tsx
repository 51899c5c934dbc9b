'use client';

import { useRouter } from 'next/navigation';
import { useEffect, useRef, useTransition } from 'react';
import { follow } from './live-source';
import { later, Pacer } from './refresh-pace';

interface LiveProps {
  source: string;
  /** When what is shown was read, by the server's clock. */
  readAt: number;
  /** Follow this watch only. */
  watchId?: number;
}

/**
 * Follows server-sent events and draws the page anew when something it shows has changed. The browser reconnects by
 * itself. Each greeting says when something last changed, so that what happened before the connection stood is not
 * missed either; nor is what came between reading and the first drawing of a page that joins an open connection.
 */
export function Live({ source, readAt, watchId }: LiveProps) {
  const router = useRouter();
  const [drawing, startDrawing] = useTransition();
  const pacer = useRef<Pacer | null>(null);
  const shown = useRef(readAt);
  useEffect(() => {
    shown.current = Math.max(shown.current, readAt);
  }, [readAt]);
  useEffect(() => {
    if (!drawing) pacer.current?.drawn();
  }, [drawing]);
  useEffect(() => {
    const draw = () => startDrawing(() => router.refresh());
    const own = (pacer.current = new Pacer({ now: () => Date.now(), later, draw }));
    const changed = () => own.want();
    const hears = {
      hello: (data: unknown) => {
        if ((data as { changedAt: number }).changedAt >= shown.current) changed();
      },
      changed,
      deliveries: changed,
      watches: (data: unknown) => {
        const watches = data as { id: number }[];
        if (watchId === undefined || watches.some((w) => w.id === watchId)) changed();
      },
    };
    const leave = follow(source, hears, shown.current);
    return () => {
      leave();
      own.close();
    };
  }, [router, source, watchId]);
  return null;
}
