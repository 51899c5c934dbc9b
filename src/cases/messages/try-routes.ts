import { DAY_MS } from '@/core/time/units';
import { routeOfConfig, type KeptRoute } from '@/core/telling/route-config';
import type { Replayed } from '@/core/telling/ahead/replay';
import type { Rule } from '@/core/telling/telling';
import { Refusal } from '@/cases/frame/refusal';
import { withoutReadOnly } from '@/cases/frame/read-only';
import { validateBody } from '@/cases/frame/validate';
import { asks } from '@/cases/frame/use-case';
import { routeTrialSchema } from '@/cases/schemas/routes';
import { validRoute } from '@/cases/messages/routes';
import { fetchOutageNames } from '@/store/history/outages';
import { fetchSetup } from '@/store/messages/setup';
import { fetchRoutes } from '@/store/messages/routes';

/** So far back routes are tried. */
const PAST_DAYS = 90;
/** So many outages are named one by one. */
const MOST_NAMED = 20;

interface NamedOutage {
  id: number;
  watchId: number;
  watch: string;
  began: number;
  rule: Rule;
}

/** What routes would have said of what was, and what those do that hold now. */
export interface RouteTrial {
  from: number;
  until: number;
  /** As the routes are now. */
  now: Replayed;
  /** With the one that is tried. */
  then: Replayed;
  /** The latest outages nobody would have heard of. */
  unheard: NamedOutage[];
}

/** Tries a route on the past before it is saved; nothing is changed. */
export const tryRoute = asks(
  'tryRoute',
  'operate',
  async ({ db, world, now }, { body }: { body: object }): Promise<RouteTrial> => {
    const { routeId } = await validateBody<{ routeId: number | null }>(routeTrialSchema, body);
    const valid = await validRoute(db, withoutReadOnly(body, ['routeId']));
    const routes = await fetchRoutes(db);
    const replaced = routes.some(({ id }) => id === routeId);
    const tried: KeptRoute = { ...valid, id: replaced ? routeId! : 0 };
    const other = replaced ? routes.map((one) => (one.id === routeId ? tried : one)) : [...routes, tried];
    const { setup } = await fetchSetup(db);
    const from = now - PAST_DAYS * DAY_MS;
    const answer = await world.past.tryRoutes({
      since: from,
      until: now,
      zone: world.place.zone,
      channels: [...setup.channels],
      tries: [routes, other].map((all) => all.map(routeOfConfig)),
    });
    if (!answer) {
      throw new Refusal(
        'work.too-long',
        'The past could not be gone through in time. Try it with fewer watches.',
      );
    }
    const [before, after] = answer as [Replayed, Replayed];
    const unheard = after.unheard.slice(-MOST_NAMED).reverse();
    const names = await fetchOutageNames(
      db,
      unheard.map(({ id }) => id),
    );
    return {
      from,
      until: now,
      now: before,
      then: after,
      unheard: unheard.flatMap(({ id, rule }) => {
        const named = names.get(id);
        return named ? { id, rule, ...named } : [];
      }),
    };
  },
);
