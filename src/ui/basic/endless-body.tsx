'use client';

import { useEffect, useRef, useState, type ReactNode } from 'react';
import { Button } from './button';
import { callApi } from './call-api';

/** The next rows are asked for before the last one comes into sight. */
const NEAR = '900px 0px';
const EVERY_COLUMN = 20;

interface EndlessBodyProps<Wire, Row> {
  /** Where the rows behind the first begin, as a path of the API; null where there are none. */
  from: string | null;
  rowOf: (wire: Wire) => Row;
  /** A row, and how many stand before it in here. */
  draw: (row: Row, i: number) => ReactNode;
}

/**
 * Further rows of a table, page after page as one scrolls to its end. They go on behind the row they began at, so that
 * what comes in above moves none of them.
 */
export function EndlessBody<Wire, Row>({ from, rowOf, draw }: EndlessBodyProps<Wire, Row>) {
  const end = useRef<HTMLTableSectionElement>(null);
  const [rows, setRows] = useState<Row[]>([]);
  const [next, setNext] = useState(from);
  const [near, setNear] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  useEffect(() => {
    if (next === null) return;
    const sight = new IntersectionObserver(([entry]) => setNear(entry!.isIntersecting), { rootMargin: NEAR });
    sight.observe(end.current!);
    return () => sight.disconnect();
  }, [next]);
  useEffect(() => {
    if (!near || next === null || problem !== null) return;
    let left = false;
    void callApi<Wire[]>('GET', next).then((result) => {
      if (left) return;
      if (!result.ok) return setProblem(result.detail);
      setRows((all) => [...all, ...result.value.map(rowOf)]);
      setNext(result.next);
    });
    return () => {
      left = true;
    };
  }, [near, next, problem, rowOf]);
  return (
    <>
      {rows.length > 0 && <tbody>{rows.map(draw)}</tbody>}
      {next !== null && (
        <tbody ref={end} aria-busy={problem === null}>
          <tr>
            <td colSpan={EVERY_COLUMN} className="text-muted py-2">
              {problem === null ? (
                'More are read…'
              ) : (
                <span role="alert" className="flex items-center gap-3">
                  {problem} <Button onClick={() => setProblem(null)}>Try again</Button>
                </span>
              )}
            </td>
          </tr>
        </tbody>
      )}
    </>
  );
}
