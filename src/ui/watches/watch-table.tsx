'use client';

import Link from 'next/link';
import { useState } from 'react';
import { stateWords } from '@/core/history/state-text';
import type { FieldDescription } from '@/core/settings/field-description';
import type { KindChoice } from '@/views/settings/kind-choices';
import type { ListedWatch } from '@/views/settings/watch-list';
import { ChangeMany } from './change-many';
import { Lantern } from '@/ui/basic/lantern';
import { stateTextClass } from '@/ui/basic/state-colour';
import { Tag } from '@/ui/basic/tag';
import type { PickableWatch } from '@/ui/form/watch-picker';

interface WatchTableProps {
  rows: readonly ListedWatch[];
  /** For changing what was chosen. */
  change: {
    sections: string[];
    tags: ListedWatch['tags'];
    kinds: KindChoice[];
    fields: FieldDescription[];
    watches: PickableWatch[];
    zone: string;
    now: number;
  };
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
        <table className="w-full text-left text-[0.9062rem]">
          <thead className="text-muted text-[0.8125rem]">
            <tr>
              <th className="w-10 px-4 py-2 font-normal">
                <input
                  type="checkbox"
                  className="accent-button size-4 align-middle"
                  aria-label="Choose all that are shown"
                  checked={chosen.length > 0 && chosen.length === rows.length}
                  onChange={(event) => flip(all, event.target.checked)}
                />
              </th>
              <th className="font-normal">watch</th>
              <th className="font-normal max-md:hidden">kind</th>
              <th className="font-normal max-lg:hidden">what it watches</th>
              <th className="font-normal max-sm:hidden">section</th>
              <th className="font-normal max-md:hidden">tags</th>
              <th className="pr-4 text-right font-normal max-lg:hidden">looks</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <tr key={row.id} className="border-rule has-[:checked]:bg-quiet border-t">
                <td className="px-4 py-1.5">
                  <input
                    type="checkbox"
                    className="accent-button size-4 align-middle"
                    aria-label={`Choose ${row.name}`}
                    checked={ticked.has(row.id)}
                    onChange={(event) => flip([row.id], event.target.checked)}
                  />
                </td>
                <td className="max-w-72 pr-3">
                  <Link
                    href={`/watches/${row.id}`}
                    data-watch-link
                    className="hover:bg-quiet flex items-center gap-2 rounded py-0.5"
                  >
                    <Lantern state={row.state} />
                    <span className="truncate font-medium">{row.name}</span>
                    {row.state !== 'up' && (
                      <span className={`text-[0.7812rem] whitespace-nowrap ${stateTextClass(row.state)}`}>
                        {stateWords(row.state, row.warned)}
                      </span>
                    )}
                  </Link>
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
          </tbody>
        </table>
        {rows.length === 0 && (
          <p className="text-muted px-4 py-6">No watch is like this. Show all, or narrow it another way.</p>
        )}
      </div>
    </>
  );
}
