import { notFound } from 'next/navigation';
import { requireRight } from '@/app/session';
import { routeVersion } from '@/cases/messages/routes';
import { requestTime } from '@/server/base/clock';
import { serverContext } from '@/server/context';
import { fetchRoute } from '@/store/messages/routes';
import { RouteForm } from '@/ui/messages/routes/route-form';
import { fetchRouteChoices } from '@/views/messages/route-choices';

export const metadata = { title: 'Change a route' };

export default async function ChangeRoute({ params }: { params: Promise<{ id: string }> }) {
  await requireRight('operate');
  const { db, environment } = serverContext();
  const { id } = await params;
  const kept = /^\d{1,15}$/.test(id) ? await fetchRoute(db, Number(id)) : null;
  if (!kept) notFound();
  const { id: routeId, ...initial } = kept;
  return (
    <div className="flex flex-col gap-5">
      <h1>Who hears by {kept.name}?</h1>
      <RouteForm
        initial={initial}
        routeId={routeId}
        version={routeVersion(kept)}
        choices={await fetchRouteChoices(db, initial.watches)}
        zone={environment.zone}
        now={requestTime()}
      />
    </div>
  );
}
