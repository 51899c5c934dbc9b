'use client';

import { useCallback, useState } from 'react';
import type { ListedWatch } from '@/views/settings/watch-list';
import { ChangeMany, type ChangeManyProps } from './change-many';
import { Tick } from '@/ui/basic/table';
import { deskLineOf } from '@/ui/overview/desk-line';
import { LateBody } from '@/ui/overview/late-body';
import { ColumnHeads, ColumnMenu, type Sorted } from './column-heads';
import { useWatchColumns, type WatchColumn } from './watch-columns';

interface WatchTableProps {
  /** The first rows. */
  rows: readonly ListedWatch[];
  /** All there are, in order. */
  ids: readonly number[];
  /** Those behind the first, by what they are asked for with. */
  later: readonly { query: string; before: number; count: number }[];
  readAt: number;
  sorted: Sorted;
  /** What the list is narrowed by, as it stands in the address. */
  query: string;
  /** For changing what was chosen. */
  change: Omit<ChangeManyProps, 'chosen' | 'onDone'>;
}

const ROW_PX = 37;

interface RowProps {
  row: ListedWatch;
  columns: readonly WatchColumn[];
  ticked: boolean;
  /** Where it stands, counted from 1 with the heads. */
  place: number;
  onTick: (row: ListedWatch, on: boolean) => void;
}

function Row({ row, columns, ticked, place, onTick }: RowProps) {
  return (
    <tr aria-rowindex={place} className="border-rule has-[:checked]:bg-quiet border-t">
      <td className="px-4 py-1.5">
        <Tick
          label={`Choose ${row.name}`}
          className="align-middle"
          checked={ticked}
          onTick={(on) => onTick(row, on)}
        />
      </td>
      {columns.map(({ id, className, cell }) => (
        <td key={id} className={className}>
          {cell(row)}
        </td>
      ))}
    </tr>
  );
}

/** All watches as one table; those that are ticked can be changed together. */
export function WatchTable({ rows, ids, later, readAt, change, sorted, query }: WatchTableProps) {
  const columns = useWatchColumns();
  const { shown } = columns;
  const hrefOf = ({ by, descending }: Sorted) => {
    const order = [by !== null && `sort=${by}`, descending && 'order=desc'];
    return `/watches?${[query, ...order].filter(Boolean).join('&')}`;
  };
  /** Those that are ticked; of some it is not known here whether they are paused. */
  const [ticked, setTicked] = useState<ReadonlyMap<number, boolean | null>>(new Map());
  const chosen = ids.flatMap((id) => (ticked.has(id) ? [{ id, paused: ticked.get(id) ?? null }] : []));
  const onTick = useCallback(
    (row: ListedWatch, on: boolean) =>
      setTicked((before) => {
        const next = new Map(before);
        if (on) next.set(row.id, row.paused);
        else next.delete(row.id);
        return next;
      }),
    [],
  );
  const tickAll = (on: boolean) => {
    const paused = new Map(rows.map((row) => [row.id, row.paused]));
    setTicked(on ? new Map(ids.map((id) => [id, paused.get(id) ?? null])) : new Map());
  };
  return (
    <>
      <ChangeMany chosen={chosen} onDone={() => setTicked(new Map())} {...change} />
      <div className="flex justify-end">
        <ColumnMenu columns={columns} />
      </div>
      <div className="sheet overflow-x-auto">
        <table
          aria-rowcount={ids.length + 1}
          className={`w-full text-left text-[0.9062rem] ${columns.isSized ? 'table-fixed' : ''}`}
        >
          <thead className="text-muted text-[0.8125rem]">
            <tr>
              <th className="w-12 px-4 py-2 font-normal">
                <Tick
                  label={later.length > 0 ? `Choose all ${ids.length}` : 'Choose all that are shown'}
                  className="align-middle"
                  checked={chosen.length > 0 && chosen.length === ids.length}
                  onTick={tickAll}
                />
              </th>
              <ColumnHeads {...{ columns, sorted, hrefOf }} />
            </tr>
          </thead>
          <tbody>
            {rows.map((row, i) => (
              <Row
                key={row.id}
                columns={shown}
                {...{ row, onTick }}
                place={i + 2}
                ticked={ticked.has(row.id)}
              />
            ))}
          </tbody>
          {later.map(({ query, before, count }) => (
            <LateBody
              key={before}
              path={`/lines?${query}`}
              readAt={readAt}
              height={count * ROW_PX}
              rowOf={deskLineOf}
              draw={(row, i) => (
                <Row
                  key={row.id}
                  columns={shown}
                  {...{ row, onTick }}
                  place={before + i + 2}
                  ticked={ticked.has(row.id)}
                />
              )}
            />
          ))}
        </table>
        {rows.length === 0 && (
          <p className="text-muted px-4 py-6">No watch is like this. Show all, or narrow it another way.</p>
        )}
      </div>
    </>
  );
}
