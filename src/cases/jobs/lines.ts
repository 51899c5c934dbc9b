import type { WatchFilter } from '@/core/settings/watch-filter';
import type { ListPage } from '@/store/db/list-page';
import { pageBehind } from '@/views/overview/all-watches';
import { fetchJobsView, type JobLine } from '@/views/jobs/jobs';
import { asks } from '@/cases/frame/use-case';

/** Jobs as the desk shows them, a page at a time: what runs first, then what is due next. */
export const listJobLines = asks(
  'listJobLines',
  'look',
  async (
    { db, world, now },
    { filter, page }: { filter: WatchFilter; page: ListPage },
  ): Promise<JobLine[]> => {
    const { jobs } = await fetchJobsView(db, filter, { now, zone: world.place.zone });
    const byId = new Map(jobs.map((job) => [job.id, job]));
    return pageBehind([...byId.keys()], page).map((id) => byId.get(id)!);
  },
);
