'use client';

import type { ReactNode } from 'react';
import { useLateRows } from './late-rows';

interface LateBodyProps<Wire, Row> {
  path: string;
  readAt: number;
  rowOf: (wire: Wire) => Row;
  /** Of its place, while its rows are not there. */
  height: number;
  draw: (row: Row, i: number) => ReactNode;
}

const EVERY_COLUMN = 20;

/** Rows of a table that are there while they are near what is seen; else their place. */
export function LateBody<Wire, Row>({ path, readAt, rowOf, height, draw }: LateBodyProps<Wire, Row>) {
  const {
    place,
    rows,
    problem,
    height: last,
  } = useLateRows<HTMLTableSectionElement, Wire, Row>(path, readAt, rowOf);
  return (
    <tbody ref={place} aria-busy={rows === null}>
      {rows?.map(draw) ?? (
        <tr>
          <td colSpan={EVERY_COLUMN} style={{ height: last ?? height }} className="px-4 align-top">
            {problem !== null && <span role="alert">{problem}</span>}
          </td>
        </tr>
      )}
    </tbody>
  );
}
