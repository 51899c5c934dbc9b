import {
  deleteIncident,
  fetchIncident,
  fetchIncidents,
  saveIncidentTitle,
  saveIncidentUpdate,
  saveNewIncident,
  type Incident,
} from '@/store/pages/incidents';
import type { Stage } from '@/core/pages/incident';
import {
  deletePage,
  fetchPage,
  fetchPageBySlug,
  fetchPages,
  saveNewPage,
  savePageChange,
  type Page,
  type PageContent,
} from '@/store/pages/pages';
import { fetchWatches } from '@/store/watches/watches';
import { deleteWindow, fetchWindows, saveNewWindow } from '@/store/pages/windows';
import { notFound, refused } from '@/api/problem';
import { idOf, type Call, type Route } from '@/api/route';
import {
  incidentSchema,
  incidentTitleSchema,
  pageSchema,
  updateSchema,
  windowSchema,
} from '@/api/schemas/pages';
import { incidentShape, iso, windowShape } from '@/api/shapes';
import { validateBody } from '@/api/validate';

async function foundPage(call: Call): Promise<Page> {
  const page = await fetchPage(call.context.db, idOf(call));
  if (!page) throw notFound(`page ${call.params.id}`);
  return page;
}

async function foundIncident(call: Call): Promise<Incident> {
  const incident = await fetchIncident(call.context.db, idOf(call));
  if (!incident) throw notFound(`incident ${call.params.id}`);
  return incident;
}

function pageShape(page: Page, base: string) {
  return { ...page, createdAt: iso(page.createdAt), address: `${base}/p/${page.slug}` };
}

async function knownWatches(call: Call, ids: number[], field: string): Promise<void> {
  const known = new Set((await fetchWatches(call.context.db)).map((watch) => watch.id));
  const unknown = ids.find((id) => !known.has(id));
  if (unknown !== undefined) throw refused([{ field, message: `Expected known watches, got ${unknown}.` }]);
}

async function validatePage(call: Call, given: unknown, ownId: number | null): Promise<PageContent> {
  const page = await validateBody<PageContent>(pageSchema, given);
  const taken = await fetchPageBySlug(call.context.db, page.slug);
  if (taken && taken.id !== ownId) {
    const message = `Expected an address name of its own, but "${page.slug}" belongs to “${taken.title}”.`;
    throw refused([{ field: 'slug', message }]);
  }
  const ids = page.sections.flatMap((section) => section.items.map((item) => item.watchId));
  await knownWatches(call, ids, 'sections');
  return page;
}

const pageRoutes: Route[] = [
  {
    method: 'GET',
    path: '/pages',
    tag: 'Public pages',
    summary: 'All public pages',
    status: 200,
    answer: 'An array of pages.',
    handle: async (call) => (await fetchPages(call.context.db)).map((page) => pageShape(page, call.base)),
  },
  {
    method: 'POST',
    path: '/pages',
    tag: 'Public pages',
    summary: 'Make a public page',
    body: pageSchema,
    status: 201,
    answer: 'The page.',
    handle: async (call) => {
      const valid = await validatePage(call, call.body, null);
      const id = await saveNewPage(call.context.db, { ...valid, createdAt: call.now });
      return pageShape((await fetchPage(call.context.db, id))!, call.base);
    },
  },
  {
    method: 'GET',
    path: '/pages/{id}',
    tag: 'Public pages',
    summary: 'One public page',
    status: 200,
    answer: 'The page.',
    handle: async (call) => pageShape(await foundPage(call), call.base),
  },
  {
    method: 'PATCH',
    path: '/pages/{id}',
    tag: 'Public pages',
    summary: 'Change a public page; fields that are left out stay as they are',
    body: pageSchema,
    status: 200,
    answer: 'The page.',
    handle: async (call) => {
      const { id, createdAt: _, ...content } = await foundPage(call);
      const valid = await validatePage(call, { ...content, ...(call.body as object) }, id);
      await savePageChange(call.context.db, id, valid);
      call.context.hub.emit('pages', id);
      return pageShape(await foundPage(call), call.base);
    },
  },
  {
    method: 'DELETE',
    path: '/pages/{id}',
    tag: 'Public pages',
    summary: 'Delete a public page with its incidents',
    status: 204,
    answer: 'Nothing.',
    handle: async (call) => {
      const { id } = await foundPage(call);
      await deletePage(call.context.db, id);
      call.context.hub.emit('pages', id);
    },
  },
];

