'use client';

import { useEffect, useRef, useState, type RefObject } from 'react';
import { callApi } from '@/ui/basic/call-api';
import { watchSight } from '@/ui/lists/in-sight';

/** Rows are asked for before they come into sight, and let go of far behind it. */
const NEAR = '900px 0px';
/** One that is on its way past is not asked for. */
const REST_MS = 120;

export interface Late<E extends Element, Row> {
  /** What holds their place. */
  place: RefObject<E | null>;
  /** Null while they are not there. */
  rows: Row[] | null;
  problem: string | null;
  /** How high they were when they were there last; null where they never were. */
  height: number | null;
}

/**
 * Rows of a long list that are not near what is seen: their place is kept free, and they are there while it is near.
 * `path` says which; `readAt` when the page was read, by which they are read anew with it. What is answered is made into
 * rows by `rowOf`, which has to stay the same.
 */
export function useLateRows<E extends Element, Wire, Row>(
  path: string,
  readAt: number,
  rowOf: (wire: Wire) => Row,
): Late<E, Row> {
  const place = useRef<E>(null);
  const [near, setNear] = useState(false);
  const [read, setRead] = useState<{ path: string; rows: Row[] } | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [height, setHeight] = useState<number | null>(null);
  const there = useRef(false);
  useEffect(
    () =>
      watchSight(place.current!, NEAR, (isNear, high) => {
        // What is let go of leaves its place as it was, so that nothing jumps.
        if (!isNear && there.current) setHeight(high);
        setNear(isNear);
      }),
    [],
  );
  /** Questions are counted; what answers an older one than what is shown comes too late. */
  const asked = useRef(0);
  const answered = useRef(0);
  useEffect(() => {
    if (!near) return;
    // One that is under way is not called off when the page is read anew: on a busy desk no answer would ever be in time.
    const timer = setTimeout(() => {
      const mine = (asked.current += 1);
      void callApi<Wire[]>('GET', path).then((result) => {
        if (mine < answered.current) return;
        answered.current = mine;
        setProblem(result.ok ? null : result.detail);
        if (result.ok) setRead({ path, rows: result.value.map(rowOf) });
      });
    }, REST_MS);
    return () => clearTimeout(timer);
  }, [near, path, readAt, rowOf]);
  const rows = near && read?.path === path ? read.rows : null;
  useEffect(() => {
    there.current = rows !== null;
  }, [rows]);
  return { place, rows, problem, height };
}
