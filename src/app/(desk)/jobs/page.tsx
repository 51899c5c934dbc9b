import { formatMs } from '@/core/time/duration';
import { capitalise, numberWord } from '@/core/text/words';
import { filterFromQuery } from '@/core/settings/watch-filter';
import { wallAt } from '@/core/time/zone-time';
import { requestTime } from '@/server/base/clock';
import { serverContext } from '@/server/context';
import { Ago } from '@/ui/basic/ago';
import { ButtonLink } from '@/ui/basic/button';
import { ClockStrip } from '@/ui/charts/clock-strip';
import { FilterBar } from '@/ui/overview/filter-bar';
import { Live } from '@/ui/live/live';
import { Tag } from '@/ui/basic/tag';
import { Time } from '@/ui/form/zone';
import { fetchJobsView, type JobsView } from '@/views/jobs/jobs';
import { queryOf, type AskedQuery } from '@/app/query-of';
import { requireRight } from '@/app/session';
import { Table } from '@/ui/basic/table';
import { WatchLink } from '@/ui/watch/watch-link';

export const metadata = { title: 'Jobs' };

function sentenceOf({ jobs, all }: JobsView): string {
  if (all === 0) return 'No job reports here yet.';
  const running = jobs.filter((job) => job.running.length > 0).length;
  const off = jobs.filter((job) => job.state === 'down' || job.state === 'overdue').length;
  const many = jobs.length === 1 ? 'One job' : `${capitalise(numberWord(jobs.length))} jobs`;
  const busy =
    running === 0 ? 'none is running' : running === 1 ? 'one is running' : `${running} are running`;
  const late = off === 0 ? '' : `, ${off === 1 ? 'one is' : `${off} are`} late or down`;
  return `${many}, ${busy}${late}.`;
}

export default async function Jobs({ searchParams }: { searchParams: Promise<AskedQuery> }) {
  await requireRight('look');
  const filter = filterFromQuery(queryOf(await searchParams));
  const { db, environment } = serverContext();
  const now = requestTime();
  const view = await fetchJobsView(db, filter, { now, zone: environment.zone });
  const { hour, minute } = wallAt(now, environment.zone);
  return (
    <div className="flex flex-col gap-4">
      <Live source="/live" readAt={now} />
      <div className="flex flex-wrap items-end gap-3">
        <h1>{sentenceOf(view)}</h1>
        <div className="ml-auto">
          <ButtonLink href="/watches/jobs">Bring your crontab</ButtonLink>
        </div>
      </div>
      {view.all === 0 ? (
        <p className="text-muted max-w-2xl">
          A scheduled job reports here when it has run, and you hear when it stays away, fails or takes too
          long. Bring a whole crontab, or add one check-in by hand.
        </p>
      ) : (
        <>
          <FilterBar
            path="/jobs"
            filter={filter}
            choices={{ ...view.choices, kinds: [] }}
            kept={[]}
            shown={view.jobs.length}
            all={view.all}
          />
          <section className="sheet p-4">
            <div className="mb-1 flex flex-wrap items-baseline gap-3">
              <h2>The next 24 hours</h2>
              <p className="text-muted text-[0.875rem]">where they are due, and how long they usually run</p>
            </div>
            <ClockStrip marks={view.marks} nowMinute={hour * 60 + minute} />
            {view.often.length > 0 && (
              <p className="text-muted mt-1 text-[0.8438rem]">
                All day long, every half hour or more often: {view.often.map((job) => job.name).join(', ')}.
              </p>
            )}
          </section>
          <section className="sheet overflow-x-auto">
            <Table
              className="text-[0.9062rem]"
              heads={[
                ['job', 'px-4 py-2'],
                ['due next'],
                ['last', 'max-sm:hidden'],
                ['last run took', 'text-right max-md:hidden'],
                ['expected', 'pl-4 max-lg:hidden'],
                ['section, tags', 'pr-4 pl-4 max-md:hidden'],
              ]}
            >
              {view.jobs.map((job) => (
                <tr key={job.id} className="border-rule border-t">
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
              ))}
            </Table>
            {view.jobs.length === 0 && <p className="text-muted px-4 py-6">No job is like this.</p>}
          </section>
        </>
      )}
    </div>
  );
}
