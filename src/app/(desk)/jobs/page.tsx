import { capitalise, numberWord } from '@/core/text/words';
import { filterFromQuery, filterToQuery } from '@/core/settings/watch-filter';
import { wallAt } from '@/core/time/zone-time';
import { requestTime } from '@/server/base/clock';
import { serverContext } from '@/server/context';
import { ButtonLink } from '@/ui/basic/button';
import { ClockStrip } from '@/ui/charts/clock-strip';
import { FilterBar } from '@/ui/overview/filter-bar';
import { Live } from '@/ui/live/live';
import { fetchJobsView, type JobsView } from '@/views/jobs/jobs';
import { laterRows } from '@/app/later-rows';
import { JobTable } from '@/ui/jobs/job-table';
import { MOST_ROWS } from '@/views/settings/watch-list';
import { queryOf, type AskedQuery } from '@/app/query-of';
import { requireRight } from '@/app/session';

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

/** So many names make a sentence that one reads. */
const MOST_NAMED = 12;

function oftenText(often: JobsView['often']): string {
  const names = often.slice(0, MOST_NAMED).map((job) => job.name);
  const more = often.length - names.length;
  return more === 0 ? names.join(', ') : `${names.join(', ')} and ${more} more`;
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
                All day long, every half hour or more often: {oftenText(view.often)}.
              </p>
            )}
          </section>
          <section className="sheet overflow-x-auto">
            <JobTable
              jobs={view.jobs.slice(0, MOST_ROWS)}
              all={view.jobs.length}
              later={laterRows(
                filterToQuery(filter),
                Math.min(MOST_ROWS, view.jobs.length),
                view.jobs.length,
              )}
              readAt={now}
            />
            {view.jobs.length === 0 && <p className="text-muted px-4 py-6">No job is like this.</p>}
          </section>
        </>
      )}
    </div>
  );
}
