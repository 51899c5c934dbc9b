import { serverContext } from '@/server/context';
import { Crumbs, MAINTENANCE } from '@/ui/basic/crumbs';
import { WindowForm } from '@/ui/maintenance/window-form';
import { USUAL_ANNOUNCE_DAYS } from '@/store/maintenance/windows';
import { fetchCoverageChoices } from '@/views/maintenance/planned';
import { requireRight } from '@/app/session';

export const metadata = { title: 'Plan maintenance' };

export default async function NewMaintenance({
  searchParams,
}: {
  searchParams: Promise<{ watch?: string }>;
}) {
  await requireRight('operate');
  const choices = await fetchCoverageChoices(serverContext().db);
  const { watch } = await searchParams;
  const asked = choices.watches.find(({ id }) => String(id) === watch);
  return (
    <div className="flex flex-col gap-5">
      <div>
        <Crumbs to={[MAINTENANCE]} />
        <h1>{asked ? `When is ${asked.name} worked on?` : 'When is what worked on?'}</h1>
        <p className="text-muted mt-1.5">
          Meanwhile nobody is told of trouble and no downtime counts. Public pages announce it ahead.
        </p>
      </div>
      <WindowForm
        choices={choices}
        start={{
          id: null,
          title: '',
          text: '',
          announceDays: USUAL_ANNOUNCE_DAYS,
          watchIds: asked ? [asked.id] : [],
          sectionIds: [],
          tagIds: [],
          span: null,
          recurring: null,
        }}
      />
    </div>
  );
}
