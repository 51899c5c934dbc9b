import * as texts from '@/cases/pages/public-texts';
import { fillTextSchema, publicTextSchema, selfTellingSchema } from '@/cases/schemas/public-texts';
import { filledText, publicText, selfTelling } from '@/api/answers/public-texts';
import { route, type Route } from '@/api/route';
import type { KeptPublicText } from '@/store/pages/public-texts';
import * as rest from './resource';

const TAG = 'Texts for the public';

const TEXT: rest.Resource<KeptPublicText> = {
  path: '/public-texts',
  tag: TAG,
  what: 'text for the public',
  shape: publicText,
  versioned: true,
  still: true,
  tell: (_, one) => ({ ...one, version: texts.publicTextVersion(one) }),
};

export const publicTextRoutes: Route[] = [
  rest.listRoute(TEXT, { does: texts.listPublicTexts, summary: 'Texts for the public that are used again' }),
  rest.createRoute(TEXT, {
    does: texts.createPublicText,
    summary: 'Keep a text for the public',
    description: 'It may name service, page, since, ended and length (Liquid).',
    body: publicTextSchema,
    example: {
      name: 'Out',
      title: '{{ service }} is out',
      body: '{{ service }} has been out since {{ since }}. We are looking into it.',
      over: '{{ service }} was out for {{ length }}, until {{ ended }}.',
    },
  }),
  rest.getRoute(TEXT, { does: texts.getPublicText }),
  rest.changeRoute(TEXT, {
    does: texts.changePublicText,
    body: publicTextSchema,
    example: { title: '{{ service }} does not answer' },
  }),
  rest.deleteRoute(TEXT, {
    does: texts.deletePublicText,
    summary: 'Delete a text for the public',
    description: 'Sections that tell with it tell nothing by themselves any more.',
  }),
  rest.actRoute(TAG, '/public-texts/{id}/fill', {
    summary: 'Fill a text in, for an outage or for what is chosen',
    description: 'Nothing is published.',
    answer: 'The text, filled in.',
    does: texts.fillText,
    body: fillTextSchema,
    shape: filledText,
    example: { watchIds: [1] },
    input: ({ ids, body }) => ({ id: ids.id!, body }),
  }),
  route({
    method: 'GET',
    path: '/self-tellings',
    tag: TAG,
    summary: 'Sections that tell the public by themselves',
    does: texts.listSelfTellings,
    list: { by: 'order' },
    status: 200,
    answer: 'How each of them does.',
    shape: { each: selfTelling },
    input: () => ({}),
  }),
  rest.actRoute(TAG, '/sections/{id}/self-telling', {
    summary: 'Let a section tell the public of long outages by itself',
    description:
      'Where nobody has written anything by then. It is closed once all is up again, unless a person has said how it goes on.',
    answer: 'How it does.',
    does: texts.setSelfTelling,
    body: selfTellingSchema,
    shape: selfTelling,
    example: { textId: 1, afterMinutes: 15, pageIds: [1] },
    input: ({ ids, body }) => ({ id: ids.id!, body }),
  }),
  route({
    method: 'DELETE',
    path: '/sections/{id}/self-telling',
    tag: TAG,
    summary: 'Let a section tell nothing by itself',
    does: texts.endSelfTelling,
    status: 204,
    answer: 'Nothing.',
    shape: null,
    input: ({ ids }) => ({ id: ids.id! }),
  }),
];
