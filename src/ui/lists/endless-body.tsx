'use client';

import type { ReactNode } from 'react';
import { Button } from '@/ui/basic/button';
import { useEndless, type Endless } from './use-endless';

const EVERY_COLUMN = 20;

/** What stands at the end of a list while more of it is read. */
export function MoreIsRead({ problem, tryAgain }: Pick<Endless<unknown>, 'problem' | 'tryAgain'>) {
  if (problem === null) return 'More are read…';
  return (
    <span role="alert" className="flex items-center gap-3">
      {problem} <Button onClick={tryAgain}>Try again</Button>
    </span>
  );
}

interface EndlessProps<Wire, Row> {
  /** Where the rows behind the first begin, as a path of the API; null where there are none. */
  from: string | null;
  rowOf: (wire: Wire) => Row;
  /** A row, and how many stand before it in here. */
  draw: (row: Row, i: number) => ReactNode;
}

interface EndlessBodyProps<Wire, Row> extends EndlessProps<Wire, Row> {
  /** What is said where there are none, once that is known. */
  none?: ReactNode;
}

/** Further rows of a table. */
export function EndlessBody<Wire, Row>({ from, rowOf, draw, none }: EndlessBodyProps<Wire, Row>) {
  const { rows, goesOn, end, problem, tryAgain } = useEndless(from, rowOf);
  return (
    <>
      {rows.length > 0 && <tbody>{rows.map(draw)}</tbody>}
      {!goesOn && rows.length === 0 && none && (
        <tbody>
          <tr>
            <td colSpan={EVERY_COLUMN} className="text-muted py-2">
              {none}
            </td>
          </tr>
        </tbody>
      )}
      {goesOn && (
        <tbody ref={end} aria-busy={problem === null}>
          <tr>
            <td colSpan={EVERY_COLUMN} className="text-muted py-2">
              <MoreIsRead problem={problem} tryAgain={tryAgain} />
            </td>
          </tr>
        </tbody>
      )}
    </>
  );
}

/** Further items of a list. */
export function EndlessItems<Wire, Row>({ from, rowOf, draw }: EndlessProps<Wire, Row>) {
  const { rows, goesOn, end, problem, tryAgain } = useEndless(from, rowOf);
  return (
    <>
      {rows.map(draw)}
      {goesOn && (
        <li ref={end} aria-busy={problem === null} className="text-muted py-2">
          <MoreIsRead problem={problem} tryAgain={tryAgain} />
        </li>
      )}
    </>
  );
}
