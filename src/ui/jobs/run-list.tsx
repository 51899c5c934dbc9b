'use client';

import { useState } from 'react';
import { formatMs } from '@/core/time/duration';
import { heardFirst, passesFilter, RUN_FILTERS, type Run, type RunFilter } from '@/core/reports/runs';
import { Button } from '@/ui/basic/button';
import { EndlessBody } from '@/ui/lists/endless-body';
import { useGathered } from '@/ui/lists/use-endless';
import { Time } from '@/ui/form/zone';
import { Table } from '@/ui/basic/table';
import { runOf, type WireRun } from './wire-run';

const FILTERS: Record<RunFilter, string> = {
  failed: 'Failed',
  'never-done': 'Never done',
  doubled: 'Two at once',
};

/** A run is the same one from its first report on. */
const placeOf = (run: Run) => [heardFirst(run), run.firstId] as const;

function resultText(run: Run): string {
  const status = run.code !== null && run.result === 'failed' ? `, exit status ${run.code}` : '';
  const far = run.result === 'running' && run.progress !== null ? `, ${run.progress} %` : '';
  return `${run.result}${status}${far}${run.doubled ? ', beside another run' : ''}`;
}

function RunRow({ run }: { run: Run }) {
  return (
    <tr className="border-rule border-t align-top">
      <td className="figures pr-4 whitespace-nowrap">
        <Time at={heardFirst(run)} as="moment" />
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
      <td className="figures text-right whitespace-nowrap">{run.ms === null ? '–' : formatMs(run.ms)}</td>
      <td className="text-muted max-w-56 truncate pl-4 max-lg:hidden" title={run.agent ?? undefined}>
        {run.address}
        {run.agent && ` · ${run.agent}`}
      </td>
    </tr>
  );
}

interface RunListProps {
  watchId: number;
  /** The first of them. */
  runs: readonly Run[];
  /** How many are read at once, and behind which run those behind the first begin; null where there are none. */
  limit: number;
  cursor: string | null;
}

/** What a job did, run by run; older ones come as one scrolls. */
export function RunList({ watchId, runs: read, limit, cursor }: RunListProps) {
  const [filter, setFilter] = useState<RunFilter | null>(null);
  const runs = useGathered(read, placeOf);
  const more = cursor !== null;
  const shown = runs.filter((run) => passesFilter(run, filter ?? undefined));
  // Behind the first ones there may be runs of any kind.
  const offered = RUN_FILTERS.filter((one) => more || runs.some((run) => passesFilter(run, one)));
  const query = [`limit=${limit}`, cursor && `cursor=${cursor}`, filter && `only=${filter}`];
  const choice = (one: RunFilter | null, words: string) => (
    <Button
      key={words}
      aria-pressed={one === filter}
      className="aria-pressed:border-lamp"
      onClick={() => setFilter(one)}
    >
      {words}
    </Button>
  );
  return (
    <section className="sheet p-4">
      <div className="flex flex-wrap items-center gap-2">
        <h2>Runs</h2>
        {offered.length > 0 && (
          <div className="ml-auto flex flex-wrap gap-1.5" role="group" aria-label="Show these runs">
            {choice(null, 'All')}
            {offered.map((one) => choice(one, FILTERS[one]))}
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
      {(shown.length > 0 || more) && (
        <Table
          className="rows mt-1 text-[0.875rem]"
          heads={[
            ['run', 'py-1'],
            ['due', 'max-md:hidden'],
            ['came to'],
            ['took', 'text-right'],
            ['from', 'pl-4 max-lg:hidden'],
          ]}
          more={
            <EndlessBody<WireRun, Run>
              key={filter ?? ''}
              from={more ? `/watches/${watchId}/runs?${query.filter(Boolean).join('&')}` : null}
              rowOf={runOf}
              none={shown.length === 0 && 'No run is like this.'}
              draw={(run) => <RunRow key={run.firstId} run={run} />}
            />
          }
        >
          {shown.map((run) => (
            <RunRow key={run.firstId} run={run} />
          ))}
        </Table>
      )}
    </section>
  );
}
