import { listed } from '@/core/text/words';
import type { KeptRoute } from '@/core/telling/route-config';
import type { Db } from '@/store/db/connection';
import * as store from '@/store/messages/routes';
import { fetchChannels } from '@/store/messages/channels';
import { deletes } from '@/cases/frame/deletes';
import { orNotFound } from '@/cases/frame/find';
import { withoutReadOnly } from '@/cases/frame/read-only';
import { refused } from '@/cases/frame/refusal';
import { asIs, asks, changes, type Act } from '@/cases/frame/use-case';
import { validateBody } from '@/cases/frame/validate';
import { refuseChanged, versionOf, type Expected } from '@/cases/frame/version';
import { routeSchema } from '@/cases/schemas/routes';

type ValidRoute = Omit<KeptRoute, 'id'>;

async function found(db: Db, id: number): Promise<KeptRoute> {
  return orNotFound(await store.fetchRoute(db, id), `route ${id}`);
}

export function routeVersion({ id: _, ...route }: KeptRoute): string {
  return versionOf([route]);
}

/** The engine goes by it from now on. */
function touched({ about, afterwards, world }: Act, { id, name }: Pick<KeptRoute, 'id' | 'name'>): void {
  about({ kind: 'route', id, name });
  afterwards(() => world.engine.call('routesChanged', {}).catch(() => undefined));
}

/** A route as it may be kept: its channels are there. */
export async function validRoute(db: Db, body: unknown): Promise<ValidRoute> {
  const valid = await validateBody<ValidRoute>(routeSchema, body);
  const known = new Set((await fetchChannels(db)).map(({ id }) => id));
  for (const [i, { channels }] of valid.steps.entries()) {
    const strange = channels.filter((id) => !known.has(id));
    if (strange.length === 0) continue;
    const message = `Expected channels that there are, got ${listed(strange.map(String))}.`;
    throw refused([{ field: `steps[${i}].channels`, message }]);
  }
  return valid;
}

export const listRoutes = asks('listRoutes', 'look', ({ db }): Promise<KeptRoute[]> => store.fetchRoutes(db));

export const getRoute = asks('getRoute', 'look', ({ db }, { id }: { id: number }) => found(db, id));

export const createRoute = changes(
  'createRoute',
  'operate',
  asIs<{ body: unknown }>,
  async (act, { body }): Promise<KeptRoute> => {
    const valid = await validRoute(act.trx, body);
    const id = await store.saveNewRoute(act.trx, valid, act.now);
    touched(act, { id, name: valid.name });
    return found(act.trx, id);
  },
);

export const changeRoute = changes(
  'changeRoute',
  'operate',
  asIs<{ id: number; body: object; expected: Expected }>,
  async (act, { id, body, expected }): Promise<KeptRoute> => {
    const { id: _, ...route } = await found(act.trx, id);
    refuseChanged(expected, routeVersion({ id, ...route }), `“${route.name}”`);
    const valid = await validRoute(act.trx, { ...route, ...withoutReadOnly(body, ['sentence']) });
    await store.saveRouteChange(act.trx, id, valid);
    touched(act, { id, name: valid.name });
    return found(act.trx, id);
  },
);

export const deleteRoute = deletes('deleteRoute', 'operate', {
  find: found,
  version: routeVersion,
  called: ({ name }) => `“${name}”`,
  remove: store.deleteRoute,
  touched,
});
