import { monthOf } from '@/core/maintenance/month';
import { formatDuration } from '@/core/time/duration';
import { dateAt } from '@/core/time/zone-time';
import { capitalise, numberWord } from '@/core/text/words';
import { requestTime } from '@/server/base/clock';
import { serverContext } from '@/server/context';
import { ButtonLink } from '@/ui/basic/button';
import { DeleteThroughApi } from '@/ui/basic/delete-through-api';
import { Time } from '@/ui/form/zone';
import { CalendarFile } from '@/ui/maintenance/calendar-file';
import { MonthView } from '@/ui/maintenance/month-view';
import { WindowActions } from '@/ui/maintenance/window-actions';
import { fetchCoverageChoices, fetchMaintenance, type PlannedWindow } from '@/views/maintenance/planned';
import { requireRight } from '@/app/session';

export const metadata = { title: 'Maintenance' };

function sentenceOf(running: number, planned: number): string {
  if (running === 1) return 'Maintenance is under way.';
  if (running > 1) return `${capitalise(numberWord(running))} are under maintenance plans now.`;
  return planned > 0 ? 'Maintenance is planned.' : 'No maintenance is planned.';
}

function WindowRow({ window, running }: { window: PlannedWindow; running: boolean }) {
  return (
    <li className="border-rule flex flex-wrap items-center gap-3 border-t py-2.5">
      <div className="min-w-0 flex-1 basis-64">
        <p className="font-semibold">{window.title}</p>
        <p className="text-muted text-[0.875rem]">
          <Time at={window.begins} /> to <Time at={window.ends} /> (
          {formatDuration(window.ends - window.begins)}
          ): {window.about}
          {window.seriesId !== null && '; comes again'}
        </p>
      </div>
      <WindowActions id={window.id} title={window.title} running={running} again={window.seriesId !== null} />
    </li>
  );
}

export default async function Maintenance({ searchParams }: { searchParams: Promise<{ month?: string }> }) {
  await requireRight('operate');
  const { db, place } = serverContext();
  const now = requestTime();
  const month = monthOf((await searchParams).month, now, place.zone);
  const view = await fetchMaintenance(db, { now, month, zone: place.zone });
  const choices = await fetchCoverageChoices(db);
  return (
    <div className="flex flex-col gap-5">
      <div className="flex flex-wrap items-start gap-3">
        <div className="min-w-0 flex-1 basis-72">
          <h1>{sentenceOf(view.running.length, view.coming.length)}</h1>
          <p className="text-muted mt-1.5">
            Meanwhile nobody is told of trouble and no downtime counts. Public pages announce it ahead.
          </p>
        </div>
        <ButtonLink href="/maintenance/new" look="strong">
          Plan maintenance
        </ButtonLink>
      </div>
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-5 xl:grid-cols-2">
        <div className="flex flex-col gap-5">
          {view.running.length > 0 && (
            <section className="sheet px-5 py-4">
              <h2>Under way</h2>
              <ul className="mt-1">
                {view.running.map((window) => (
                  <WindowRow key={window.id} window={window} running />
                ))}
              </ul>
            </section>
          )}
          <section className="sheet px-5 py-4">
            <h2>Planned</h2>
            {view.coming.length === 0 ? (
              <p className="text-muted mt-1">
                For example: a new mast for the harbour camera, Thursday from 13:00 to 15:00. What is planned
                stands here.
              </p>
            ) : (
              <ul className="mt-1">
                {view.coming.map((window) => (
                  <WindowRow key={window.id} window={window} running={false} />
                ))}
              </ul>
            )}
            {view.more > 0 && (
              <p className="text-muted mt-2 text-[0.875rem]">{view.more} more; each month shows its own.</p>
            )}
          </section>
          <section className="sheet px-5 py-4">
            <h2>Comes again</h2>
            {view.series.length === 0 ? (
              <p className="text-muted mt-1">
                For example: the ticket kiosks start anew every Sunday from 02:00 to 02:45. Choose how it
                repeats when you plan it.
              </p>
            ) : (
              <ul className="mt-1">
                {view.series.map((one) => (
                  <li key={one.id} className="border-rule flex flex-wrap items-center gap-3 border-t py-2.5">
                    <div className="min-w-0 flex-1 basis-64">
                      <p className="font-semibold">{one.title}</p>
                      <p className="text-muted text-[0.875rem]">
                        <span className="inline-block first-letter:uppercase">{one.inWords}</span>, at{' '}
                        {one.first.slice(11)} for {formatDuration(one.lastsMinutes * 60_000)} ({one.zone}):{' '}
                        {one.about}.{' '}
                        {one.nextAt === null ? (
                          'Not within the next three months.'
                        ) : (
                          <>
                            Next <Time at={one.nextAt} />.
                          </>
                        )}
                      </p>
                    </div>
                    <ButtonLink href={`/maintenance/recurring/${one.id}`}>Change</ButtonLink>
                    <DeleteThroughApi
                      trigger="End it"
                      path={`/recurring-windows/${one.id}`}
                      title={`Let “${one.title}” come no more?`}
                      explanation="What has not begun is called off. What is under way ends as planned."
                    />
                  </li>
                ))}
              </ul>
            )}
          </section>
        </div>
        <div className="flex flex-col gap-5">
          <MonthView
            grid={view.grid}
            windows={view.inMonth}
            today={dateAt(now, place.zone)}
            zone={place.zone}
          />
          <CalendarFile choices={choices} zone={place.zone} />
        </div>
      </div>
    </div>
  );
}
