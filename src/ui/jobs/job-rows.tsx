'use client';

import type { JobRow } from '@/core/imports/job-draft';
import { Link } from '@/ui/basic/link';
import { Table, Tick } from '@/ui/basic/table';
import { INPUT_CLASS } from '@/ui/form/fields';

export type RowAnswer = Omit<JobRow, 'leeway'> & { leewaySeconds: number };

/** One line, as it is chosen and put right before anything is made. */
export interface Ticked extends RowAnswer {
  ticked: boolean;
  minutes: string;
}

const STANDS: Record<JobRow['stands'], string> = {
  new: 'not watched yet',
  watched: 'watched',
  differs: 'expected at other times',
  'unknown address': 'reports elsewhere',
};

interface JobRowsProps {
  rows: readonly Ticked[];
  onChange: (line: number, next: Partial<Ticked>) => void;
}

/** What was read, line by line: which of it is to be watched, under what name, with how much leeway. */
export function JobRows({ rows, onChange }: JobRowsProps) {
  return (
    <div className="sheet overflow-x-auto p-4">
      <Table
        className="text-[0.9062rem]"
        heads={[
          // oxlint-disable-next-line react/jsx-key -- a head and its width, no list
          [<span className="sr-only">watch it</span>, 'w-8'],
          ['name'],
          ['when'],
          ['leeway, min', 'w-28'],
          ['stands'],
        ]}
      >
        {rows.map((row) => (
          <tr key={row.line} className="border-rule border-t align-top">
            <td className="py-2">
              <Tick
                label={`Watch the job of line ${row.line}`}
                checked={row.ticked}
                disabled={row.schedule === null}
                onTick={(on) => onChange(row.line, { ticked: on })}
              />
            </td>
            <td className="py-1.5 pr-3">
              <input
                className={`${INPUT_CLASS} !py-1`}
                aria-label={`Name of line ${row.line}`}
                value={row.name}
                onChange={(event) => onChange(row.line, { name: event.target.value })}
              />
              <code
                className="figures text-muted block max-w-96 truncate pt-1 text-[0.7812rem]"
                title={row.text}
              >
                {row.text}
              </code>
            </td>
            <td className="py-2 pr-3">{row.words}</td>
            <td className="py-1.5 pr-3">
              {row.schedule && (
                <input
                  className={`${INPUT_CLASS} figures !py-1`}
                  inputMode="numeric"
                  aria-label={`Leeway of line ${row.line}, in minutes`}
                  value={row.minutes}
                  onChange={(event) => onChange(row.line, { minutes: event.target.value })}
                />
              )}
            </td>
            <td className={`py-2 ${row.problem || row.note ? 'text-late-text' : ''}`}>
              {row.problem ?? row.note ?? STANDS[row.stands]}
              {row.watchId !== null && (
                <>
                  {' '}
                  <Link href={`/watches/${row.watchId}`} className="underline">
                    open
                  </Link>
                </>
              )}
            </td>
          </tr>
        ))}
      </Table>
    </div>
  );
}