/** Public pages show what is planned; the engine opens and closes the windows. */
async function plansChanged({ hub, engine }: Call['context']): Promise<void> {
  await engine.call('windowsChanged', {}).catch(() => undefined);
  hub.emit('plans');
}

const incidentRoutes: Route[] = [
  {
    method: 'GET',
    path: '/pages/{id}/incidents',
    tag: 'Incidents',
    summary: 'The incidents of a page, the newest first',
    status: 200,
    answer: 'An array of incidents with their updates.',
    handle: async (call) => {
      const page = await foundPage(call);
      return (await fetchIncidents(call.context.db, page.id)).map(incidentShape);
    },
  },
  {
    method: 'POST',
    path: '/pages/{id}/incidents',
    tag: 'Incidents',
    summary: 'Write an incident with its first update',
    body: incidentSchema,
    status: 201,
    answer: 'The incident.',
    handle: async (call) => {
      const page = await foundPage(call);
      const valid = await validateBody<{ title: string; stage: Stage; body: string }>(
        incidentSchema,
        call.body,
      );
      const id = await saveNewIncident(call.context.db, { ...valid, pageId: page.id, at: call.now });
      call.context.hub.emit('pages', page.id);
      return incidentShape((await fetchIncident(call.context.db, id))!);
    },
  },
  {
    method: 'GET',
    path: '/incidents/{id}',
    tag: 'Incidents',
    summary: 'One incident',
    status: 200,
    answer: 'The incident with its updates, the newest first.',
    handle: async (call) => incidentShape(await foundIncident(call)),
  },
  {
    method: 'PATCH',
    path: '/incidents/{id}',
    tag: 'Incidents',
    summary: 'Change the title of an incident',
    body: incidentTitleSchema,
    status: 200,
    answer: 'The incident.',
    handle: async (call) => {
      const incident = await foundIncident(call);
      const { title } = await validateBody<{ title: string }>(incidentTitleSchema, call.body);
      await saveIncidentTitle(call.context.db, incident.id, title);
      call.context.hub.emit('pages', incident.pageId);
      return incidentShape(await foundIncident(call));
    },
  },
  {
    method: 'DELETE',
    path: '/incidents/{id}',
    tag: 'Incidents',
    summary: 'Delete an incident',
    status: 204,
    answer: 'Nothing.',
    handle: async (call) => {
      const incident = await foundIncident(call);
      await deleteIncident(call.context.db, incident.id);
      call.context.hub.emit('pages', incident.pageId);
    },
  },
  {
    method: 'POST',
    path: '/incidents/{id}/updates',
    tag: 'Incidents',
    summary: 'Add an update; the stage "over" closes the incident',
    body: updateSchema,
    status: 201,
    answer: 'The incident.',
    handle: async (call) => {
      const incident = await foundIncident(call);
      const valid = await validateBody<{ stage: Stage; body: string }>(updateSchema, call.body);
      await saveIncidentUpdate(call.context.db, incident.id, { ...valid, at: call.now });
      call.context.hub.emit('pages', incident.pageId);
      return incidentShape(await foundIncident(call));
    },
  },
];

const windowRoutes: Route[] = [
  {
    method: 'GET',
    path: '/windows',
    tag: 'Maintenance',
    summary: 'Maintenance windows that are not over, the earliest first',
    status: 200,
    answer: 'An array of windows.',
    handle: async (call) => (await fetchWindows(call.context.db, call.now)).map(windowShape),
  },
  {
    method: 'POST',
    path: '/windows',
    tag: 'Maintenance',
    summary: 'Plan maintenance',
    body: windowSchema,
    status: 201,
    answer: 'The window.',
    handle: async (call) => {
      const valid = await validateBody<{ title: string; watchIds: number[]; begins: string; ends: string }>(
        windowSchema,
        call.body,
      );
      await knownWatches(call, valid.watchIds, 'watchIds');
      const window = { ...valid, begins: Date.parse(valid.begins), ends: Date.parse(valid.ends) };
      const id = await saveNewWindow(call.context.db, window);
      await plansChanged(call.context);
      return windowShape({ id, ...window });
    },
  },
  {
    method: 'DELETE',
    path: '/windows/{id}',
    tag: 'Maintenance',
    summary: 'Call maintenance off',
    status: 204,
    answer: 'Nothing.',
    handle: async (call) => {
      if (!(await deleteWindow(call.context.db, idOf(call)))) throw notFound(`window ${call.params.id}`);
      await plansChanged(call.context);
    },
  },
];

export const publicRoutes: Route[] = [...pageRoutes, ...incidentRoutes, ...windowRoutes];
