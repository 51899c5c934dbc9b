'use client';

import { useEffect, useRef, useState, type RefObject } from 'react';
import { callApi } from '@/ui/basic/call-api';
import type { DeskLine } from '@/views/overview/overview';

/** Rows are asked for before they come into sight, and let go of far behind it. */
const NEAR = '900px 0px';
/** One that is on its way past is not asked for. */
const REST_MS = 120;

type Wire = Omit<DeskLine, 'line'> & { line: { kind: string; from: string; until: string }[] };

const lineOf = ({ line, ...rest }: Wire): DeskLine => ({
  ...rest,
  line: line.map(({ kind, from, until }) => ({
    kind: kind as DeskLine['line'][number]['kind'],
    from: Date.parse(from),
    to: Date.parse(until),
  })),
});

export interface Late<E extends Element> {
  /** What holds their place. */
  place: RefObject<E | null>;
  /** Null while they are not there. */
  rows: DeskLine[] | null;
  problem: string | null;
}

/**
 * Rows of a long list that are not near what is seen: their place is kept free, and they are there while it is near.
 * `query` says which; `readAt` when the page was read, by which they are read anew with it.
 */
export function useLateRows<E extends Element>(query: string, readAt: number): Late<E> {
  const place = useRef<E>(null);
  const [near, setNear] = useState(false);
  const [read, setRead] = useState<{ query: string; rows: DeskLine[] } | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  useEffect(() => {
    const sight = new IntersectionObserver(([entry]) => setNear(entry!.isIntersecting), {
      rootMargin: NEAR,
    });
    sight.observe(place.current!);
    return () => sight.disconnect();
  }, []);
  useEffect(() => {
    if (!near) return;
    let wanted = true;
    const timer = setTimeout(() => {
      void callApi<Wire[]>('GET', `/lines?${query}`).then((result) => {
        if (!wanted) return;
        setProblem(result.ok ? null : result.detail);
        if (result.ok) setRead({ query, rows: result.value.map(lineOf) });
      });
    }, REST_MS);
    return () => {
      wanted = false;
      clearTimeout(timer);
    };
  }, [near, query, readAt]);
  return { place, rows: near && read?.query === query ? read.rows : null, problem };
}
