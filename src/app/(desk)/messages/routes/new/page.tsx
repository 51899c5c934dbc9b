import { requireRight } from '@/app/session';
import { USUAL_ROUTE } from '@/core/telling/route-config';
import { requestTime } from '@/server/base/clock';
import { serverContext } from '@/server/context';
import { RouteForm } from '@/ui/messages/routes/route-form';
import { fetchRouteChoices } from '@/views/messages/route-choices';

export const metadata = { title: 'Add a route' };

export default async function NewRoute() {
  await requireRight('operate');
  const { db, environment } = serverContext();
  return (
    <div className="flex flex-col gap-5">
      <h1>Who is to hear what?</h1>
      <RouteForm
        initial={{ name: '', enabled: true, ...USUAL_ROUTE }}
        choices={await fetchRouteChoices(db, USUAL_ROUTE.watches)}
        zone={environment.zone}
        now={requestTime()}
      />
    </div>
  );
}
