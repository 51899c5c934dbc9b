import type { Selection } from '@/core/telling/route';
import { asks } from '@/cases/frame/use-case';
import { validateBody } from '@/cases/frame/validate';
import { routeScopeSchema } from '@/cases/schemas/routes';
import { fetchRouteScope, type RouteScope } from '@/views/messages/route-scope';

/** What a route would be about, before it is saved. */
export const measureRoute = asks(
  'measureRoute',
  'look',
  async ({ db }, { body }: { body: unknown }): Promise<RouteScope> => {
    const { watches } = await validateBody<{ watches: Selection }>(routeScopeSchema, body);
    return fetchRouteScope(db, watches);
  },
);
