'use client';

import { formatMs } from '@/core/time/duration';
import { Ago } from '@/ui/basic/ago';
import { Table } from '@/ui/basic/table';
import { Tag } from '@/ui/basic/tag';
import { Time } from '@/ui/form/zone';
import { LateBody } from '@/ui/overview/late-body';
import { WatchLink } from '@/ui/watch/watch-link';
import type { JobLine } from '@/views/jobs/jobs';

const ROW_PX = 37;

/** A job as it is asked for. */
interface WireJob extends Omit<JobLine, 'due' | 'running' | 'lastAt' | 'usualMs'> {
  dueAt: string | null;
  runningSinceAt: string[];
  lastAt: string | null;
  lastRunMs: number | null;
}

const at = (time: string | null) => (time === null ? null : Date.parse(time));

const jobOf = ({ dueAt, runningSinceAt, lastAt, lastRunMs, ...rest }: WireJob): JobLine => ({
  ...rest,
  due: at(dueAt),
  running: runningSinceAt.map((time) => Date.parse(time)),
  lastAt: at(lastAt),
  usualMs: lastRunMs,
});

function JobRow({ job, place, now }: { job: JobLine; place: number; now: number }) {
  return (
    <tr aria-rowindex={place} className="border-rule border-t">
      <td className="max-w-72 px-4 py-1.5">
        <WatchLink watch={job} />
      </td>
      <td className="figures pr-3 text-[0.8438rem] sm:whitespace-nowrap">
        {job.running.length > 0 ? (
          <span className="text-fine font-sans">
            running for <Ago since={job.running[0]!} now={now} />
            {job.running.length > 1 && `, ${job.running.length} at once`}
          </span>
        ) : job.due === null ? (
          '–'
        ) : (
          <Time at={job.due} as="moment" />
        )}
      </td>
      <td className={`pr-3 max-sm:hidden ${job.lastFine === false ? 'text-down-text' : ''}`}>
        {job.lastAt === null ? (
          <span className="text-muted">never heard of</span>
        ) : (
          <>
            {job.lastFine === false ? 'failed ' : 'done '}
            <Ago since={job.lastAt} now={now} suffix=" ago" />
          </>
        )}
      </td>
      <td className="figures text-right text-[0.8438rem] max-md:hidden">
        {job.usualMs === null ? '–' : formatMs(job.usualMs)}
      </td>
      <td className="figures text-muted max-w-56 truncate pl-4 text-[0.8125rem] max-lg:hidden">
        {job.times}
      </td>
      <td className="pr-4 pl-4 max-md:hidden">
        <span className="flex flex-wrap items-center gap-1.5">
          {job.section}
          {job.tags.map((tag) => (
            <Tag key={tag.id} tag={tag} />
          ))}
        </span>
      </td>
    </tr>
  );
}

interface JobTableProps {
  /** The first of them. */
  jobs: readonly JobLine[];
  all: number;
  /** Those behind the first, by what they are asked for with. */
  later: readonly { query: string; before: number; count: number }[];
  readAt: number;
}

/** Jobs with what is due and what was last heard of them. */
export function JobTable({ jobs, all, later, readAt }: JobTableProps) {
  return (
    <Table
      className="text-[0.9062rem]"
      rowCount={all + 1}
      heads={[
        ['job', 'px-4 py-2'],
        ['due next'],
        ['last', 'max-sm:hidden'],
        ['last run took', 'text-right max-md:hidden'],
        ['expected', 'pl-4 max-lg:hidden'],
        ['section, tags', 'pr-4 pl-4 max-md:hidden'],
      ]}
      more={later.map(({ query, before, count }) => (
        <LateBody
          key={before}
          path={`/job-lines?${query}`}
          readAt={readAt}
          height={count * ROW_PX}
          rowOf={jobOf}
          draw={(job, i) => <JobRow key={job.id} job={job} place={before + i + 2} now={readAt} />}
        />
      ))}
    >
      {jobs.map((job, i) => (
        <JobRow key={job.id} job={job} place={i + 2} now={readAt} />
      ))}
    </Table>
  );
}
