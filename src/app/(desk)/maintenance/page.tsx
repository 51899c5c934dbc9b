import { formatDuration } from '@/core/time/duration';
import { requestTime } from '@/server/base/clock';
import { serverContext } from '@/server/context';
import { fetchNamedWatches } from '@/store/watches/watches';
import { fetchWindows } from '@/store/maintenance/windows';
import { DeleteThroughApi } from '@/ui/basic/delete-through-api';
import { Time } from '@/ui/form/zone';
import { WindowForm } from '@/ui/pages/window-form';
import { requireRight } from '@/app/session';

export const metadata = { title: 'Maintenance' };

export default async function Maintenance() {
  await requireRight('operate');
  const { db } = serverContext();
  const now = requestTime();
  const windows = await fetchWindows(db, now);
  const watches = await fetchNamedWatches(db);
  const names = new Map(watches.map((watch) => [watch.id, watch.name]));
  const running = windows.some((window) => window.begins <= now);
  return (
    <div className="flex flex-col gap-5">
      <div>
        <h1>
          {running
            ? 'Maintenance is under way.'
            : windows.length > 0
              ? 'Maintenance is planned.'
              : 'No maintenance is planned.'}
        </h1>
        <p className="text-muted mt-1.5">
          Meanwhile nobody is told of trouble and no downtime counts. Public pages announce it ahead.
        </p>
      </div>
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-5 lg:grid-cols-[minmax(0,1fr)_24rem]">
        <section className="sheet px-5 py-4">
          <h2>Planned</h2>
          {windows.length === 0 ? (
            <p className="text-muted mt-1">
              For example: a new mast for the harbour camera, Thursday from 13:00 to 15:00. What is planned
              stands here.
            </p>
          ) : (
            <ul className="mt-1">
              {windows.map((window) => (
                <li key={window.id} className="border-rule flex flex-wrap items-center gap-3 border-t py-2.5">
                  <div className="min-w-0 flex-1">
                    <p className="font-semibold">{window.title}</p>
                    <p className="text-muted text-[0.875rem]">
                      <Time at={window.begins} /> to <Time at={window.ends} /> (
                      {formatDuration(window.ends - window.begins)}
                      ): {window.watchIds.flatMap((id) => names.get(id) ?? []).join(', ')}
                    </p>
                  </div>
                  <DeleteThroughApi
                    trigger="Call it off"
                    path={`/windows/${window.id}`}
                    title={`Call “${window.title}” off?`}
                    explanation="Its watches count as usual again, and public pages no longer announce it."
                  />
                </li>
              ))}
            </ul>
          )}
        </section>
        <WindowForm watches={watches.map(({ id, name }) => ({ id, name }))} />
      </div>
    </div>
  );
}
