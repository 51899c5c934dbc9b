'use client';

import { useState } from 'react';
import { formatMs } from '@/core/time/duration';
import type { Run } from '@/core/reports/runs';
import { Button } from '@/ui/basic/button';
import { Time } from '@/ui/form/zone';
import { Table } from '@/ui/basic/table';

const FILTERS = {
  all: 'All',
  failed: 'Failed',
  never: 'Never done',
  doubled: 'Two at once',
} as const;

type Filter = keyof typeof FILTERS;

function passes(run: Run, filter: Filter): boolean {
  if (filter === 'failed') return run.result === 'failed';
  if (filter === 'never') return run.result === 'never done';
  return filter === 'all' || run.doubled;
}

function resultText(run: Run): string {
  const status = run.code !== null && run.result === 'failed' ? `, exit status ${run.code}` : '';
  const far = run.result === 'running' && run.progress !== null ? `, ${run.progress} %` : '';
  return `${run.result}${status}${far}${run.doubled ? ', beside another run' : ''}`;
}

/** What a job did, run by run. */
export function RunList({ runs }: { runs: readonly Run[] }) {
  const [filter, setFilter] = useState<Filter>('all');
  const shown = runs.filter((run) => passes(run, filter));
  const offered = (Object.keys(FILTERS) as Filter[]).filter((one) => runs.some((run) => passes(run, one)));
  return (
    <section className="sheet p-4">
      <div className="flex flex-wrap items-center gap-2">
        <h2>Runs</h2>
        {offered.length > 1 && (
          <div className="ml-auto flex flex-wrap gap-1.5" role="group" aria-label="Show these runs">
            {offered.map((one) => (
              <Button
                key={one}
                aria-pressed={one === filter}
                className="aria-pressed:border-lamp"
                onClick={() => setFilter(one)}
              >
                {FILTERS[one]}
              </Button>
            ))}
          </div>
        )}
      </div>
      {runs.length === 0 && (
        <p className="text-muted mt-1">
          Nothing yet: this page waits for the first check-in and shows it the moment it arrives. If it does
          not come, run the job once by hand, and try the check-in address itself from its machine:{' '}
          <code className="figures">curl -v</code> and the address say what stands in the way.
        </p>
      )}
      {shown.length > 0 && (
        <Table
          className="rows mt-1 text-[0.875rem]"
          heads={[
            ['run', 'py-1'],
            ['due', 'max-md:hidden'],
            ['came to'],
            ['took', 'text-right'],
            ['from', 'pl-4 max-lg:hidden'],
          ]}
        >
          {shown.map((run) => (
            <tr key={`${run.id}-${run.begun ?? run.ended}`} className="border-rule border-t align-top">
              <td className="figures py-1 pr-4 whitespace-nowrap">
                <Time at={run.begun ?? run.ended!} as="moment" />
              </td>
              <td className="figures text-muted pr-4 whitespace-nowrap max-md:hidden">
                {run.due === null ? '–' : <Time at={run.due} as="moment" />}
              </td>
              <td className={run.result === 'failed' || run.result === 'never done' ? 'text-down-text' : ''}>
                {resultText(run)}
                {run.name && <span className="text-muted"> · {run.name}</span>}
                {run.output && (
                  <details className="text-ink">
                    <summary className="text-muted cursor-pointer">output</summary>
                    <pre className="figures bg-quiet mt-1 max-h-72 overflow-auto rounded p-2 text-[0.7812rem] break-all whitespace-pre-wrap">
                      {run.output}
                    </pre>
                  </details>
                )}
              </td>
              <td className="figures text-right whitespace-nowrap">
                {run.ms === null ? '–' : formatMs(run.ms)}
              </td>
              <td className="text-muted max-w-56 truncate pl-4 max-lg:hidden" title={run.agent ?? undefined}>
                {run.address}
                {run.agent && ` · ${run.agent}`}
              </td>
            </tr>
          ))}
        </Table>
      )}
    </section>
  );
}
