import { notFound } from 'next/navigation';
import type { SharedPlace } from '@/core/settings/cascade';
import { requestTime } from '@/server/base/clock';
import { capitalise, countWatches } from '@/core/text/words';
import { serverContext } from '@/server/context';
import { PlaceList } from '@/ui/overview/place-list';
import { sharedSettingsVersion } from '@/cases/watches/shared-settings';
import { SharedSettingsForm } from '@/ui/watches/shared-settings-form';
import { fetchSharedView } from '@/views/settings/shared-settings';
import { requireRight } from '@/app/session';

export const metadata = { title: 'Set once' };

interface SharedPageProps {
  searchParams: Promise<{ kind?: string; section?: string }>;
}

function placeOf({ kind, section }: { kind?: string; section?: string }): SharedPlace {
  if (section !== undefined) return { level: 'section', section };
  return kind === undefined ? { level: 'instance' } : { level: 'kind', kind };
}

export default async function SharedPage({ searchParams }: SharedPageProps) {
  await requireRight('operate');
  const place = placeOf(await searchParams);
  const { db, environment } = serverContext();
  const view = await fetchSharedView(db, place);
  if (!view) notFound();
  const kind = place.level === 'kind' ? view.kinds.find((one) => one.id === place.kind)! : null;
  const title =
    place.level === 'section'
      ? `What holds in “${place.section}”`
      : kind
        ? `What holds for every ${kind.title} watch`
        : 'What holds for everything';
  return (
    <div className="grid items-start gap-8 lg:grid-cols-[13rem_minmax(0,1fr)]">
      <PlaceList place={place} kinds={view.kinds} sections={view.sections} />
      <div className="flex max-w-3xl flex-col gap-5">
        <div>
          <h1>{title}</h1>
          <p className="text-muted mt-1.5">
            {view.reach === 0
              ? 'No watch takes its settings from here yet.'
              : `${capitalise(countWatches(view.reach))} ${view.reach === 1 ? 'takes its' : 'take their'} settings from here.`}{' '}
            The nearest counts: the watch itself, then its section, then its kind, then everything.
          </p>
        </div>
        <SharedSettingsForm
          key={JSON.stringify(place)}
          view={view}
          version={await sharedSettingsVersion(db)}
          zone={environment.zone}
          now={requestTime()}
        />
      </div>
    </div>
  );
}
