'use client';

import { useEffect, useState } from 'react';
import { callApi } from '@/ui/basic/call-api';
import { watchSight } from './in-sight';

/** The next rows are asked for before the last one comes into sight. */
const NEAR = '900px 0px';

export interface Endless<Row> {
  rows: readonly Row[];
  /** Whether more are to come. */
  goesOn: boolean;
  /** Stands behind the last row; more are read when it comes near. */
  end: (element: Element | null) => void;
  problem: string | null;
  tryAgain: () => void;
}

/**
 * Further rows of a list, page after page as one scrolls to its end. They go on behind the row they began at, so that
 * what comes in above moves none of them. `from` is a path of the API; null where there are none.
 */
export function useEndless<Wire, Row>(from: string | null, rowOf: (wire: Wire) => Row): Endless<Row> {
  const [rows, setRows] = useState<Row[]>([]);
  const [next, setNext] = useState(from);
  const [near, setNear] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const [last, end] = useState<Element | null>(null);
  useEffect(() => {
    if (!last) return;
    // Anew for each page: where the end is by then is told at once.
    return watchSight(last, NEAR, setNear);
  }, [last, rows]);
  useEffect(() => {
    if (!near || next === null || problem !== null) return;
    let left = false;
    void callApi<Wire[]>('GET', next).then((result) => {
      if (left) return;
      if (!result.ok) return setProblem(result.detail);
      setNear(false);
      setRows((all) => [...all, ...result.value.map(rowOf)]);
      setNext(result.next);
    });
    return () => {
      left = true;
    };
  }, [near, next, problem, rowOf]);
  return { rows, goesOn: next !== null, end, problem, tryAgain: () => setProblem(null) };
}

/** What is known of a list of which the first rows are read anew now and then: what newer ones push out of them stays. */
export function useGathered<Row>(
  read: readonly Row[],
  /** What rows are in the order of, the newest first: their time, and what tells each apart. */
  placeOf: (row: Row) => readonly [at: number, id: number],
): readonly Row[] {
  const [known, setKnown] = useState({ read, rows: read });
  if (known.read === read) return known.rows;
  const all = new Map([...known.rows, ...read].map((row) => [placeOf(row)[1], row]));
  const rows = [...all.values()].sort((a, b) => {
    const [[atA, idA], [atB, idB]] = [placeOf(a), placeOf(b)];
    return atB - atA || idB - idA;
  });
  setKnown({ read, rows });
  return rows;
}
