import type { KeptRoute, RouteConfig } from '@/core/telling/route-config';
import type { Db } from '@/store/db/connection';
import type { RouteRow } from '@/store/db/tables';

function routeOf({ id, name, enabled, config }: RouteRow): KeptRoute {
  return { id, name, enabled: Boolean(enabled), ...(JSON.parse(config) as RouteConfig) };
}

/** All routes in the order they were put in. */
export async function fetchRoutes(db: Db): Promise<KeptRoute[]> {
  return (await db('routes').orderBy(['position', 'id'])).map(routeOf);
}

export async function fetchRoute(db: Db, id: number): Promise<KeptRoute | null> {
  const row = await db('routes').where({ id }).first();
  return row ? routeOf(row) : null;
}

type RouteContent = Omit<KeptRoute, 'id'>;

function columns({ name, enabled, ...config }: RouteContent) {
  return { name, enabled, config: JSON.stringify(config) };
}

export async function saveNewRoute(db: Db, route: RouteContent, createdAt: number): Promise<number> {
  const last = await db('routes').max({ position: 'position' }).first();
  const position = Number(last?.position ?? -1) + 1;
  const [id] = await db('routes').insert({ ...columns(route), position, created_at: createdAt });
  return id!;
}

export async function saveRouteChange(db: Db, id: number, route: RouteContent): Promise<void> {
  await db('routes').where({ id }).update(columns(route));
}

export async function deleteRoute(db: Db, id: number): Promise<boolean> {
  return (await db('routes').where({ id }).delete()) > 0;
}

/** Puts a channel on the first step of the first route, where there is one. */
export async function addToFirstRoute(db: Db, channelId: number): Promise<void> {
  const [first] = await fetchRoutes(db);
  if (!first) return;
  const { id, ...route } = first;
  const [step = { after: 0, channels: [] }, ...rest] = route.steps;
  if (route.steps.some(({ channels }) => channels.includes(channelId))) return;
  const steps = [{ ...step, channels: [...step.channels, channelId] }, ...rest];
  await saveRouteChange(db, id, { ...route, steps });
}

/** Takes a channel off all routes. */
export async function removeFromRoutes(db: Db, channelId: number): Promise<void> {
  for (const { id, ...route } of await fetchRoutes(db)) {
    const steps = route.steps.map((step) => ({
      ...step,
      channels: step.channels.filter((one) => one !== channelId),
    }));
    if (JSON.stringify(steps) !== JSON.stringify(route.steps))
      await saveRouteChange(db, id, { ...route, steps });
  }
}
