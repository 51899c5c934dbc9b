import { capitalise, countWatches } from '@/core/text/words';
import { filterFromQuery, filterToQuery, isFiltering } from '@/core/settings/watch-filter';
import { WATCH_SORTS } from '@/core/settings/watch-order';
import { requestTime } from '@/server/base/clock';
import { serverContext } from '@/server/context';
import { ButtonLink } from '@/ui/basic/button';
import { FilterBar } from '@/ui/overview/filter-bar';
import { Live } from '@/ui/live/live';
import { WatchTable } from '@/ui/watches/watch-table';
import { fetchFormChoices } from '@/views/settings/form-choices';
import { fetchSharedView } from '@/views/settings/shared-settings';
import { fetchWatchList } from '@/views/settings/watch-list';
import { laterRows } from '@/app/later-rows';
import { queryOf, type AskedQuery } from '@/app/query-of';
import { requireRight } from '@/app/session';

export const metadata = { title: 'All watches' };

export default async function AllWatches({ searchParams }: { searchParams: Promise<AskedQuery> }) {
  await requireRight('look');
  const asked = queryOf(await searchParams);
  const filter = filterFromQuery(asked);
  const { db, environment, engine } = serverContext();
  const now = requestTime();
  const sort = WATCH_SORTS.find((one) => one === asked.get('sort'));
  const descending = asked.get('order') === 'desc';
  const list = await fetchWatchList(db, filter, {
    ...{ now, engineAnswers: await engine.isConnected(), descending },
    ...(sort && { sort }),
  });
  const narrowed = filterToQuery(filter);
  const inOrder = [sort && `sort=${sort}`, descending && 'order=desc'];
  const { kinds, sections, tags, watches, channels } = await fetchFormChoices(db, null);
  const { fields } = (await fetchSharedView(db, { level: 'instance' }))!;
  return (
    <div className="flex flex-col gap-4">
      <Live source="/live" readAt={now} />
      <div className="flex flex-wrap items-end gap-3">
        <h1>
          {list.all === 0
            ? 'Nothing is being watched yet.'
            : isFiltering(filter)
              ? `${capitalise(countWatches(list.ids.length))} of ${list.all}.`
              : `All ${countWatches(list.all)}.`}
        </h1>
        <div className="ml-auto flex flex-wrap gap-2">
          <ButtonLink href="/sections">Sections and tags</ButtonLink>
          <ButtonLink href="/shared">Set once for many</ButtonLink>
        </div>
      </div>
      {list.all === 0 ? (
        <p>
          <ButtonLink href="/watches/new" look="strong">
            Add the first watch
          </ButtonLink>
        </p>
      ) : (
        <>
          <FilterBar
            path="/watches"
            rest={{ ...(sort && { sort }), ...(descending && { order: 'desc' }) }}
            filter={filter}
            choices={list.choices}
            kept={list.kept}
            shown={list.ids.length}
            all={list.all}
          />
          <WatchTable
            rows={list.rows}
            ids={list.ids}
            later={laterRows(
              [narrowed, ...inOrder].filter(Boolean).join('&'),
              list.rows.length,
              list.ids.length,
            )}
            sorted={{ by: sort ?? null, descending }}
            query={narrowed}
            readAt={now}
            change={{ sections, tags, kinds, fields, watches, channels, zone: environment.zone, now }}
          />
        </>
      )}
    </div>
  );
}
