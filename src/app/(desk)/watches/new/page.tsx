import { shownConfig } from '@/cases/watches/secret-settings';
import { uniqueName } from '@/core/settings/unique-name';
import { requestTime } from '@/server/base/clock';
import { serverContext } from '@/server/context';
import { Link } from '@/ui/basic/link';
import { AddressOffer } from '@/ui/watch-form/address-offer';
import { WatchForm } from '@/ui/watch-form/watch-form';
import { emptyWatchForm, watchFormOf } from '@/ui/settings/watch-form-values';
import { fetchFormChoices } from '@/views/settings/form-choices';
import { watchOfPath } from '@/app/watch-of';
import { requireRight } from '@/app/session';

export const metadata = { title: 'Add a watch' };

export default async function NewWatch({ searchParams }: { searchParams: Promise<{ like?: string }> }) {
  await requireRight('operate');
  const { db, environment } = serverContext();
  const { like: likeId } = await searchParams;
  const like = likeId === undefined ? null : await watchOfPath(likeId);
  const choices = await fetchFormChoices(db, null);
  const names = choices.watches.map((watch) => watch.name);
  const initial = like
    ? watchFormOf(
        { ...like, name: uniqueName(like.name, names), config: shownConfig(like) },
        environment.zone,
      )
    : emptyWatchForm(environment.zone);
  return (
    <div className="flex flex-col gap-5">
      <div>
        <h1>{like ? `One more like ${like.name}` : 'What shall we keep an eye on?'}</h1>
        <p className="text-muted mt-1.5">
          {like ? (
            'Everything is as it is there, kept secrets too. Change what differs, and save.'
          ) : (
            <>
              Type an address, and see what fits. Or set one up by hand below: everything has a sensible value
              already. Many at once?{' '}
              <Link href="/watches/many" className="underline">
                Paste a list
              </Link>
              , or{' '}
              <Link href="/watches/jobs" className="underline">
                bring your crontab
              </Link>
              .
            </>
          )}
        </p>
      </div>
      {!like && (
        <>
          <AddressOffer />
          <h2>Set one up by hand</h2>
        </>
      )}
      <WatchForm {...choices} initial={initial} likeId={like?.id} now={requestTime()} />
    </div>
  );
}
