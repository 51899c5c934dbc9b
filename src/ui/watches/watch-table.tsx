'use client';

import { useCallback, useState } from 'react';
import type { ListedWatch } from '@/views/settings/watch-list';
import { ChangeMany, type ChangeManyProps } from './change-many';
import { Tag } from '@/ui/basic/tag';
import { Table, Tick } from '@/ui/basic/table';
import { deskLineOf } from '@/ui/overview/desk-line';
import { LateBody } from '@/ui/overview/late-body';
import { WatchLink } from '@/ui/watch/watch-link';

interface WatchTableProps {
  /** The first rows. */
  rows: readonly ListedWatch[];
  /** All there are, in order. */
  ids: readonly number[];
  /** Those behind the first, by what they are asked for with. */
  later: readonly { query: string; before: number; count: number }[];
  readAt: number;
  /** For changing what was chosen. */
  change: Omit<ChangeManyProps, 'chosen' | 'onDone'>;
}

const ROW_PX = 37;

interface RowProps {
  row: ListedWatch;
  ticked: boolean;
  /** Where it stands, counted from 1 with the heads. */
  place: number;
  onTick: (row: ListedWatch, on: boolean) => void;
}

function Row({ row, ticked, place, onTick }: RowProps) {
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
      <td className="max-w-72 pr-3">
        <WatchLink watch={row} />
      </td>
      <td className="pr-3 whitespace-nowrap max-md:hidden">{row.kind}</td>
      <td className="text-muted max-w-64 truncate pr-3 text-[0.8438rem] max-lg:hidden" title={row.target}>
        {row.target}
      </td>
      <td className="pr-3 max-sm:hidden">{row.section}</td>
      <td className="pr-3 max-md:hidden">
        <span className="flex flex-wrap gap-1">
          {row.tags.map((tag) => (
            <Tag key={tag.id} tag={tag} />
          ))}
        </span>
      </td>
      <td className="figures pr-4 text-right text-[0.8438rem] whitespace-nowrap max-lg:hidden">{row.pace}</td>
    </tr>
  );
}

/** All watches as one table; those that are ticked can be changed together. */
export function WatchTable({ rows, ids, later, readAt, change }: WatchTableProps) {
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
      <div className="sheet overflow-x-auto">
        <Table
          className="text-[0.9062rem]"
          rowCount={ids.length + 1}
          heads={[
            [
              <Tick
                label={later.length > 0 ? `Choose all ${ids.length}` : 'Choose all that are shown'}
                className="align-middle"
                checked={chosen.length > 0 && chosen.length === ids.length}
                onTick={tickAll}
              />,
              'w-10 px-4 py-2',
            ],
            ['watch'],
            ['kind', 'max-md:hidden'],
            ['what it watches', 'max-lg:hidden'],
            ['section', 'max-sm:hidden'],
            ['tags', 'max-md:hidden'],
            ['looks', 'pr-4 text-right max-lg:hidden'],
          ]}
          more={later.map(({ query, before, count }) => (
            <LateBody
              key={before}
              path={`/lines?${query}`}
              readAt={readAt}
              height={count * ROW_PX}
              rowOf={deskLineOf}
              draw={(row, i) => (
                <Row
                  key={row.id}
                  row={row}
                  place={before + i + 2}
                  ticked={ticked.has(row.id)}
                  onTick={onTick}
                />
              )}
            />
          ))}
        >
          {rows.map((row, i) => (
            <Row key={row.id} row={row} place={i + 2} ticked={ticked.has(row.id)} onTick={onTick} />
          ))}
        </Table>
        {rows.length === 0 && (
          <p className="text-muted px-4 py-6">No watch is like this. Show all, or narrow it another way.</p>
        )}
      </div>
    </>
  );
}
