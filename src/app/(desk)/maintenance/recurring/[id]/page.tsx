import { notFound } from 'next/navigation';
import { seriesVersion } from '@/cases/maintenance/series';
import { serverContext } from '@/server/context';
import { fetchOneSeries } from '@/store/maintenance/series';
import { Crumbs, MAINTENANCE } from '@/ui/basic/crumbs';
import { WindowForm } from '@/ui/maintenance/window-form';
import { fetchCoverageChoices } from '@/views/maintenance/planned';
import { requireRight } from '@/app/session';

export const metadata = { title: 'Change what comes again' };

export default async function ChangeRecurring({ params }: { params: Promise<{ id: string }> }) {
  await requireRight('operate');
  const { id } = await params;
  const { db } = serverContext();
  const series = /^[1-9]\d{0,14}$/.test(id) ? await fetchOneSeries(db, Number(id)) : null;
  if (!series) notFound();
  const { title, text, announceDays, watchIds, sectionIds, tagIds, rule, zone, first, lastsMinutes } = series;
  return (
    <div className="flex flex-col gap-5">
      <div>
        <Crumbs to={[MAINTENANCE]} />
        <h1>{title} comes again and again.</h1>
        <p className="text-muted mt-1.5">
          What is under way, and times that were changed by themselves, stay as they are.
        </p>
      </div>
      <WindowForm
        key={series.id}
        choices={await fetchCoverageChoices(db)}
        start={{
          ...{ id: series.id, version: seriesVersion(series), title, text, announceDays },
          ...{ watchIds, sectionIds, tagIds, span: null, recurring: { rule, zone, first, lastsMinutes } },
        }}
      />
    </div>
  );
}
