'use client';

import { useState } from 'react';
import type { ListedWatch } from '@/views/settings/watch-list';
import { ChangeMany, type ChangeManyProps } from './change-many';
import { Tag } from '@/ui/basic/tag';
import { Table, Tick } from '@/ui/basic/table';
import { WatchLink } from '@/ui/watch/watch-link';

interface WatchTableProps {
  rows: readonly ListedWatch[];
  /** For changing what was chosen. */
  change: Omit<ChangeManyProps, 'chosen' | 'onDone'>;
}

/** All watches as one table; those that are ticked can be changed together. */
export function WatchTable({ rows, change }: WatchTableProps) {
  const [ticked, setTicked] = useState<ReadonlySet<number>>(new Set());
  const chosen = rows.filter((row) => ticked.has(row.id));
  const flip = (ids: readonly number[], on: boolean) => {
    const next = new Set(ticked);
    for (const id of ids) {
      if (on) next.add(id);
      else next.delete(id);
    }
    setTicked(next);
  };
  const all = rows.map((row) => row.id);
  return (
    <>
      <ChangeMany chosen={chosen} onDone={() => setTicked(new Set())} {...change} />
      <div className="sheet overflow-x-auto">
        <Table
          className="text-[0.9062rem]"
          heads={[
            [
              <Tick
                label="Choose all that are shown"
                className="align-middle"
                checked={chosen.length > 0 && chosen.length === rows.length}
                onTick={(on) => flip(all, on)}
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
        >
          {rows.map((row) => (
            <tr key={row.id} className="border-rule has-[:checked]:bg-quiet border-t">
              <td className="px-4 py-1.5">
                <Tick
                  label={`Choose ${row.name}`}
                  className="align-middle"
                  checked={ticked.has(row.id)}
                  onTick={(on) => flip([row.id], on)}
                />
              </td>
              <td className="max-w-72 pr-3">
                <WatchLink watch={row} />
              </td>
              <td className="pr-3 whitespace-nowrap max-md:hidden">{row.kind}</td>
              <td
                className="text-muted max-w-64 truncate pr-3 text-[0.8438rem] max-lg:hidden"
                title={row.target}
              >
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
              <td className="figures pr-4 text-right text-[0.8438rem] whitespace-nowrap max-lg:hidden">
                {row.pace}
              </td>
            </tr>
          ))}
        </Table>
        {rows.length === 0 && (
          <p className="text-muted px-4 py-6">No watch is like this. Show all, or narrow it another way.</p>
        )}
      </div>
    </>
  );
}
