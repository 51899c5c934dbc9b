import * as tokens from '@/cases/access/tokens';
import { tokenSchema } from '@/cases/schemas/messages';
import { deed, newToken, token } from '@/api/answers/others';
import { route, type Route } from '@/api/route';

const TAG = 'Access';

export const accessRoutes: Route[] = [
  route({
    method: 'GET',
    path: '/tokens',
    tag: TAG,
    summary: 'The API tokens',
    does: tokens.listTokens,
    list: { by: 'order' },
    status: 200,
    answer: 'Tokens, without their secrets.',
    shape: { each: token },
    input: () => ({}),
  }),
  route({
    method: 'POST',
    path: '/tokens',
    tag: TAG,
    summary: 'Make an API token',
    does: tokens.createToken,
    body: tokenSchema,
    status: 201,
    answer: 'The token; its secret is shown this once.',
    shape: newToken,
    refusals: ['input.invalid'],
    location: ({ id }) => `/tokens/${id}`,
    example: { name: 'nightly report' },
    input: ({ body }) => ({ body }),
  }),
  route({
    method: 'GET',
    path: '/tokens/{id}',
    tag: TAG,
    summary: 'One API token',
    does: tokens.getToken,
    status: 200,
    answer: 'The token, without its secret.',
    shape: token,
    input: ({ ids }) => ({ id: ids.id! }),
  }),
  route({
    method: 'DELETE',
    path: '/tokens/{id}',
    tag: TAG,
    summary: 'Revoke an API token',
    does: tokens.revokeToken,
    status: 204,
    answer: 'Nothing.',
    shape: null,
    input: ({ ids }) => ({ id: ids.id! }),
  }),
  route({
    method: 'GET',
    path: '/deeds',
    tag: TAG,
    summary: 'Who changed what',
    does: tokens.listDeeds,
    list: { by: 'time', keyOf: (item: { at: number; id: number }) => [item.at, item.id] as const },
    status: 200,
    answer: 'What was changed, by whom and when, the newest first.',
    shape: { each: deed },
    input: ({ page }) => ({ page }),
  }),
];
