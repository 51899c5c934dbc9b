import { object, string } from 'yup';
import * as drafts from '@/cases/pages/drafts';
import { checkPageHost, hostCheckSchema } from '@/cases/pages/host-check';
import * as incidents from '@/cases/pages/incidents';
import * as pages from '@/cases/pages/pages';
import * as pictures from '@/cases/pages/pictures';
import * as previews from '@/cases/pages/previews';
import {
  correctionSchema,
  incidentChangeSchema,
  incidentSchema,
  pageIncidentSchema,
  previewSchema,
  updateSchema,
} from '@/cases/schemas/incidents';
import { pageSchema } from '@/cases/schemas/pages';
import type { Incident } from '@/store/pages/incidents';
import type { Page } from '@/store/pages/pages';
import {
  accountDraft,
  earlierText,
  hostCheck,
  incident,
  incidentDraft,
  page,
  pagePreview,
  picture,
} from '@/api/answers/pages';
import { flagQuery } from '@/api/query';
import { route, type Call, type Listing, type Route } from '@/api/route';
import { incidentShape } from '@/api/shapes';
import { MOST_PICTURE_BYTES, PICTURE_USES, type PictureUse } from '@/core/pages/picture';
import { pageAddress } from '@/core/pages/page-address';
import { openOf } from './history';
import * as rest from './resource';

const PAGE: rest.Resource<Page> = {
  path: '/pages',
  tag: 'Public pages',
  what: 'public page',
  shape: page,
  versioned: true,
  still: true,
  tell: ({ base }, one) => ({
    ...one,
    hasPassword: one.passwordHash !== null,
    hasCopyPassword: one.copyPassword !== null,
    version: pages.pageVersion(one),
    address: pageAddress(base, one),
  }),
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
  rest.deleteRoute(PAGE, {
    does: pages.deletePage,
    summary: 'Delete a public page',
    description: 'Incidents that stand on no other page go with it.',
  }),
  rest.actRoute(PAGE.tag, '/pages/{id}/new-link', {
    does: pages.renewPageLink,
    summary: 'Give a page another secret link',
    answer: 'The page; its old link leads nowhere.',
    shape: PAGE.shape,
    versioned: true,
    input: ({ ids }) => ({ id: ids.id! }),
    tell: PAGE.tell,
  }),
];

pageRoutes.push(
  rest.actRoute(PAGE.tag, '/page-previews', {
    does: previews.previewPage,
    summary: 'See a page before it is published',
    description: 'With what is typed of the page, or of an incident on it. Nothing is published.',
    body: previewSchema,
    example: { page: { title: 'Tern Island Ferries', slug: 'ferries', sections: [] } },
    answer: 'Where it is found for an hour, by whoever asked.',
    refusals: ['not.found'],
    shape: pagePreview,
    input: ({ body }) => ({ body }),
  }),
);

pageRoutes.push(
  rest.actRoute(PAGE.tag, '/page-names', {
    does: checkPageHost,
    summary: 'Find out whether a name leads to this desk',
    description:
      'By the very way visitors will come: where it leads, who answers there, and what is handed on.',
    body: hostCheckSchema,
    example: { host: 'status.ternferry.test' },
    answer: 'What was found, up to what fails.',
    shape: hostCheck,
    input: ({ body }) => ({ body }),
  }),
);

pageRoutes.push(
  route({
    method: 'POST',
    path: '/pictures',
    tag: PAGE.tag,
    summary: 'Take a picture in, for a page',
    description:
      'It is known by its content, turned upright, made as large as it is shown and encoded anew. Drawings (SVG) of lines and colours become pictures. One that stands on no page a day later is let go of.',
    does: pictures.keepPicture,
    query: object({
      use: string()
        .oneOf([...PICTURE_USES])
        .required('Expected use to be one of these.')
        .meta({ description: 'What it is for.' }),
    }),
    file: {
      types: ['image/png', 'image/jpeg', 'image/webp', 'image/gif', 'image/svg+xml'],
      mostBytes: MOST_PICTURE_BYTES,
    },
    refusals: ['input.invalid', 'input.unreadable'],
    status: 200,
    answer: 'The picture, by the name a page is given for it.',
    shape: picture,
    input: ({ query, body }) => ({
      use: query.use as PictureUse,
      bytes: (body as { bytes: Buffer }).bytes,
    }),
  }),
);

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
    query: object({
      open: flagQuery('True: only what is not over. False: only what is.'),
      words: string().trim().max(100).optional().meta({ description: 'Only what holds these words.' }),
    }),
    input: (call) => ({
      page: call.page,
      ...openOf(call),
      ...(call.query.words ? { words: String(call.query.words) } : {}),
    }),
  }),
  route({
    ...listOfIncidents,
    path: '/pages/{id}/incidents',
    summary: 'The incidents of a page',
    does: incidents.listIncidentsOfPage,
    input: ({ ids, page: wanted }) => ({ id: ids.id!, page: wanted }),
  }),
  rest.createRoute(INCIDENT, {
    does: incidents.createIncident,
    summary: 'Write an incident or a notice with its first update',
    body: incidentSchema,
    example: {
      title: 'Booking is slow',
      body: 'We are looking into it.',
      pageIds: [1],
      affected: [{ watchId: 1, how: 'slow' }],
    },
  }),
  {
    ...rest.createRoute(INCIDENT, {
      does: incidents.createIncidentOnPage,
      summary: 'Write an incident or a notice on one page',
      body: pageIncidentSchema,
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
    summary: 'Change an incident, or write what happened',
    body: incidentChangeSchema,
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
  {
    ...rest.changeRoute(INCIDENT, {
      does: incidents.correctIncidentUpdate as never,
      summary: 'Correct an update',
      description: 'It is marked as corrected; what it said before is kept.',
      body: correctionSchema,
      example: { body: 'The booking database is full, not the site.' },
    }),
    path: '/incidents/{id}/updates/{updateId}',
    input: ({ ids, body, expected }: Call) => ({ id: ids.id!, updateId: ids.updateId!, body, expected }),
  },
  route({
    method: 'GET',
    path: '/incidents/{id}/earlier-texts',
    tag: INCIDENT.tag,
    summary: 'What updates said before they were corrected',
    does: incidents.listEarlierTexts,
    list: { by: 'order' },
    status: 200,
    answer: 'Earlier texts, the latest first.',
    shape: { each: earlierText },
    input: ({ ids }) => ({ id: ids.id! }),
  }),
  route({
    method: 'GET',
    path: '/outages/{id}/incident-draft',
    tag: INCIDENT.tag,
    summary: 'An incident as it would be told of an outage',
    description: 'In public words; nothing is published.',
    does: drafts.draftIncidentOf,
    status: 200,
    answer: 'What may be changed and sent to /incidents.',
    shape: incidentDraft,
    input: ({ ids }) => ({ id: ids.id! }),
  }),
  route({
    method: 'GET',
    path: '/incidents/{id}/account-draft',
    tag: INCIDENT.tag,
    summary: 'What happened, from updates and the outage behind it',
    does: drafts.draftAccountOf,
    status: 200,
    answer: 'A beginning, with the exact times.',
    shape: accountDraft,
    input: ({ ids }) => ({ id: ids.id! }),
  }),
];

export const publicRoutes: Route[] = [...pageRoutes, ...incidentRoutes];
