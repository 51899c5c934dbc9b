import { object } from 'yup';
import * as incidents from '@/cases/pages/incidents';
import * as pages from '@/cases/pages/pages';
import * as windows from '@/cases/pages/windows';
import {
  incidentSchema,
  incidentTitleSchema,
  pageSchema,
  updateSchema,
  windowSchema,
} from '@/cases/schemas/pages';
import type { Incident } from '@/store/pages/incidents';
import type { Page } from '@/store/pages/pages';
import type { MaintenanceWindow } from '@/store/pages/windows';
import { incident, page, window } from '@/api/answers/others';
import { flagQuery } from '@/api/query';
import { route, type Listing, type Route } from '@/api/route';
import { incidentShape, windowShape } from '@/api/shapes';
import { openOf } from './history';
import * as rest from './resource';

const PAGE: rest.Resource<Page> = {
  path: '/pages',
  tag: 'Public pages',
  what: 'public page',
  shape: page,
  versioned: true,
  still: true,
  tell: ({ base }, one) => ({ ...one, version: pages.pageVersion(one), address: `${base}/p/${one.slug}` }),
};

const pageRoutes: Route[] = [
  rest.listRoute(PAGE, { does: pages.listPages }),
  rest.createRoute(PAGE, {
    does: pages.createPage,
    summary: 'Make a public page',
    body: pageSchema,
    example: {
      title: 'Tern Island Ferries',
      slug: 'ferries',
      sections: [{ title: 'On the web', items: [] }],
    },
  }),
  rest.getRoute(PAGE, { does: pages.getPage }),
  rest.changeRoute(PAGE, {
    does: pages.changePage,
    body: pageSchema,
    example: { intro: 'How our services are doing.' },
  }),
  rest.deleteRoute(PAGE, { does: pages.deletePage, summary: 'Delete a public page with its incidents' }),
];

const INCIDENT: rest.Resource<Incident> = {
  path: '/incidents',
  tag: 'Incidents',
  what: 'incident',
  shape: incident,
  versioned: true,
  still: true,
  tell: (_, one) => incidentShape(one),
};

const listOfIncidents = {
  method: 'GET' as const,
  tag: INCIDENT.tag,
  list: {
    by: 'time',
    lasts: true,
    keyOf: (item: { id: number; beganAt: number }) => [item.beganAt, item.id] as const,
  } satisfies Listing,
  status: 200 as const,
  answer: 'Incidents with their updates, the newest first.',
  shape: { each: incident },
  tell: (_: unknown, all: Incident[]) => all.map(incidentShape),
};

const incidentRoutes: Route[] = [
  route({
    ...listOfIncidents,
    path: INCIDENT.path,
    summary: 'The incidents of all pages',
    does: incidents.listIncidents,
    query: object({ open: flagQuery('True: only what is not over. False: only what is.') }),
    input: (call) => ({ page: call.page, ...openOf(call) }),
  }),
  route({
    ...listOfIncidents,
    path: '/pages/{id}/incidents',
    summary: 'The incidents of a page',
    does: incidents.listIncidentsOfPage,
    input: ({ ids, page: wanted }) => ({ id: ids.id!, page: wanted }),
  }),
  {
    ...rest.createRoute(INCIDENT, {
      does: incidents.createIncident,
      summary: 'Write an incident with its first update',
      body: incidentSchema,
      example: { title: 'Booking is slow', stage: 'looking', body: 'We are looking into it.' },
      input: ({ ids, body }) => ({ id: ids.id!, body }),
    }),
    path: '/pages/{id}/incidents',
  },
  rest.getRoute(INCIDENT, {
    does: incidents.getIncident,
    answer: 'The incident with its updates, the newest first.',
  }),
  rest.changeRoute(INCIDENT, {
    does: incidents.changeIncident,
    summary: 'Change the title of an incident',
    body: incidentTitleSchema,
    example: { title: 'Booking does not open' },
  }),
  rest.deleteRoute(INCIDENT, { does: incidents.deleteIncident, summary: 'Delete an incident' }),
  {
    ...rest.createRoute(INCIDENT, {
      does: incidents.addIncidentUpdate,
      summary: 'Add an update',
      description: 'The stage "over" closes the incident; where none is named it stays in the one it is in.',
      body: updateSchema,
      example: { stage: 'over', body: 'It works again.' },
      refusals: ['state.changed'],
      input: ({ ids, body, expected }) => ({ id: ids.id!, body, expected }),
    }),
    path: '/incidents/{id}/updates',
  },
];

const WINDOW: rest.Resource<MaintenanceWindow> = {
  path: '/windows',
  tag: 'Maintenance',
  what: 'maintenance window',
  shape: window,
  versioned: true,
  still: true,
  tell: (_, one) => windowShape(one),
};

const windowRoutes: Route[] = [
  route({
    method: 'GET',
    path: WINDOW.path,
    tag: WINDOW.tag,
    summary: 'Maintenance windows, past and planned',
    does: windows.listWindows,
    list: {
      by: 'time',
      lasts: true,
      keyOf: (item: { id: number; from: number }) => [item.from, item.id] as const,
    },
    status: 200,
    answer: 'Windows, the one that begins last first. With since, only those that are not over by then.',
    shape: { each: window },
    input: ({ page: wanted }) => ({ page: wanted }),
    tell: (_, all) => all.map(windowShape),
  }),
  rest.createRoute(WINDOW, {
    does: windows.createWindow,
    summary: 'Plan maintenance',
    body: windowSchema,
    example: {
      title: 'New mast at the north pier',
      watchIds: [1],
      from: '2026-12-01T06:00:00Z',
      until: '2026-12-01T08:00:00Z',
    },
  }),
  rest.getRoute(WINDOW, { does: windows.getWindow }),
  rest.changeRoute(WINDOW, {
    does: windows.changeWindow,
    body: windowSchema,
    example: { until: '2026-12-01T09:00:00Z' },
  }),
  rest.deleteRoute(WINDOW, { does: windows.deleteWindow, summary: 'Call maintenance off' }),
];

export const publicRoutes: Route[] = [...pageRoutes, ...incidentRoutes, ...windowRoutes];
