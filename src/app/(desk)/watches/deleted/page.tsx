import { requestTime } from '@/server/base/clock';
import { serverContext } from '@/server/context';
import { fetchDeletedWatches, KEEP_DELETED_MS } from '@/store/watches/deleted-watches';
import { RestoreWatch } from '@/ui/watch/restore-watch';
import { Time } from '@/ui/form/zone';
import { requireRight } from '@/app/session';

export const metadata = { title: 'Deleted watches' };

export default async function DeletedWatches() {
  await requireRight('operate');
  const deleted = await fetchDeletedWatches(serverContext().db, requestTime());
  return (
    <div className="flex max-w-3xl flex-col gap-5">
      <div>
        <h1>
          {deleted.length === 0 ? 'Nothing was deleted lately.' : 'What was deleted can be brought back.'}
        </h1>
        <p className="text-muted mt-1.5">
          A deleted watch stays here for seven days, with its settings and its whole history.
        </p>
      </div>
      <ul>
        {deleted.map((watch) => (
          <li key={watch.id} className="border-rule flex flex-wrap items-center gap-4 border-t py-3">
            <span>
              <strong>{watch.name}</strong>
              <span className="text-muted block text-[0.875rem]">
                deleted <Time at={watch.deletedAt} />, gone for good{' '}
                <Time at={watch.deletedAt + KEEP_DELETED_MS} />
              </span>
            </span>
            <span className="ml-auto">
              <RestoreWatch watchId={watch.id} name={watch.name} />
            </span>
          </li>
        ))}
      </ul>
    </div>
  );
}
