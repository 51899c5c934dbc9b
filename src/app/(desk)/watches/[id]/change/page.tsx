import { watchVersion } from '@/cases/watches/around';
import { shownConfig } from '@/cases/watches/secret-settings';
import { requestTime } from '@/server/base/clock';
import { serverContext } from '@/server/context';
import { WatchForm } from '@/ui/watch-form/watch-form';
import { watchFormOf } from '@/ui/settings/watch-form-values';
import { fetchFormChoices } from '@/views/settings/form-choices';
import { watchOfPath } from '@/app/watch-of';
import { requireRight } from '@/app/session';

export const metadata = { title: 'Change a watch' };

export default async function ChangeWatch({ params }: { params: Promise<{ id: string }> }) {
  await requireRight('operate');
  const watch = await watchOfPath((await params).id);
  const { db, environment } = serverContext();
  return (
    <div className="flex flex-col gap-5">
      <h1>How {watch.name} is watched</h1>
      <WatchForm
        {...await fetchFormChoices(db, watch)}
        initial={watchFormOf({ ...watch, config: shownConfig(watch) }, environment.zone)}
        watchId={watch.id}
        version={watchVersion(watch)}
        now={requestTime()}
      />
    </div>
  );
}
