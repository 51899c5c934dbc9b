import { requestTime } from '@/server/base/clock';
import { serverContext } from '@/server/context';
import { fetchDeletions, KEEP_DELETED_MS, type DeletedTogether } from '@/store/watches/deleted-watches';
import { RestoreTogether, RestoreWatch } from '@/ui/watch/restore-watch';
import { Time } from '@/ui/form/zone';
import { requireRight } from '@/app/session';

export const metadata = { title: 'Deleted watches' };

/** So many of those that one change deleted are named. */
const MOST_NAMED = 100;

export default async function DeletedWatches() {
  await requireRight('operate');
  const deletions = await fetchDeletions(serverContext().db, requestTime(), MOST_NAMED);
  return (
    <div className="flex max-w-3xl flex-col gap-5">
      <div>
        <h1>
          {deletions.length === 0 ? 'Nothing was deleted lately.' : 'What was deleted can be brought back.'}
        </h1>
        <p className="text-muted mt-1.5">
          A deleted watch stays here for seven days, with its settings and its whole history.
        </p>
      </div>
      <ul>
        {deletions.map((deletion) => (
          <li key={deletion.deletedAt} className="border-rule border-t py-3">
            {deletion.count === 1 ? <One {...deletion} /> : <Together {...deletion} />}
          </li>
        ))}
      </ul>
    </div>
  );
}

function When({ deletedAt }: { deletedAt: number }) {
  return (
    <span className="text-muted block text-[0.875rem]">
      deleted <Time at={deletedAt} />, gone for good <Time at={deletedAt + KEEP_DELETED_MS} />
    </span>
  );
}

function One({ first, deletedAt }: DeletedTogether) {
  const { id, name } = first[0]!;
  return (
    <div className="flex flex-wrap items-center gap-4">
      <span>
        <strong>{name}</strong>
        <When deletedAt={deletedAt} />
      </span>
      <span className="ml-auto">
        <RestoreWatch watchId={id} name={name} />
      </span>
    </div>
  );
}

function Together({ first, count, deletedAt }: DeletedTogether) {
  const named = first.slice(0, 2).map(({ name }) => name);
  return (
    <>
      <div className="flex flex-wrap items-center gap-4">
        <span>
          <strong>{named.join(', ')}</strong>
          {count > named.length && ` and ${count - named.length} more, together`}
          <When deletedAt={deletedAt} />
        </span>
        <span className="ml-auto">
          <RestoreTogether deletedAt={deletedAt} count={count} />
        </span>
      </div>
      <details className="mt-2">
        <summary className="cursor-pointer">
          {count > first.length ? `The first ${first.length}, one by one` : 'One by one'}
        </summary>
        <ul className="mt-1">
          {first.map(({ id, name }) => (
            <li key={id} className="border-rule flex flex-wrap items-center gap-4 border-t py-2">
              <span>{name}</span>
              <span className="ml-auto">
                <RestoreWatch watchId={id} name={name} />
              </span>
            </li>
          ))}
        </ul>
      </details>
    </>
  );
}
