import { notFound } from 'next/navigation';
import { windowVersion } from '@/cases/maintenance/windows';
import { requestTime } from '@/server/base/clock';
import { serverContext } from '@/server/context';
import { fetchWindow } from '@/store/maintenance/windows';
import { Crumbs, MAINTENANCE } from '@/ui/basic/crumbs';
import { WindowActions } from '@/ui/maintenance/window-actions';
import { WindowForm } from '@/ui/maintenance/window-form';
import { fetchCoverageChoices } from '@/views/maintenance/planned';
import { requireRight } from '@/app/session';

export const metadata = { title: 'Change maintenance' };

export default async function ChangeMaintenance({ params }: { params: Promise<{ id: string }> }) {
  await requireRight('operate');
  const { id } = await params;
  const { db } = serverContext();
  const window = /^[1-9]\d{0,14}$/.test(id) ? await fetchWindow(db, Number(id)) : null;
  if (!window) notFound();
  const { title, text, announceDays, watchIds, sectionIds, tagIds, begins, ends } = window;
  const now = requestTime();
  return (
    <div className="flex flex-col gap-5">
      <div className="flex flex-wrap items-start gap-3">
        <div className="min-w-0 flex-1 basis-72">
          <Crumbs to={[MAINTENANCE]} />
          <h1>
            {title}
            {ends <= now ? ' is over.' : begins <= now ? ' is under way.' : ' is planned.'}
          </h1>
          {window.seriesId !== null && (
            <p className="text-muted mt-1.5">
              This is one time of what comes again. What is changed here holds for this time alone.
            </p>
          )}
        </div>
        {ends > now && (
          <WindowActions
            id={window.id}
            title={title}
            running={begins <= now}
            again={window.seriesId !== null}
          />
        )}
      </div>
      <WindowForm
        key={window.id}
        choices={await fetchCoverageChoices(db, watchIds)}
        start={{
          ...{ id: window.id, version: windowVersion(window), title, text, announceDays },
          ...{ watchIds, sectionIds, tagIds, span: { begins, ends }, recurring: null },
        }}
      />
    </div>
  );
}
